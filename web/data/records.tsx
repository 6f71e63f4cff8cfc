import { useLiveQuery } from 'dexie-react-hooks'
import { createContext, useContext, useDeferredValue, useMemo, type ReactNode } from 'react'
import { splitItemKey, type ItemKey } from '../../core/catalogue/item.ts'
import type { Part } from '../../core/catalogue/part.ts'
import { partFromName, partIndex } from '../../core/catalogue/part.ts'
import { colourIndex, type Colour } from '../../core/colours/colour.ts'
import { PALETTE } from '../../core/colours/palette.ts'
import type { Records } from '../../core/formats/job-file.ts'
import { landedTotal, planOrders, type Basket } from '../../core/planning/baskets.ts'
import { withAllRules, type Build } from '../../core/planning/build.ts'
import type { KeptPlan } from '../../core/planning/kept-plan.ts'
import { findConflicts, type Conflict } from '../../core/planning/reservations.ts'
import type { Snapshot } from '../../core/planning/snapshot.ts'
import { tally, type Tally } from '../../core/planning/tally.ts'
import type { BuildId, ColourId, PartId } from '../../core/units/ids.ts'
import { db } from './database.ts'

export type Named = { readonly part: Part; readonly colour: Colour; readonly name: string }

export type RecordsView = Records & {
  readonly partById: ReadonlyMap<PartId, Part>
  readonly colourById: ReadonlyMap<ColourId, Colour>
  /** All colours to choose from: the user's own and the built-in ones. */
  readonly allColours: readonly Colour[]
  readonly colourByName: ReadonlyMap<string, Colour>
  readonly nameItem: (item: ItemKey) => Named
  /** Part id by its id, its other names' ids and foreign codes. */
  readonly partByAlias: ReadonlyMap<string, PartId>
  /** Items that shops are known to sell. */
  readonly offered: ReadonlySet<ItemKey>
  /** What tallies depend on. */
  readonly tallied: SnapshotRecords
  /** Part name by foreign code. */
  readonly partNameByCode: ReadonlyMap<string, string>
}

const RecordsContext = createContext<RecordsView | undefined>(undefined)

const useTable = <K extends keyof Records>(kind: K) => useLiveQuery(() => db.records(kind).toArray(), [kind])

const byName = <T extends { readonly name: string }>(rows: T[]): T[] =>
  rows.sort((p, q) => p.name.localeCompare(q.name, 'en', { numeric: true }))

/** Loads every table once and keeps it live (other tabs included); screens read from here. */
export function RecordsProvider({ children, fallback }: { children: ReactNode; fallback: ReactNode }) {
  const parts = useTable('parts')
  const colours = useTable('colours')
  const sets = useLiveQuery(() => db.records('sets').toArray().then(byName), [])
  const copies = useTable('copies')
  const places = useTable('places')
  const holdings = useTable('holdings')
  // Ids are random: builds and sets are told in the order of their names.
  const builds = useLiveQuery(
    () =>
      db
        .records('builds')
        .toArray()
        .then((rows) => byName(rows.map(withAllRules))),
    [],
  )
  const designs = useTable('designs')
  const shops = useTable('shops')
  const offers = useTable('offers')
  const plans = useTable('plans')
  const versions = useTable('versions')
  const pictures = useTable('pictures')
  const catalogue = useMemo(() => parts && colours && catalogueOf(parts, colours), [parts, colours])
  const offered = useMemo(() => new Set(offers?.map((o) => o.item)), [offers])
  const tallied = useMemo(() => {
    if (!catalogue || !designs || !sets || !copies || !holdings || !places) return undefined
    const { partById, colourById } = catalogue
    return { designs, sets, copies, holdings, places, partById, colourById, offered }
  }, [catalogue, designs, sets, copies, holdings, places, offered])
  const view = useMemo(() => {
    if (!tallied || !catalogue || !parts || !colours || !sets || !copies || !places || !holdings) return undefined
    if (!builds || !designs || !shops || !offers || !plans || !versions || !pictures) return undefined
    return {
      ...catalogue,
      tallied,
      offered,
      parts,
      colours,
      sets,
      copies,
      places,
      holdings,
      builds,
      designs,
      shops,
      offers,
      plans,
      versions,
      pictures,
    }
  }, [
    tallied,
    catalogue,
    offered,
    parts,
    colours,
    sets,
    copies,
    places,
    holdings,
    builds,
    designs,
    shops,
    offers,
    plans,
    versions,
    pictures,
  ])
  if (!view) return <>{fallback}</>
  return <RecordsContext.Provider value={view}>{children}</RecordsContext.Provider>
}

