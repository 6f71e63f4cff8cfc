import type { SourcingPlan } from '../../../core/sourcing/plan.ts'

/** What is known of how good a plan is, in a table. */
export const shortProof = ({ status, gap, total }: Pick<SourcingPlan, 'status' | 'gap' | 'total'>): string =>
  total === null
    ? noPlan({ status })
    : status === 'optimal'
      ? 'proven'
      : gap === null
        ? 'no proof'
        : `at most ${(gap * 100).toFixed(2)}% above the least`

/** Why there is no plan: none can exist, or none was found in time. */
export const noPlan = ({ status }: Pick<SourcingPlan, 'status'>): string =>
  status === 'infeasible' ? 'no plan fits the rules' : 'no plan was found in the time given'
