import { copyContents } from '../donors/copy-contents.ts'
import type { Copy, DonorSet } from '../donors/donor-set.ts'
import type { Unit } from '../making/unit.ts'
import type { TallyLine } from '../netting/tally.ts'
import type { ItemKey } from '../catalogue/item.ts'
import { stateOf, type Order } from '../orders/order.ts'
import type { BuildId, CopyId, ModuleId } from '../units/ids.ts'

/** Pieces of copies that a build uses: what its count draws from them, and what is in its models already. */
export function usedOfCopies(
  lines: readonly Pick<TallyLine, 'pegs'>[],
  units: readonly Pick<Unit, 'put'>[],
): Map<CopyId, number> {
  const used = new Map<CopyId, number>()
  const add = (copy: CopyId, qty: number) => used.set(copy, (used.get(copy) ?? 0) + qty)
  for (const { pegs } of lines) for (const { source, qty } of pegs) if (source.kind === 'copy') add(source.copy, qty)
  for (const { put } of units) for (const { from, qty } of put) if (from.kind === 'copy') add(from.copy, qty)
  return used
}

/** Pieces that a copy held when it was bought whole: what is noted as missing is among them. */
export const piecesBought = (set: DonorSet, copy: Pick<Copy, 'stages' | 'spares'>): number =>
  copyContents(set, { ...copy, missing: [] }).reduce((n, c) => n + c.qty, 0)

/** Where the pieces of a module come from. */
export type ModuleUse = {
  readonly module: ModuleId
  readonly pieces: number
  /** Of copies, by copy. */
  readonly copies: ReadonlyMap<CopyId, number>
  /** Of shelf and parcels: what is no copy's, item by item. */
  readonly others: ReadonlyMap<ItemKey, number>
  /** What nothing covers yet, by the item that is wanted. */
  readonly short: ReadonlyMap<ItemKey, number>
}

/** What each module uses, by the count and by what is in its models. */
export function piecesByModule(
  lines: readonly Pick<TallyLine, 'module' | 'need' | 'wanted' | 'pegs'>[],
  units: readonly Pick<Unit, 'path' | 'put'>[],
): ModuleUse[] {
  type Sums = {
    pieces: number
    copies: Map<CopyId, number>
    others: Map<ItemKey, number>
    short: Map<ItemKey, number>
  }
  const byModule = new Map<ModuleId, Sums>()
  const of = (module: ModuleId): Sums => {
    let sums = byModule.get(module)
    if (!sums) byModule.set(module, (sums = { pieces: 0, copies: new Map(), others: new Map(), short: new Map() }))
    return sums
  }
  for (const { module, need, wanted, pegs } of lines) {
    const sums = of(module)
    sums.pieces += need
    let covered = 0
    for (const { source, item, qty } of pegs) {
      if (source.kind === 'copy') sums.copies.set(source.copy, (sums.copies.get(source.copy) ?? 0) + qty)
      else if (source.kind === 'shelf') sums.others.set(item, (sums.others.get(item) ?? 0) + qty)
      covered += qty
    }
    // What is short will be bought.
    if (need > covered) sums.short.set(wanted, (sums.short.get(wanted) ?? 0) + need - covered)
  }
  // What is built is among the need already; where it came from its units say.
  for (const { path, put } of units) {
    const module = path.at(-1)
    if (module === undefined) continue
    const sums = of(module)
    for (const { item, from, qty } of put) {
      if (from.kind === 'copy') sums.copies.set(from.copy, (sums.copies.get(from.copy) ?? 0) + qty)
      else sums.others.set(item, (sums.others.get(item) ?? 0) + qty)
    }
  }
  return [...byModule].map(([module, sums]) => ({ module, ...sums }))
}

/** Of each item the pieces that a build's orders were placed for, cancelled, lost and returned ones left out. */
export function orderedPieces(build: BuildId, orders: readonly Order[]): Map<ItemKey, number> {
  const ordered = new Map<ItemKey, number>()
  for (const order of orders) {
    if (['drafted', 'cancelled', 'lost', 'returned'].includes(stateOf(order))) continue
    for (const line of order.lines)
      for (const f of line.for) if (f.build === build) ordered.set(line.item, (ordered.get(line.item) ?? 0) + f.qty)
  }
  return ordered
}
