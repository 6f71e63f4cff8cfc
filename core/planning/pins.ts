import type { Requirement } from '../design/explode.ts'
import type { ColourId } from '../units/ids.ts'
import type { Decision, DecisionBook, PinnedSource } from './decision.ts'
import { meaningOf, schemeOf, type LineOptions, type Meaning } from './line-options.ts'
import type { Variant } from './lots.ts'
import { POINTS, type Wish } from './stand-ins.ts'
import type { StockIndex } from './stock-index.ts'
import type { Supply } from './supplies.ts'
import type { Requirements } from './wishes.ts'

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
export type PinnedPiece = { readonly supply: Supply; readonly qty: number; readonly meaning: Meaning }

/** Whether a supply is the one a pin names. */
const isPinned = (pin: PinnedSource, { source, item }: Supply): boolean =>
  pin.kind === 'copy'
    ? source.kind === 'copy' && source.copy === pin.copy && source.stage === pin.stage && item === pin.item
    : source.kind === 'shelf' && source.holding === pin.holding

/**
 * Fixes pinned pieces, in the order of the decisions; what cannot be fixed is said with its reason. Pieces are given by
 * the number of their requirement, `taken` by the number of the lot, and the colours that groups are pinned to.
 */
export function applyPins(
  book: DecisionBook,
  { list, classOf, wishes }: Requirements,
  options: readonly (LineOptions | undefined)[],
  { variantsOf, variants }: StockIndex,
) {
  const pinned = new Map<number, PinnedPiece[]>()
  const outcomes: PinOutcome[] = []
  const used = new Map<Supply, number>()
  const taken = new Map<number, number>()
  const schemes = new Map<string, ColourId>()
  for (const { id, pin } of book.pins) {
    const lot = variantsOf(pin.source.item)
      .flatMap((v) => v.lots)
      .find((l) => l.supplies.some((s) => isPinned(pin.source, s)))
    const supply = lot?.supplies.find((s) => isPinned(pin.source, s))
    let open = pin.qty
    let room = false
    let fault: PinFault | undefined = supply ? undefined : 'supply'
    for (const [i, r] of list.entries()) {
      if (!supply || r.line !== pin.line || open === 0) continue
      const there = supply.qty - (used.get(supply) ?? 0)
      const before = pinned.get(i) ?? []
      const need = r.qty - r.built - before.reduce((n, p) => n + p.qty, 0)
      if (need > 0) room = true
      const qty = Math.min(open, need, there)
      const c = classOf[i] as number
      const wish = wishes[c]
      if (qty <= 0 || !wish) continue
      const meaning = meaningOfPin(wish, supply, options[c], variants)
      const colour = schemeOf(wish, meaning)
      const settled = wish.group === undefined ? undefined : schemes.get(wish.group)
      if (colour !== undefined && settled !== undefined && settled !== colour) {
        fault = 'colour'
        continue
      }
      if (wish.group !== undefined && colour !== undefined) schemes.set(wish.group, colour)
      pinned.set(i, [...before, { supply, qty, meaning }])
      used.set(supply, (used.get(supply) ?? 0) + qty)
      if (lot) taken.set(lot.number, (taken.get(lot.number) ?? 0) + qty)
      open -= qty
    }
    const gone = supply !== undefined && (used.get(supply) ?? 0) >= supply.qty
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
function meaningOfPin(
  wish: Wish,
  supply: Supply,
  options: LineOptions | undefined,
  variants: readonly Variant[],
): Meaning {
  for (const [o, item] of options?.items.entries() ?? []) {
    const meaning = variants[item]?.item === supply.item && options ? meaningOf(options, o, variants) : undefined
    if (meaning) return meaning
  }
  const kind = supply.item === wish.item ? 'exact' : 'chosen'
  return { kind, points: kind === 'exact' ? 0 : POINTS.chosen, uses: [{ item: supply.item, qty: 1 }] }
}