function catalogueOf(parts: readonly Part[], colours: readonly Colour[]) {
  const partById = new Map(parts.map((p) => [p.id, p]))
  const own = new Set(colours.map((c) => c.id))
  const allColours = [...colours, ...PALETTE.filter((c) => !own.has(c.id))]
  const colourById = new Map(allColours.map((c) => [c.id, c]))
  const names = new Map<ItemKey, Named>()
  const nameItem = (item: ItemKey): Named => {
    const known = names.get(item)
    if (known) return known
    const key = splitItemKey(item)
    const part = partById.get(key.part) ?? partFromName(key.part.slice(2).replace(/-/g, ' '))
    const colour = colourById.get(key.colour) ?? {
      id: key.colour,
      name: key.colour.slice(2).replace(/-/g, ' '),
      hex: '#9a9a9a',
      finish: 'opaque' as const,
      aliases: [],
    }
    const named = { part, colour, name: `${part.name}, ${colour.name}${key.decoration ? `, ${key.decoration}` : ''}` }
    names.set(item, named)
    return named
  }
  const partByAlias = partIndex(parts)
  const partNameByCode = new Map(
    parts.flatMap((p) => (p.aliases ?? []).filter((a) => a.includes('=')).map((a) => [a, p.name])),
  )
  return {
    partById,
    colourById,
    allColours,
    colourByName: colourIndex(allColours),
    nameItem,
    partByAlias,
    partNameByCode,
  }
}

export function useRecords(): RecordsView {
  const records = useContext(RecordsContext)
  if (!records) throw new Error('records are read inside their provider')
  return records
}

function snapshotOf(build: Build, records: SnapshotRecords): Snapshot {
  const { designs, sets, copies, holdings, places, partById, colourById, offered } = records
  return {
    build,
    design: designs.find((d) => d.id === build.id) ?? { id: build.id, modules: [] },
    sets,
    copies: copies.filter((c) => c.buildId === build.id),
    holdings,
    places,
    parts: partById,
    colourById,
    offered,
  }
}

type SnapshotRecords = Pick<
  RecordsView,
  'designs' | 'sets' | 'copies' | 'holdings' | 'places' | 'partById' | 'colourById' | 'offered'
>

/** What a tally depends on, and nothing else, so that it is made anew only when that changes. */
const useSnapshotRecords = (): SnapshotRecords => useRecords().tallied

export type BuildTally = { readonly snapshot: Snapshot; readonly result: Tally }

/** The last tally of each build, so that the rail and the screen share one. */
const lastTallies = new Map<BuildId, { readonly records: SnapshotRecords; readonly tally: BuildTally }>()

function tallyOf(build: Build, records: SnapshotRecords): BuildTally {
  const last = lastTallies.get(build.id)
  if (last?.records === records && last.tally.snapshot.build === build) return last.tally
  const snapshot = snapshotOf(build, records)
  const made = { snapshot, result: tally(snapshot) }
  lastTallies.set(build.id, { records, tally: made })
  return made
}

/**
 * One build with everything it depends on, and its tally; `undefined` when there is no such build. After a change it
 * follows one render later, so that what was typed shows at once.
 */
export function useTally(id: BuildId): BuildTally | undefined {
  const now = useRecords()
  const builds = useDeferredValue(now.builds)
  const records = useDeferredValue(useSnapshotRecords())
  return useMemo(() => {
    const build = builds.find((b) => b.id === id) ?? now.builds.find((b) => b.id === id)
    return build && tallyOf(build, records)
  }, [id, builds, now.builds, records])
}

/** The tallies of all builds. */
export function useTallies(): readonly BuildTally[] {
  const { builds } = useRecords()
  const records = useSnapshotRecords()
  return useMemo(() => builds.map((build) => tallyOf(build, records)), [builds, records])
}

/** A build's tally if one of its supplies or rules were otherwise; for showing what a change would bring. */
export function useTallyIf(change: (snapshot: Snapshot) => Snapshot): readonly BuildTally[] {
  const { builds } = useRecords()
  const records = useSnapshotRecords()
  return useMemo(
    () =>
      builds.map((build) => {
        const snapshot = change(snapshotOf(build, records))
        return { snapshot, result: tally(snapshot) }
      }),
    [builds, records, change],
  )
}

/** Pieces on the shelf that several builds count on; none with a single build. */
export function useConflicts(): Conflict[] {
  const { builds } = useRecords()
  const records = useSnapshotRecords()
  return useMemo(() => {
    if (builds.length < 2) return []
    const tallies = builds.map((build) => ({ build: build.id, tally: tallyOf(build, records).result }))
    return findConflicts(tallies, records.holdings)
  }, [builds, records])
}

export type Purchase = {
  readonly kept: KeptPlan
  readonly orders: readonly Basket[]
  readonly landed: number | undefined
}

/** The build's kept plan with its orders and what they cost at the door; `undefined` when none is kept. */
export function usePurchase(build: Build | undefined): Purchase | undefined {
  const { plans, shops, offers } = useRecords()
  return useMemo(() => {
    const kept = build && plans.find((p) => p.id === build.id)
    if (!kept) return undefined
    const orders = planOrders(build, kept, shops, new Map(offers.map((o) => [o.id, o])))
    return { kept, orders, landed: landedTotal(build, kept, orders) }
  }, [build, plans, shops, offers])
}
