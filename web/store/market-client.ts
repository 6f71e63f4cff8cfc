import type { ItemKey } from '../../core/catalogue/item.ts'
import type { DonorSet } from '../../core/donors/donor-set.ts'
import { MARKET_DAY } from '../../storage/database.ts'
import { fail, type Result } from '../../core/units/result.ts'
import { askCopies, type MarketError } from '../../workers/market.ts'
import { storeWorker } from '../../workers/store-client.ts'
import { db, nowIso } from './database.ts'
import { wordsOf } from './perform.ts'
import type { RecordsView } from './records.tsx'
import { thisTab } from './tab.ts'

/** Has the market asked for offers of the items, and keeps them in place of its earlier offers of the same items. */
export async function fetchOffers(
  items: readonly ItemKey[],
  { nameItem }: Pick<RecordsView, 'nameItem'>,
): Promise<Result<{ readonly offers: number; readonly shops: number }, MarketError>> {
  const asked = items.map((item) => {
    const { part, colour } = nameItem(item)
    return { item, part: part.name, finish: colour.finish }
  })
  try {
    return await storeWorker().call('fetchOffers', asked, nowIso(), await thisTab())
  } catch (error) {
    return fail({
      code: 'unreadable',
      message: `Asking failed: ${wordsOf(error)}. The last offers are kept; try again.`,
    })
  }
}

/** Asks the market who offers copies of sets second hand, on its simulated day; nothing of it is kept. */
export const fetchCopies = async (sets: readonly DonorSet[]) =>
  askCopies(sets, Number((await db.settings.get(MARKET_DAY))?.value ?? 0))
