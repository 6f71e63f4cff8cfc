import { toast } from 'sonner'
import * as v from 'valibot'
import type { Build } from '../../core/build/build.ts'
import type { KeptPlan } from '../../core/sourcing/kept-plan.ts'
import { SourcingPlanSchema } from '../../core/sourcing/plan.ts'
import { problemKey } from '../../core/sourcing/problem-key.ts'
import { loosened, type Loosening, type RulePrice } from '../../core/sourcing/rule-prices.ts'
import { verifyPlan } from '../../core/sourcing/verify-plan.ts'
import type { BuildId } from '../../core/units/ids.ts'
import { startLoosening } from '../../workers/sourcing-client.ts'
import type { LooseningNews, Patience } from '../../workers/sourcing.worker.ts'
import { question, type QuestionState } from './answers.ts'
import type { Count } from './count-store.ts'
import { keepAs } from './frontier-run.ts'
import { wordsOf } from './perform.ts'
import { problemOf } from './purchases.ts'

const LooseningSchema = v.union([
  v.object({
    rule: v.picklist(['maxShops', 'deadlineDays', 'maxPieces']),
    to: v.nullable(v.number()),
  }),
  v.object({ rule: v.picklist(['excluded', 'pinned']), shop: v.string() }),
])
const PricesSchema = v.array(v.object({ loosening: LooseningSchema, plan: SourcingPlanSchema }))
type Prices = v.InferOutput<typeof PricesSchema>

/** What looser rules save. */
export const LOOSENING = question<Prices, LooseningNews>('loosening', PricesSchema)

/** What is known of it for a build. */
export const useLoosening = (id: BuildId): QuestionState<Prices, LooseningNews> => LOOSENING.useAnswer(id)

export const runLoosening = (kept: KeptPlan, patience: Patience): Promise<void> =>
  LOOSENING.ask(kept.id, (onNews) => {
    const { result, cancel } = startLoosening(kept.problem, kept.plan, patience, onNews)
    return Promise.resolve({
      // Prices are of just one plan, known by when it was kept.
      key: kept.madeAt,
      run: { result: result.then((found) => found && [...found]), cancel },
    })
  })

/** Prices as they were kept, those that hold by an independent count. */
export const pricesOf = (kept: KeptPlan, prices: Prices): RulePrice[] =>
  prices.filter(({ loosening, plan }) => {
    const verdict = verifyPlan(loosened(kept.problem, loosening), plan)
    return verdict.ok && verdict.total === plan.total
  })

/** The house rules with one loosened. */
function rulesWith({ rules }: Build, loosening: Loosening): Partial<Build['rules']> {
  if (!('shop' in loosening)) return { [loosening.rule]: loosening.to }
  const { [loosening.shop]: _, ...shops } = rules.shops
  return { shops }
}

/** Loosens a rule and keeps the plan that it allows, in one act. */
export async function keepLoosened(
  count: Count,
  build: Build,
  kept: KeptPlan,
  { loosening, plan }: RulePrice,
  label: string,
): Promise<void> {
  try {
    const { asked } = await problemOf(count)
    const problem = loosened(kept.problem, loosening)
    await keepAs(
      build,
      { ...kept, problem, plan, asked: problemKey(loosened(asked, loosening)) },
      rulesWith(build, loosening),
      label,
    )
  } catch (error) {
    toast.error(`That failed: ${wordsOf(error)}. Nothing was changed; try again.`)
  }
}
