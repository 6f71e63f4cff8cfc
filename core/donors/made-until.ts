import { dayOf, daysBetween } from '../units/instants.ts'
import type { DonorSet } from './donor-set.ts'

/** The end of a set's production, an ISO 8601 date, and the days left until then; no days once it is over. */
export type LastChance = { readonly until: string; readonly days: number | undefined }

/** How long a set is still made; undefined where no end is noted. `today` is an ISO 8601 date or instant, UTC. */
export function lastChance({ retires }: Pick<DonorSet, 'retires'>, today: string): LastChance | undefined {
  if (retires === undefined) return undefined
  const day = dayOf(today)
  return { until: retires, days: retires < day ? undefined : daysBetween(day, retires) }
}

/** Whether shops still get a set: said only when an end of production is noted. `today` is an ISO 8601 date. */
export function madeUntil(set: Pick<DonorSet, 'retires'>, today: string): string | undefined {
  const chance = lastChance(set, today)
  if (chance === undefined) return undefined
  return chance.days === undefined ? `no longer made since ${chance.until}` : `made until ${chance.until}`
}
