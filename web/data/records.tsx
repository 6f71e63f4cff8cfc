import { useLiveQuery } from 'dexie-react-hooks'
import { createContext, useContext, useMemo, type ReactNode } from 'react'
import { splitItemKey, type ItemKey } from '../../core/catalogue/item.ts'
import type { Part } from '../../core/catalogue/part.ts'
import { partFromName, partIndex } from '../../core/catalogue/part.ts'
import { colourIndex, type Colour } from '../../core/colours/colour.ts'
import { PALETTE } from '../../core/colours/palette.ts'
import type { Records } from '../../core/planning/record-kinds.ts'
import { landedTotal, planOrders, type Basket } from '../../core/planning/baskets.ts'
import { withAllRules, type Build } from '../../core/planning/build.ts'
import type { KeptPlan } from '../../core/planning/kept-plan.ts'
import type { SnapshotRecords } from '../../core/planning/snapshot.ts'
import type { ColourId, PartId } from '../../core/units/ids.ts'
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
  const decisions = useTable('decisions')
  const catalogue = useMemo(() => parts && colours && catalogueOf(parts, colours), [parts, colours])
  const market = useMemo(() => offers && shops && { offers, shops }, [offers, shops])
  const tallied = useMemo(() => {
    if (!catalogue || !designs || !sets || !copies || !holdings || !places || !market || !decisions) return undefined
    const { partById, colourById } = catalogue
    return { designs, sets, copies, holdings, places, partById, colourById, market, decisions }
  }, [catalogue, designs, sets, copies, holdings, places, market, decisions])
  const view = useMemo(() => {
    if (!tallied || !catalogue || !parts || !colours || !sets || !copies || !places || !holdings) return undefined
    if (!builds || !designs || !shops || !offers || !plans || !versions || !pictures || !decisions) return undefined
    return {
      ...catalogue,
      tallied,
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
      decisions,
    }
  }, [
    tallied,
    catalogue,
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
    decisions,
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
