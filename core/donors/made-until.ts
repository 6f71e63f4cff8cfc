import { dayOf } from '../units/instants.ts'
import type { DonorSet } from './donor-set.ts'

/** Whether shops still get a set: said only when an end of production is noted. `today` is an ISO 8601 date. */
export function madeUntil(set: Pick<DonorSet, 'retires'>, today: string): string | undefined {
  if (set.retires === undefined) return undefined
  return set.retires < dayOf(today) ? `no longer made since ${set.retires}` : `made until ${set.retires}`
}
