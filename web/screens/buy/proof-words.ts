import type { SourcingPlan } from '../../../core/sourcing/plan.ts'

/** What is known of how good a plan is, in a table. */
export const shortProof = ({ status, gap }: Pick<SourcingPlan, 'status' | 'gap'>): string =>
  status === 'optimal' ? 'proven' : gap === null ? 'no proof' : `at most ${(gap * 100).toFixed(2)}% above the least`
