import type { ItemKey } from '../catalogue/item.ts'
import type { CopyId, ModuleId } from '../units/ids.ts'
import { sharesOf } from '../units/share-out.ts'
import { copyAmounts } from './donor-share.ts'
import { costOf, type Posting } from './postings.ts'
import type { ModuleUse } from './used.ts'

/** What a module costs of its build, minor units, and how many pieces it needs. */
export type ModuleCost = { readonly module: ModuleId; readonly pieces: number; readonly minor: number }

/**
 * A build's cost shared among its modules, which adds up to just that cost: plans and entries of a module are its own, a
 * donor copy's price goes by the pieces of it that they use, all else (loose pieces with their shipping, fees and duty) by
 * what their other pieces cost each; where those cost nothing, by pieces. `rest` is what is still to be bought.
 */
export function costByModule(
  counted: readonly Posting[],
  rest: number,
  uses: readonly ModuleUse[],
  priceOf: (item: ItemKey) => number,
): ModuleCost[] {
  if (uses.length === 0) return []
  const own = new Map(uses.map((u) => [u.module, 0]))
  const ofCopies = new Map<CopyId, number>()
  let others = rest
  for (const posting of counted) {
    const cost = costOf(posting)
    const { module } = posting
    const amounts = copyAmounts(posting)
    if (module !== undefined && own.has(module)) own.set(module, (own.get(module) ?? 0) + cost)
    else if (amounts.length > 0) {
      const sign = posting.stage === 'back' ? -1 : 1
      for (const [copy, minor] of amounts) ofCopies.set(copy, (ofCopies.get(copy) ?? 0) + sign * minor)
    } else others += cost
  }
  const share = (minor: number, weights: readonly number[]) => {
    for (const [i, part] of sharesOf(minor, weights).entries()) {
      const module = uses[i]?.module
      if (module !== undefined) own.set(module, (own.get(module) ?? 0) + part)
    }
  }
  const pieces = uses.map((u) => u.pieces)
  for (const [copy, minor] of ofCopies) {
    const by = uses.map((u) => u.copies.get(copy) ?? 0)
    share(minor, by.some((n) => n > 0) ? by : pieces)
  }
  const value = uses.map((u) => [...u.others, ...u.short].reduce((sum, [item, qty]) => sum + qty * priceOf(item), 0))
  share(others, value.some((n) => n > 0) ? value : pieces)
  return uses.map((u) => ({ module: u.module, pieces: u.pieces, minor: own.get(u.module) ?? 0 }))
}
