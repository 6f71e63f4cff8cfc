import type { ItemKey } from '../catalogue/item.ts'
import type { TallyPeg } from '../netting/tally.ts'
import { compareNames } from '../units/collate.ts'
import type { BuildId, CopyId, PlaceId } from '../units/ids.ts'
import { fetchedFrom, Ledger, takesFor, type Stock, type Take } from './takes.ts'
import type { Work, WorkLine } from './works.ts'

/** What is wanted at the table: a line of a module, so many pieces of it, and what the count has for it. */
export type Wanted = {
  readonly work: Work
  readonly line: WorkLine
  readonly qty: number
  readonly pegs: readonly TallyPeg[]
}

/** Pieces of one item to be fetched from one place. */
export type FetchRow = {
  readonly id: string
  /** The holding or the stage of a copy it comes from: what a tick is kept by. */
  readonly from: string
  readonly at:
    | { readonly kind: 'place'; readonly place: PlaceId }
    | { readonly kind: 'copy'; readonly copy: CopyId; readonly stage: string | undefined }
  readonly item: ItemKey
  readonly qty: number
  /** What it stands in for, where that is another item. */
  readonly standsFor: readonly ItemKey[]
  readonly uses: readonly { readonly work: Work; readonly qty: number }[]
}

export type FetchList = {
  readonly rows: readonly FetchRow[]
  /** Wanted and not here: on order, or short. */
  readonly missing: readonly { readonly wanted: Wanted; readonly qty: number }[]
}

/**
 * What to fetch for what is wanted, each piece once, from where the count has it: the shelf's places and the copies that are
 * here. In the order of a walk: copies first, then places as they stand in one another, by name.
 */
export function fetchList(
  build: BuildId,
  wanted: readonly Wanted[],
  stock: Stock,
  /** The name of a place or a copy with what is around it, as the walk goes. */
  whereOf: (row: FetchRow) => string,
): FetchList {
  const ledger = new Ledger(stock)
  type Growing = Omit<FetchRow, 'qty' | 'standsFor' | 'uses'> & {
    qty: number
    standsFor: Set<ItemKey>
    uses: Map<string, { work: Work; qty: number }>
  }
  const rows = new Map<string, Growing>()
  const missing: { wanted: Wanted; qty: number }[] = []
  const add = (take: Take, { work, line }: Wanted) => {
    const from = fetchedFrom(take)
    if (take.kind === 'found' || from === undefined) return
    const id = `${from}\n${take.item}`
    const row: Growing = rows.get(id) ?? {
      id,
      from,
      at:
        take.kind === 'copy'
          ? { kind: 'copy', copy: take.copy, stage: take.stage }
          : { kind: 'place', place: take.holding.place },
      item: take.item,
      qty: 0,
      standsFor: new Set(),
      uses: new Map(),
    }
    row.qty += take.qty
    if (take.item !== line.item) row.standsFor.add(line.item)
    const use = row.uses.get(work.key) ?? { work, qty: 0 }
    row.uses.set(work.key, { work, qty: use.qty + take.qty })
    rows.set(id, row)
  }
  for (const want of wanted) {
    if (want.qty < 1) continue
    const { groups, short } = takesFor(build, want.line.item, want.qty, want.pegs, stock, ledger)
    for (const group of groups) for (const take of group.takes) add(take, want)
    if (short > 0) missing.push({ wanted: want, qty: short })
  }
  const list = [...rows.values()].map((r): FetchRow => ({
    ...r,
    standsFor: [...r.standsFor],
    uses: [...r.uses.values()],
  }))
  const where = new Map(list.map((r) => [r.id, whereOf(r)]))
  const kind = (r: FetchRow) => (r.at.kind === 'copy' ? 0 : 1)
  return {
    rows: list.sort(
      (p, q) =>
        kind(p) - kind(q) ||
        compareNames(where.get(p.id) ?? '', where.get(q.id) ?? '') ||
        (p.item < q.item ? -1 : p.item > q.item ? 1 : 0),
    ),
    missing,
  }
}
