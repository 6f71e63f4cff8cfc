import type { Snapshot } from '../../../core/netting/snapshot.ts'
import type { Tally } from '../../../core/netting/tally.ts'
import type { SourcingPlan } from '../../../core/sourcing/plan.ts'

export type NextAction = { readonly step: 'donors' | 'design' | 'tally' | 'buy' | 'parcels'; readonly label: string }

/** The one thing to do next, from what the build lacks. */
export function nextAction(
  snapshot: Snapshot,
  result: Tally,
  plan: SourcingPlan | undefined,
  old: boolean,
): NextAction {
  if (result.need === 0) return { step: 'design', label: 'Bring in the design' }
  if (snapshot.copies.length === 0 && snapshot.holdings.length === 0)
    return { step: 'donors', label: 'Bring in a donor set' }
  if (result.shortfall.size === 0 && result.coverage.onOrder > 0) return { step: 'parcels', label: 'See when it comes' }
  if (result.shortfall.size === 0) return { step: 'tally', label: 'See where every piece comes from' }
  if (snapshot.build.rules.sources !== 'donors, shelf and shops')
    return { step: 'tally', label: `See the ${result.coverage.short} pieces short` }
  return plan?.total == null
    ? { step: 'buy', label: 'Find the cheapest orders' }
    : { step: 'buy', label: old ? 'Find the orders again' : 'Copy the baskets' }
}
