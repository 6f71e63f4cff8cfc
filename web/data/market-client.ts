import * as v from 'valibot'
import type { ItemKey } from '../../core/catalogue/item.ts'
import type { Offer, Shop } from '../../core/planning/market.ts'
import { currency } from '../../core/units/money.ts'
import { fail, ok, type Result } from '../../core/units/result.ts'
import { MAX_ITEMS, OffersResponseSchema, type OffersRequest } from '../../market/wire.ts'
import { put, remove } from '../../storage/journal.ts'
import { db, nowIso } from './database.ts'
import { write } from './perform.ts'
import type { RecordsView } from './records.tsx'

export const OFFERS_FETCHED = 'offers-fetched'

export type MarketError = { readonly code: 'offline' | 'refused' | 'unreadable' | 'storage'; readonly message: string }

/** Asks the market for offers of the items and keeps them in place of its earlier offers of the same items. */
export async function fetchOffers(
  items: readonly ItemKey[],
  records: RecordsView,
  signal?: AbortSignal,
): Promise<Result<{ offers: number; shops: number }, MarketError>> {
  const shops = new Map<string, Shop>()
  const offers: Offer[] = []
  for (let from = 0; from < items.length; from += MAX_ITEMS) {
    const request: OffersRequest = {
      currency: 'EUR',
      items: items.slice(from, from + MAX_ITEMS).map((item) => {
        const { part, colour } = records.nameItem(item)
        return { item, part: part.name, finish: colour.finish }
      }),
    }
    const answer = await ask(request, signal)
    if (!answer.ok) return answer
    const code = currency(answer.value.currency)
    for (const shop of answer.value.shops) shops.set(shop.id, { ...shop, currency: code })
    for (const offer of answer.value.offers)
      offers.push({ ...offer, id: `market:${offer.shop}:${offer.item}`, item: offer.item as ItemKey, source: 'market' })
  }
  const asked = new Set(items)
  const ids = new Set(offers.map((o) => o.id))
  const old = records.offers
    .filter((o) => o.source === 'market' && asked.has(o.item) && !ids.has(o.id))
    .map((o) => o.id)
  const kept = await write(`Fetched ${offers.length} offers`, [
    put('shops', [...shops.values()]),
    put('offers', offers),
    remove('offers', old),
  ])
  if (!kept.ok) return fail({ code: 'storage', message: kept.error.message })
  await db.settings.put({ id: OFFERS_FETCHED, value: nowIso() })
  return ok({ offers: offers.length, shops: shops.size })
}

async function ask(
  request: OffersRequest,
  signal: AbortSignal | undefined,
): Promise<Result<v.InferOutput<typeof OffersResponseSchema>, MarketError>> {
  let response: Response
  try {
    response = await fetch('/api/market/offers', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(request),
      signal: AbortSignal.any([AbortSignal.timeout(20_000), ...(signal ? [signal] : [])]),
    })
  } catch {
    return fail({
      code: 'offline',
      message: 'The market cannot be reached. The last offers are kept; try again when it is back.',
    })
  }
  if (!response.ok)
    return fail({
      code: 'refused',
      message: `The market refused the request (status ${response.status}). The last offers are kept.`,
    })
  const parsed = v.safeParse(OffersResponseSchema, await response.json().catch(() => undefined))
  if (!parsed.success)
    return fail({
      code: 'unreadable',
      message: 'The market gave an answer that cannot be read. The last offers are kept.',
    })
  return ok(parsed.output)
}
