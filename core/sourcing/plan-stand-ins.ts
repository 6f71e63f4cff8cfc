import type { ItemKey } from '../catalogue/item.ts'
import type { StandInKind } from '../netting/stand-ins/candidate.ts'
import type { KeptPlan } from './kept-plan.ts'
import { coveredBy, pieceOf, standInOf } from './plan-pieces.ts'

/** Required pieces that a purchase plan covers by a stand-in, owned or bought. */
export type PlanStandIn = {
  readonly wanted: ItemKey
  readonly kind: StandInKind
  readonly uses: readonly { readonly item: ItemKey; readonly qty: number }[]
  readonly qty: number
  /** What its compromise counts for in the choice, minor units for all of them; not paid. */
  readonly worth: number
}

/** The stand-ins of a kept plan, those that weigh most first. */
export function planStandIns({ plan, problem }: Pick<KeptPlan, 'plan' | 'problem'>): PlanStandIn[] {
  const items = new Map(problem.items.map((item) => [item.id, pieceOf(item)]))
  const found: PlanStandIn[] = []
  for (const { line, accept, qty } of coveredBy(problem, plan)) {
    const kind = standInOf(accept)
    if (kind === undefined) continue
    const uses = accept.uses.map((use) => ({ item: items.get(use.item) ?? pieceOf({ id: use.item }), qty: use.qty }))
    found.push({ wanted: pieceOf(line), kind, uses, qty, worth: qty * accept.penalty })
  }
  return found.sort((p, q) => q.worth - p.worth || (p.wanted < q.wanted ? -1 : 1))
}
