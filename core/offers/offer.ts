import * as v from 'valibot'
import { ItemKeySchema } from '../catalogue/item.ts'
import { CONDITIONS } from '../units/condition.ts'
import { CurrencySchema } from '../units/money.ts'

const Count = v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(1e12))
const Text = v.pipe(v.string(), v.minLength(1), v.maxLength(120))

/**
 * The dearest a piece may be, minor units, where offers come in from lists and markets: a million of them at that price can
 * still be added up exactly.
 */
export const MOST_PRICE = 1_000_000_000

/** A shop and its terms, as kept with the build's data; money in minor units of `currency`, mass in milligrams. */
export const ShopSchema = v.object({
  id: Text,
  name: Text,
  country: v.pipe(v.string(), v.regex(/^[A-Z]{2}$/)),
  kind: v.picklist(['shop', 'counter']),
  currency: CurrencySchema,
  minOrder: Count,
  /** Ascending by mass, and never cheaper for a heavier parcel. */
  bands: v.pipe(
    v.array(v.object({ maxMass: Count, fee: Count })),
    v.check(
      (bands) =>
        bands.every(
          (b, i) => i === 0 || (b.maxMass > (bands[i - 1]?.maxMass ?? 0) && b.fee >= (bands[i - 1]?.fee ?? 0)),
        ),
      'shipping bands must ascend by mass and must not fall in price',
    ),
  ),
  service: v.nullable(v.object({ threshold: Count, fee: Count })),
  handling: Count,
  lineFee: Count,
  leadDays: Count,
  /** Share of orders that arrive complete, 0 to 1. */
  reliability: v.pipe(v.number(), v.minValue(0), v.maxValue(1)),
})
export type Shop = v.InferOutput<typeof ShopSchema>

/** A shop's terms, as a sourcing problem states them. */
export function termsOf({ name: _name, country: _country, currency: _currency, ...terms }: Shop) {
  return terms
}

export const OfferSchema = v.object({
  id: v.pipe(v.string(), v.minLength(1), v.maxLength(500)),
  shop: Text,
  item: ItemKeySchema,
  /** Per piece, minor units of the shop's currency. */
  price: Count,
  stock: v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(1_000_000)),
  pack: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(10_000)),
  condition: v.picklist(CONDITIONS),
  /** True for a part not made by the maker of the sets. */
  thirdParty: v.optional(v.boolean()),
  /** Where the offer came from; a refresh of one source replaces only its own offers. */
  source: v.picklist(['market', 'file']),
})
export type Offer = v.InferOutput<typeof OfferSchema>
