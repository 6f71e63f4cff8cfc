import * as v from 'valibot'
import type { ItemKey } from '../catalogue/item.ts'
import { ok, refuse, type Fault, type Result } from '../units/result.ts'
import { MOST_PRICE, OfferSchema, type Offer } from '../offers/offer.ts'
import { isOwnShop, ShopSchema, type Shop } from '../offers/shop.ts'
import { unfitWords } from '../records/unfit-words.ts'

/** Shops that a market may name in one answer, and offers for each item asked. */
const MOST_SHOPS = 300
const MOST_OFFERS_AN_ITEM = 400
/** Control signs, and those that turn the direction of writing around: no name needs them. */
// eslint-disable-next-line no-control-regex
export const ODD_SIGNS = /[\u0000-\u001f\u007f-\u009f\u200b-\u200f\u202a-\u202e\u2060-\u2069\ufeff]/
const SAFE_SUM = Number.MAX_SAFE_INTEGER / 1000

/** Why a market's answer is not taken. */
export type AnswerFault =
  'too many' | 'form' | 'name' | 'repeated id' | 'taken id' | 'unknown shop' | 'not asked for' | 'absurd amount'

type Wire = {
  readonly shops: readonly Omit<Shop, 'currency'>[]
  readonly offers: readonly Omit<Offer, 'id' | 'source' | 'item'>[]
}
type WireOffer = Wire['offers'][number] & { readonly item: string }

/**
 * A market's answer as records, or why none of it is taken: what comes from outside may be well formed and still absurd.
 * Everything fits the schemas of records, offers answer what was asked, prices and fees are such as can be paid and added
 * up, and no shop takes the place of one that came from elsewhere (`taken`: ids of shops the user has of own lists).
 */
export function acceptMarketAnswer(
  answer: Pick<Wire, 'shops'> & { readonly offers: readonly WireOffer[] },
  asked: ReadonlySet<ItemKey>,
  currency: Shop['currency'],
  taken: ReadonlySet<string>,
): Result<{ readonly shops: readonly Shop[]; readonly offers: readonly Offer[] }, Fault<AnswerFault>> {
  if (answer.shops.length > MOST_SHOPS) return refuse('too many', `it names ${answer.shops.length} shops`)
  if (answer.offers.length > asked.size * MOST_OFFERS_AN_ITEM)
    return refuse('too many', `it makes ${answer.offers.length} offers for ${asked.size} items`)
  const shops = new Map<string, Shop>()
  for (const wire of answer.shops) {
    const parsed = v.safeParse(ShopSchema, { currency, ...wire }, { abortEarly: true })
    if (!parsed.success) return refuse('form', words(unfitWords('shops', wire, parsed.issues[0])))
    const shop = parsed.output
    const called = `“${shop.name.slice(0, 60)}”`
    if (ODD_SIGNS.test(shop.name) || shop.name.trim() === '')
      return refuse('name', 'a shop has a name that cannot be shown')
    if (shops.has(shop.id)) return refuse('repeated id', `two shops have the id of ${called}`)
    if (taken.has(shop.id) || isOwnShop(shop)) return refuse('taken id', `${called} takes the place of a shop of yours`)
    const fees = [shop.minOrder, shop.handling, shop.lineFee, shop.service?.fee ?? 0, ...shop.bands.map((b) => b.fee)]
    if (fees.some((fee) => fee > MOST_PRICE)) return refuse('absurd amount', `${called} asks for fees that nobody pays`)
    shops.set(shop.id, shop)
  }
  const offers = new Map<string, Offer>()
  let sum = 0
  for (const wire of answer.offers) {
    if (!asked.has(wire.item as ItemKey)) return refuse('not asked for', 'it offers items that were not asked for')
    if (!shops.has(wire.shop)) return refuse('unknown shop', 'an offer is of a shop that it does not name')
    const id = `market:${wire.shop}:${wire.item}`
    const parsed = v.safeParse(OfferSchema, { ...wire, id, source: 'market' }, { abortEarly: true })
    if (!parsed.success) return refuse('form', words(unfitWords('offers', wire, parsed.issues[0])))
    if (parsed.output.price > MOST_PRICE) return refuse('absurd amount', 'an offer has a price that nobody pays')
    if (offers.has(id)) return refuse('repeated id', 'a shop offers one item twice')
    sum += parsed.output.price * parsed.output.stock
    if (sum > SAFE_SUM) return refuse('absurd amount', 'its prices and stocks cannot be added up exactly')
    offers.set(id, parsed.output)
  }
  return ok({ shops: [...shops.values()], offers: [...offers.values()] })
}

const words = (sentence: string): string => sentence.charAt(0).toLowerCase() + sentence.slice(1).replace(/\.$/, '')
