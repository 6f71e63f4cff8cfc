import * as v from 'valibot'
import type { ItemKey } from '../core/catalogue/item.ts'
import { acceptMarketAnswer } from '../core/formats/market-answer.ts'
import type { Offer } from '../core/offers/offer.ts'
import type { Shop } from '../core/offers/shop.ts'
import { currency } from '../core/units/money.ts'
import { fail, ok, type Result } from '../core/units/result.ts'
import { MAX_ITEMS, OffersResponseSchema, type OffersRequest } from '../market/wire.ts'

export type MarketError = { readonly code: 'offline' | 'refused' | 'unreadable' | 'storage'; readonly message: string }

export type AskedItem = OffersRequest['items'][number]
export type MarketAnswer = { readonly shops: readonly Shop[]; readonly offers: readonly Offer[] }

/** Milliseconds that an answer may take. */
const PATIENCE_MS = 20_000
/** Bytes of an answer that are read at most. */
const MOST_BYTES = 64 * 1024 * 1024

/** Asks the market for offers of the items; `own` are the ids of shops that came from elsewhere, `day` is the simulated day. Nothing is kept yet. */
export async function askMarket(
  items: readonly AskedItem[],
  own: ReadonlySet<string>,
  day: number,
): Promise<Result<MarketAnswer, MarketError>> {
  const shops = new Map<string, Shop>()
  const offers: Offer[] = []
  for (let from = 0; from < items.length; from += MAX_ITEMS) {
    const asked = items.slice(from, from + MAX_ITEMS)
    const answer = await ask({ currency: 'EUR', items: [...asked], day })
    if (!answer.ok) return answer
    const taken = acceptMarketAnswer(
      answer.value,
      new Set(asked.map((a) => a.item as ItemKey)),
      currency(answer.value.currency),
      own,
    )
    if (!taken.ok)
      return fail({
        code: 'unreadable',
        message: `The market gave an answer that cannot be used: ${taken.error.message}. The last offers are kept.`,
      })
    for (const shop of taken.value.shops) shops.set(shop.id, shop)
    offers.push(...taken.value.offers)
  }
  return ok({ shops: [...shops.values()], offers })
}

async function ask(request: OffersRequest): Promise<Result<v.InferOutput<typeof OffersResponseSchema>, MarketError>> {
  let response: Response
  try {
    response = await fetch('/api/market/offers', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(request),
      signal: AbortSignal.timeout(PATIENCE_MS),
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
  const parsed = v.safeParse(OffersResponseSchema, await bodyOf(response), { abortEarly: true })
  if (!parsed.success)
    return fail({
      code: 'unreadable',
      message: 'The market gave an answer that cannot be read. The last offers are kept.',
    })
  return ok(parsed.output)
}

/** The body of an answer as JSON; undefined where it is none, breaks off or does not end. */
async function bodyOf(response: Response): Promise<unknown> {
  const reader = response.body?.getReader()
  if (!reader) return undefined
  const parts: Uint8Array<ArrayBuffer>[] = []
  let bytes = 0
  try {
    for (let next = await reader.read(); !next.done; next = await reader.read()) {
      bytes += next.value.byteLength
      if (bytes > MOST_BYTES) {
        await reader.cancel()
        return undefined
      }
      parts.push(next.value)
    }
    return JSON.parse(await new Blob(parts).text()) as unknown
  } catch {
    return undefined
  }
}
