import type { ItemKey } from '../catalogue/item.ts'
import type { KeptPlan } from './kept-plan.ts'
import { itemOf } from './shortfall-task.ts'
import { STAND_IN_KINDS, type StandInKind } from '../netting/stand-ins/candidate.ts'

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
  const assigned = new Map(plan.assignments.map((a) => [`${a.line}\n\n${a.accept}`, a.qty]))
  const decided = new Set(plan.assignments.map((a) => a.line))
  return problem.lines
    .flatMap(({ id, qty, accepts }) =>
      accepts.flatMap((accept) => {
        const kind = STAND_IN_KINDS.find((k) => accept.id.replace(/^own (?=\w+\n)/, '').startsWith(`${k}\n`))
        // A line with a single option may be left out of the assignments.
        const pieces = decided.has(id) ? (assigned.get(`${id}\n\n${accept.id}`) ?? 0) : accepts.length === 1 ? qty : 0
        if (kind === undefined || pieces === 0) return []
        return [
          {
            wanted: itemOf(id),
            kind,
            uses: accept.uses.map((u) => ({ item: itemOf(u.item), qty: u.qty })),
            qty: pieces,
            worth: pieces * accept.penalty,
          },
        ]
      }),
    )
    .sort((p, q) => q.worth - p.worth || (p.wanted < q.wanted ? -1 : 1))
}
