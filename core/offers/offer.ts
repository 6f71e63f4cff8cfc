import * as v from 'valibot'
import { ItemKeySchema } from '../catalogue/item.ts'
import { STATED_CONDITIONS } from '../units/condition.ts'
import { ShopCount, ShopText } from './shop.ts'

/**
 * The dearest a piece may be, minor units, where offers come in from lists and markets: a million of them at that price can
 * still be added up exactly.
 */
export const MOST_PRICE = 1_000_000_000

export const OfferSchema = v.object({
  id: v.pipe(v.string(), v.minLength(1), v.maxLength(500)),
  shop: ShopText,
  item: ItemKeySchema,
  /** Per piece, minor units of the shop's currency. */
  price: ShopCount,
  stock: v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(1_000_000)),
  pack: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(10_000)),
  condition: v.picklist(STATED_CONDITIONS),
  /** True for a part not made by the maker of the sets. */
  thirdParty: v.optional(v.boolean()),
  /** Where the offer came from; a refresh of one source replaces only its own offers. */
  source: v.picklist(['market', 'file']),
})
export type Offer = v.InferOutput<typeof OfferSchema>
