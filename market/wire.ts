import * as v from 'valibot'

/** What goes over the wire between the app and the market stand-in; both sides validate with these schemas. */

const Count = v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(1e12))
const Text = v.pipe(v.string(), v.minLength(1), v.maxLength(400))

export const MAX_ITEMS = 4000
/** Simulated days there are. */
export const MOST_DAYS = 3650

/** Pieces asked for: the app's own item key, the part's plain name and the colour's finish tell what is meant. */
export const OffersRequestSchema = v.object({
  items: v.pipe(
    v.array(v.object({ item: Text, part: Text, finish: v.picklist(['opaque', 'clear', 'metal', 'shimmer', 'glow']) })),
    v.maxLength(MAX_ITEMS),
  ),
  currency: v.literal('EUR'),
  /** The simulated day that is asked about; the first when left out. */
  day: v.optional(v.pipe(Count, v.maxValue(MOST_DAYS)), 0),
})
export type OffersRequest = v.InferInput<typeof OffersRequestSchema>

export const WireShopSchema = v.object({
  id: Text,
  name: Text,
  country: v.pipe(v.string(), v.regex(/^[A-Z]{2}$/)),
  kind: v.picklist(['shop', 'counter']),
  minOrder: Count,
  bands: v.array(v.object({ maxMass: Count, fee: Count })),
  service: v.nullable(v.object({ threshold: Count, fee: Count })),
  handling: Count,
  lineFee: Count,
  leadDays: Count,
  reliability: v.pipe(v.number(), v.minValue(0), v.maxValue(1)),
})
export type WireShop = v.InferOutput<typeof WireShopSchema>

export const WireOfferSchema = v.object({
  shop: Text,
  item: Text,
  price: Count,
  stock: Count,
  pack: v.pipe(Count, v.minValue(1)),
  condition: v.picklist(['new', 'used', 'worn']),
})
export type WireOffer = v.InferOutput<typeof WireOfferSchema>

export const OffersResponseSchema = v.object({
  currency: v.literal('EUR'),
  /** The simulated day the answer is of. */
  day: Count,
  shops: v.array(WireShopSchema),
  offers: v.array(WireOfferSchema),
})
export type OffersResponse = v.InferOutput<typeof OffersResponseSchema>
