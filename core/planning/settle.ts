import { activeItems, type NoteReach } from '../netting/active-items.ts'
import { SEVERAL } from '../netting/numbered.ts'
import type { Rules } from './build.ts'
import type { DecisionBook } from './decision.ts'
import type { LineOptions, OptionFinder } from './line-options.ts'
import type { Wish } from './stand-ins.ts'
import type { StockIndex } from './stock-index.ts'
import type { requirementsOf } from './wishes.ts'

export type Settled = {
  /** Of each class its options; undefined where it is settled. */
  readonly options: readonly (LineOptions | undefined)[]
  /** Of each class the place of its item in the stock; negative where nothing is of it. */
  readonly itemAt: Int32Array
  /** Pieces that settled classes take, by the number of the lot; lots of an item in their order. */
  readonly claimed: Float64Array
}

/**
 * Settles classes without a choice (`activeItems`): they take the piece itself. Options are found for the others alone.
 * Classes with pins, groups, lengths, accepted stand-ins, or whose item has variants, always have a choice.
 */
export function settle(
  rules: Rules,
  weighed: boolean,
  { wishes, open, pinned }: ReturnType<typeof requirementsOf>,
  { stock, variants, lots, variantsAt }: StockIndex,
  finder: OptionFinder,
  book: DecisionBook,
): Settled {
  const mayChooseFreely = rules.aim === 'use up the donors' || (weighed && rules.pointPrice === 0)
  const states = { there: new Int32Array(stock.items.length), wanted: new Int32Array(stock.items.length) }
  /** Of each variant the place of its item. */
  const indexOf = new Int32Array(variants.length)
  for (const { number, index, lots: own } of variants) {
    indexOf[number] = index
    for (const { qty } of own) states.there[index] = (states.there[index] as number) + qty
  }
  const options = new Array<LineOptions | undefined>(wishes.length).fill(undefined)
  const reach = (c: number, own: number, note: NoteReach) => {
    const wish = wishes[c]
    if (!wish) return
    const found = finder.optionsOf(wish)
    options[c] = found
    for (const item of found.items) {
      const index = item === SEVERAL ? own : (indexOf[item] as number)
      if (index !== own) note(index, false)
    }
    for (const uses of found.several.values()) for (const use of uses) note(indexOf[use.item] as number, true)
  }
  /** Of each item the last of its classes that may be settled; of each class the one before it. */
  const lastOf = new Int32Array(stock.items.length).fill(-1)
  const before = new Int32Array(wishes.length)
  const itemAt = new Int32Array(wishes.length)
  const sources: { readonly qty: number; readonly reach: (note: NoteReach) => void }[] = []
  for (let c = 0; c < wishes.length; c++) {
    const wish = wishes[c] as Wish
    const there = stock.byItem.get(wish.item)
    const held = there && variantsAt[there.index]
    const one = held && held.length > 0 ? there : undefined
    itemAt[c] = one?.index ?? -1
    if (
      one &&
      held?.length === 1 &&
      held[0]?.traits.flags === '' &&
      !one.of.byLength &&
      !mayChooseFreely &&
      wish.group === undefined &&
      wish.accepted === undefined &&
      wish.length === undefined &&
      !pinned.has(c)
    ) {
      states.wanted[one.index] = (states.wanted[one.index] as number) + (open[c] as number)
      before[c] = lastOf[one.index] as number
      lastOf[one.index] = c
      continue
    }
    // What a class that always has a choice draws on has one as well; where nothing is of its item, it lacks the piece.
    sources.push({
      qty: open[c] as number,
      reach: one
        ? (note) => {
            note(one.index, true)
            reach(c, one.index, (index) => {
              note(index, true)
            })
          }
        : (note) => {
            reach(c, -1, note)
          },
    })
  }
  for (const { pin } of book.pins) {
    const one = stock.byItem.get(pin.source.item)
    if (!one) continue
    sources.push({
      qty: pin.qty,
      reach: (note) => {
        note(one.index, true)
      },
    })
  }
  const active = activeItems(
    states,
    (item, note) => {
      for (let c = lastOf[item] as number; c >= 0; c = before[c] as number) reach(c, item, note)
    },
    sources,
  )
  const claimed = new Float64Array(lots.length)
  for (let index = 0; index < variantsAt.length; index++) {
    let claim = active[index] === 1 ? 0 : (states.wanted[index] as number)
    if (claim === 0) continue
    for (const { number, qty } of variantsAt[index]?.[0]?.lots ?? []) {
      if (claim === 0) break
      const taken = Math.min(claim, qty)
      claimed[number] = taken
      claim -= taken
    }
  }
  return { options, itemAt, claimed }
}
