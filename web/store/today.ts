import { dayOf } from '../../core/units/instants.ts'
import { simulatedDay } from '../../core/orders/carrier-news.ts'
import { MARKET_DAY, PATIENCE_DAYS } from '../../storage/database.ts'
import { db, nowIso } from './database.ts'
import { useStored } from './stored.ts'

/** Days that the practice services are ahead of the real ones. */
export const useDaysAhead = (): number =>
  Number(useStored(() => db.settings.get(MARKET_DAY), [], undefined)?.value ?? 0)

/** The day on which acts are dated and parcels are looked at: today, and the simulated days that have passed since. */
export const useToday = (): string => simulatedDay(dayOf(nowIso()), useDaysAhead())

/** Days that the user waits beyond a late day before a parcel is to be claimed, where nothing else is said. */
export const USUAL_PATIENCE = 14
export const usePatience = (): number =>
  Number(useStored(() => db.settings.get(PATIENCE_DAYS), [], undefined)?.value ?? USUAL_PATIENCE)
export const setPatience = (days: string) => db.settings.put({ id: PATIENCE_DAYS, value: days })

/**
 * Lets simulated days pass: the practice market and carrier go on, and what is looked at with them. Each call counts,
 * however fast they follow one another.
 */
export const passDays = (days: number): Promise<void> =>
  db.transaction('rw', db.settings, async () => {
    const before = Number((await db.settings.get(MARKET_DAY))?.value ?? 0)
    await db.settings.put({ id: MARKET_DAY, value: String(before + days) })
  })
