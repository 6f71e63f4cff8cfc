import type { ItemKey } from '../catalogue/item.ts'
import { CONDITIONS, countedAs } from '../units/condition.ts'
import { changingInto } from '../build/exchange-rates.ts'
import type { Rules } from '../build/house-rules.ts'
import { exchanged } from '../units/exchange.ts'
import type { Offer } from './offer.ts'
import type { Shop } from './shop.ts'

export type Market = { readonly offers: readonly Offer[]; readonly shops: readonly Shop[] }

/** Whether points of compromise are weighed against prices: pieces may be bought, and spending is what counts. */
export const weighsMoney = ({ sources, aim }: Pick<Rules, 'sources' | 'aim'>): boolean =>
  sources === 'donors, shelf and shops' && aim === 'least spending'

/** The rules that say which offers count. */
export type OfferRules = Pick<Rules, 'condition' | 'unstated' | 'thirdParty' | 'shops' | 'rates'>

/**
 * Whether an offer counts for a build: money that it is reckoned in or has a rate for, the shops allowed, the worst
 * condition, other makers.
 */
export function offerFilter(shops: readonly Shop[], currency: string, rules: OfferRules): (offer: Offer) => boolean {
  const worst = CONDITIONS.indexOf(rules.condition)
  const changing = changingInto(currency, rules.rates)
  const allowed = new Set(
    shops.filter((s) => changing(s.currency) !== undefined && rules.shops[s.id] !== 'excluded').map((s) => s.id),
  )
  return ({ shop, condition, thirdParty }) =>
    allowed.has(shop) &&
    CONDITIONS.indexOf(countedAs(condition, rules.unstated)) <= worst &&
    (!thirdParty || rules.thirdParty)
}

/**
 * What offers cost in a build's money, minor units: an amount of a shop at the user's rate, rounded half up. An estimate where
 * the shop trades in other money, as its bill is changed all at once. Undefined without a rate.
 */
export function pricedAt(
  shops: readonly Pick<Shop, 'id' | 'currency'>[],
  currency: string,
  { rates }: Pick<Rules, 'rates'>,
): (shop: string, amount: number) => number | undefined {
  const changing = changingInto(currency, rates)
  const own = new Map(shops.map((s) => [s.id, s.currency === currency ? null : changing(s.currency)]))
  return (shop, amount) => {
    const rate = own.get(shop)
    return rate === null ? amount : rate === undefined ? undefined : exchanged(amount, rate)
  }
}

/** The offers that count for a build, priced in its money (`pricedAt`). */
export function usableOffers({ offers, shops }: Market, currency: string, rules: OfferRules): Offer[] {
  const counts = offerFilter(shops, currency, rules)
  const priced = pricedAt(shops, currency, rules)
  return offers.flatMap((offer) => {
    const price = counts(offer) ? priced(offer.shop, offer.price) : undefined
    return price === undefined ? [] : [price === offer.price ? offer : { ...offer, price }]
  })
}

/** The lowest price of a piece of each item, in minor units, among the offers the rules allow; goods alone (`pricedAt`). */
export function lowestPrices(
  { offers, shops }: Market,
  currency: string,
  rules: OfferRules,
): ReadonlyMap<ItemKey, number> {
  const prices = new Map<ItemKey, number>()
  for (const { item, price, stock, pack } of usableOffers({ offers, shops }, currency, rules)) {
    if (stock < pack) continue
    const before = prices.get(item)
    if (before === undefined || price < before) prices.set(item, price)
  }
  return prices
}
