import * as v from 'valibot'
import type { ItemKey } from '../core/catalogue/item.ts'
import { acceptCopies, type OfferedCopy } from '../core/formats/copies-answer.ts'
import { acceptMarketAnswer } from '../core/formats/market-answer.ts'
import type { DonorSet } from '../core/donors/donor-set.ts'
import type { Offer } from '../core/offers/offer.ts'
import type { Shop } from '../core/offers/shop.ts'
import { currency } from '../core/units/money.ts'
import { fail, ok, type Result } from '../core/units/result.ts'
import {
  CarrierResponseSchema,
  CopiesResponseSchema,
  MAX_ITEMS,
  MOST_SET_LINES,
  OffersResponseSchema,
  type CarrierRequest,
  type CarrierResponse,
  type CopiesRequest,
  type OffersRequest,
} from '../market/wire.ts'

export type MarketError = { readonly code: 'offline' | 'refused' | 'unreadable' | 'storage'; readonly message: string }

export type AskedItem = OffersRequest['items'][number]
export type MarketAnswer = { readonly shops: readonly Shop[]; readonly offers: readonly Offer[] }

/** Sets and lines of them that one request carries. */
const [MOST_SETS, MOST_LINES] = [50, 10_000]
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
    const request: OffersRequest = { currency: 'EUR', items: [...asked], day }
    const answer = await ask('/api/market/offers', request, OffersResponseSchema)
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

/** Asks who offers copies of some sets second hand; `day` is the simulated day. */
export async function askCopies(
  sets: readonly DonorSet[],
  day: number,
): Promise<Result<readonly OfferedCopy[], MarketError>> {
  const known = sets.flatMap((set) => {
    const lines = set.lines.flatMap(({ item, qty, figure, spare }) =>
      spare ? [] : [{ item, qty, figure: figure !== undefined }],
    )
    const retail = set.retail?.currency === 'EUR' ? { retail: set.retail.minor } : {}
    return lines.length <= MOST_SET_LINES ? [{ set: set.id, ...retail, lines }] : []
  })
  const found: OfferedCopy[] = []
  for (let from = 0; from < known.length;) {
    // As many sets as one request may carry.
    let [to, lines] = [from, 0]
    do lines += known[to++]?.lines.length ?? 0
    while (to < known.length && to - from < MOST_SETS && lines + (known[to]?.lines.length ?? 0) <= MOST_LINES)
    const request: CopiesRequest = { day, sets: known.slice(from, to) }
    const answer = await ask('/api/market/copies', request, CopiesResponseSchema)
    if (!answer.ok) return answer
    found.push(...answer.value.copies)
    from = to
  }
  const taken = acceptCopies(found, sets)
  return taken.ok
    ? taken
    : fail({
        code: 'unreadable',
        message: `The market gave an answer that cannot be used: ${taken.error.message}.`,
      })
}

/** Parcels that one request asks about. */
const MOST_PARCELS = 500

/** Asks the carrier where parcels are on a day; what it says of parcels that were not asked about is left out. */
export async function askCarrier(
  parcels: CarrierRequest['parcels'],
  today: string,
): Promise<Result<CarrierResponse['parcels'], MarketError>> {
  const asked = new Set(parcels.map((p) => p.number))
  const found: CarrierResponse['parcels'] = []
  for (let from = 0; from < parcels.length; from += MOST_PARCELS) {
    const request: CarrierRequest = { today, parcels: parcels.slice(from, from + MOST_PARCELS) }
    const answer = await ask('/api/carrier/track', request, CarrierResponseSchema, 'carrier')
    if (!answer.ok) return answer
    found.push(...answer.value.parcels.filter((p) => asked.has(p.number)))
  }
  return ok(found)
}

/** What is kept where one of the stand-ins fails. */
const KEPT = { market: 'The last offers are kept', carrier: 'What was known of the parcels is kept' } as const

async function ask<S extends v.GenericSchema>(
  path: string,
  request: object,
  schema: S,
  whom: keyof typeof KEPT = 'market',
): Promise<Result<v.InferOutput<S>, MarketError>> {
  let response: Response
  try {
    response = await fetch(path, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(request),
      signal: AbortSignal.timeout(PATIENCE_MS),
    })
  } catch {
    return fail({
      code: 'offline',
      message: `The ${whom} cannot be reached. ${KEPT[whom]}; try again when it is back.`,
    })
  }
  if (!response.ok)
    return fail({
      code: 'refused',
      message: `The ${whom} refused the request (status ${response.status}). ${KEPT[whom]}.`,
    })
  const parsed = v.safeParse(schema, await bodyOf(response), { abortEarly: true })
  if (!parsed.success)
    return fail({
      code: 'unreadable',
      message: `The ${whom} gave an answer that cannot be read. ${KEPT[whom]}.`,
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
