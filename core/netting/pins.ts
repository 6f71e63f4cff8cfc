import type { Requirement } from '../design/explode.ts'
import { itemOf, KIT, sizeOf } from './kernel/cover-problem.ts'
import type { ColourId } from '../units/ids.ts'
import type { Decision, DecisionBook, PinnedSource } from '../build/decision.ts'
import { meaningOf, schemeOf, type LineOptions, type Meaning } from './options.ts'
import { POINTS } from './stand-ins/points.ts'
import type { Demand, Requirements } from './demand.ts'
import type { SupplyIndex } from './supply-index.ts'
import type { Supply } from './supply-rows.ts'

/** Why a pin does not hold, or holds for fewer pieces than it says. */
export type PinFault =
  /** Its line is no longer in the design, or needs fewer pieces. */
  | 'line'
  /** The supply is gone, or the rules do not count it. */
  | 'supply'
  /** The supply has fewer pieces, or other pins took them. */
  | 'pieces'
  /** Its group is pinned to another colour. */
  | 'colour'
export type PinOutcome = {
  readonly id: Decision['id']
  readonly line: Requirement['line']
  readonly item: Supply['item']
  readonly asked: number
  readonly held: number
  readonly fault: PinFault | undefined
}
export type PinnedPiece = {
  readonly supply: Supply
  /** Its row in the inventory, and its variant. */
  readonly row: number
  readonly variant: number
  readonly qty: number
  readonly meaning: Meaning
}

/** Whether a supply is the one a pin names. */
const isPinned = (pin: PinnedSource, { source, item }: Supply): boolean =>
  pin.kind === 'copy'
    ? source.kind === 'copy' && source.copy === pin.copy && source.stage === pin.stage && item === pin.item
    : source.kind === 'shelf' && source.holding === pin.holding

/** The supply a pin names, with its row, lot and variant. */
function find(stock: SupplyIndex, pin: PinnedSource) {
  for (const variant of stock.variantsOf(pin.item))
    for (let lot = stock.lotsFrom[variant] as number; lot < (stock.lotsFrom[variant + 1] as number); lot++)
      for (let at = stock.rowsFrom[lot] as number; at < (stock.rowsFrom[lot + 1] as number); at++) {
        const row = stock.rows[at] as number
        const supply = stock.supplyOf(row)
        if (isPinned(pin, supply)) return { supply, row, lot, variant }
      }
  return undefined
}

/**
 * Fixes pinned pieces, in the order of the decisions; what cannot be fixed is said with its reason. Pieces are given by
 * the number of their requirement, `taken` from each lot, and the colours that groups are pinned to.
 */
export function applyPins(
  book: DecisionBook,
  { list, classOf, demands }: Requirements,
  options: readonly (LineOptions | undefined)[],
  stock: SupplyIndex,
) {
  const pinned = new Map<number, PinnedPiece[]>()
  const outcomes: PinOutcome[] = []
  const used = new Map<number, number>()
  const taken = new Float64Array(stock.lots)
  const schemes = new Map<string, ColourId>()
  for (const { id, pin } of book.pins) {
    const found = find(stock, pin.source)
    const supply = found?.supply
    let open = pin.qty
    let room = false
    let fault: PinFault | undefined = supply ? undefined : 'supply'
    for (const [i, r] of list.entries()) {
      if (!found || !supply || r.line !== pin.line || open === 0) continue
      const there = supply.qty - (used.get(found.row) ?? 0)
      const before = pinned.get(i) ?? []
      const need = r.qty - r.built - before.reduce((n, p) => n + p.qty, 0)
      if (need > 0) room = true
      const qty = Math.min(open, need, there)
      const c = classOf[i] as number
      const demand = demands[c]
      if (qty <= 0 || !demand) continue
      const meaning = meaningOfPin(demand, supply, options[c], stock)
      const colour = schemeOf(demand, meaning)
      const chosen = demand.group === undefined ? undefined : schemes.get(demand.group)
      if (colour !== undefined && chosen !== undefined && chosen !== colour) {
        fault = 'colour'
        continue
      }
      if (demand.group !== undefined && colour !== undefined) schemes.set(demand.group, colour)
      pinned.set(i, [...before, { supply, row: found.row, variant: found.variant, qty, meaning }])
      used.set(found.row, (used.get(found.row) ?? 0) + qty)
      taken[found.lot] = (taken[found.lot] as number) + qty
      open -= qty
    }
    const gone = found !== undefined && (used.get(found.row) ?? 0) >= found.supply.qty
    if (open > 0) fault ??= room && gone ? 'pieces' : 'line'
    outcomes.push({
      id,
      line: pin.line,
      item: pin.source.item,
      asked: pin.qty,
      held: pin.qty - open,
      fault: open > 0 ? fault : undefined,
    })
  }
  return { pinned, outcomes, taken, schemes }
}

/** What a pinned piece is to its line: what the rules would make of it, else the user's own choice. */
function meaningOfPin(demand: Demand, supply: Supply, options: LineOptions | undefined, stock: SupplyIndex): Meaning {
  for (let o = 0; options && o < sizeOf(options); o++) {
    const item = itemOf(options, o)
    const meaning = item !== KIT && stock.itemOf(item) === supply.item ? meaningOf(options, o, stock) : undefined
    if (meaning) return meaning
  }
  const kind = supply.item === demand.item ? 'exact' : 'chosen'
  return { kind, points: kind === 'exact' ? 0 : POINTS.chosen, uses: [{ item: supply.item, qty: 1 }] }
}
