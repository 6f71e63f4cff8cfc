import { dequal } from 'dequal'
import { createContext, useContext, useEffect, useMemo, useState, useSyncExternalStore, type ReactNode } from 'react'
import { splitItemKey, type ItemKey } from '../../core/catalogue/item.ts'
import type { Part } from '../../core/catalogue/part.ts'
import { partFromName, partIndex } from '../../core/catalogue/part.ts'
import { colourIndex, type Colour } from '../../core/colours/colour.ts'
import { knownColours } from '../../core/colours/palette.ts'
import { madeOf } from '../../core/making/made.ts'
import { expectedSupply } from '../../core/orders/expected-supply.ts'
import type { Records } from '../../core/records/registry.ts'
import type { SnapshotRecords } from '../../core/netting/snapshot.ts'
import { compareNames } from '../../core/units/collate.ts'
import type { ColourId, PartId } from '../../core/units/ids.ts'
import { Workspace, type Damaged, type WorkspaceState } from '../../storage/workspace.ts'
import { db } from './database.ts'
import { setStorageState } from './storage-state.ts'

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
  /** Stored records that do not fit and are in nothing above. */
  readonly damaged: readonly Damaged[]
  /** What tallies depend on. */
  readonly tallied: SnapshotRecords
  /** Part name by foreign code. */
  readonly partNameByCode: ReadonlyMap<string, string>
  /** Part id by the ids of parts that were merged into it. */
  readonly mergedParts: ReadonlyMap<string, string>
}

const RecordsContext = createContext<RecordsView | undefined>(undefined)

const byName = <T extends { readonly name: string }>(rows: readonly T[]): readonly T[] => {
  return [...rows].sort((p, q) => compareNames(p.name, q.name))
}

/** The workspace of this tab, opened when first needed. */
const workspace = new Workspace(db, () => {
  setStorageState('unread')
})
let opening: Promise<void> | undefined

/** The data cannot be opened; what the browser says of it. */
export class NotOpened extends Error {
  constructor(cause: unknown) {
    super(cause instanceof Error ? cause.message : String(cause), { cause })
    this.name = 'NotOpened'
  }
}

/** Milliseconds within which the news of another thread's act comes. */
const NEWS_MS = 60

/** Resolves when acts that a worker has written by now are in the records of this page. */
export async function caughtUp(): Promise<void> {
  await new Promise((resolve) => setTimeout(resolve, NEWS_MS))
  await workspace.settled()
}

const opened = (): Promise<void> =>
  (opening ??= workspace.open().catch((cause: unknown) => {
    opening = undefined
    throw new NotOpened(cause)
  }))

/** What is stored, kept live by the changes that acts bring (other tabs' included); screens read from here. */
export function RecordsProvider({ children, fallback }: { children: ReactNode; fallback: ReactNode }) {
  const state = useSyncExternalStore(workspace.subscribe, workspace.state)
  const [failure, setFailure] = useState<NotOpened | undefined>()
  useEffect(() => {
    opened().catch((error: unknown) => {
      setFailure(error instanceof NotOpened ? error : new NotOpened(error))
    })
  }, [])
  if (failure) throw failure
  if (!state) return <>{fallback}</>
  return <RecordsOf state={state}>{children}</RecordsOf>
}

function RecordsOf({ state: { records, damaged }, children }: { state: WorkspaceState; children: ReactNode }) {
  const { parts, colours, copies, designs, shops, offers, decisions } = records
  const sets = useMemo(() => byName(records.sets), [records.sets])
  // Ids are random: builds and sets are told in the order of their names.
  const builds = useMemo(() => byName(records.builds), [records.builds])
  const catalogue = useMemo(() => catalogueOf(parts, colours), [parts, colours])
  const market = useMemo(() => ({ offers, shops }), [offers, shops])
  const { partById, colourById } = catalogue
  const { places, holdings } = useSupply(records)
  const made = useMade(records.units)
  const tallied = useMemo(
    () => ({ designs, sets, copies, holdings, places, partById, colourById, market, decisions, made }),
    [designs, sets, copies, holdings, places, partById, colourById, market, decisions, made],
  )
  const view = useMemo(
    () => ({ ...records, ...catalogue, sets, builds, tallied, damaged }),
    [records, catalogue, sets, builds, tallied, damaged],
  )
  return <RecordsContext.Provider value={view}>{children}</RecordsContext.Provider>
}

/** The shelf with what is on order. What orders add stays the same while only what is said of them changes. */
function useSupply({ places, holdings, orders }: Records): Pick<SnapshotRecords, 'places' | 'holdings'> {
  const next = useMemo(() => expectedSupply(orders), [orders])
  const [known, setKnown] = useState({ of: next, kept: next })
  // Compared once for each change of the orders: counting at the bench changes nothing of what is on order.
  if (known.of !== next) setKnown({ of: next, kept: dequal(next, known.kept) ? known.kept : next })
  const { kept } = known
  return useMemo(
    () =>
      kept.places.length === 0
        ? { places, holdings }
        : { places: [...places, ...kept.places], holdings: [...holdings, ...kept.holdings] },
    [places, holdings, kept],
  )
}

/** What is in unfinished models; the same while only times and notes of what is built change. */
function useMade(units: Records['units']): SnapshotRecords['made'] {
  const next = useMemo(() => madeOf(units), [units])
  const [known, setKnown] = useState({ of: next, kept: next })
  if (known.of !== next) setKnown({ of: next, kept: dequal(next, known.kept) ? known.kept : next })
  return known.kept
}

function catalogueOf(parts: readonly Part[], colours: readonly Colour[]) {
  const partById = new Map(parts.map((p) => [p.id, p]))
  const allColours = knownColours(colours)
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
  const mergedParts = new Map<string, string>(
    parts.flatMap((p) => (p.aliases ?? []).filter((a) => a.startsWith('p-')).map((a) => [a, p.id])),
  )
  return {
    mergedParts,
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
