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
  /** What it trades in, where that is not the answer's currency. */
  currency: v.optional(v.pipe(v.string(), v.regex(/^[A-Z]{3}$/))),
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

/** Lines that a set which is asked about may have. */
export const MOST_SET_LINES = 3000

/** Sets of which copies are asked for, with what a complete one holds; some pieces belong to figures. */
export const CopiesRequestSchema = v.object({
  sets: v.pipe(
    v.array(
      v.object({
        set: Text,
        /** What a new one cost, cents; left out where that is not known. */
        retail: v.optional(Count),
        lines: v.pipe(
          v.array(v.object({ item: Text, qty: v.pipe(Count, v.maxValue(100_000)), figure: v.boolean() })),
          v.maxLength(MOST_SET_LINES),
        ),
      }),
    ),
    v.maxLength(50),
  ),
  day: v.optional(v.pipe(Count, v.maxValue(MOST_DAYS)), 0),
})
export type CopiesRequest = v.InferInput<typeof CopiesRequestSchema>

export const WireCopySchema = v.object({
  /** Unique for its set. */
  id: Text,
  set: Text,
  seller: Text,
  country: v.pipe(v.string(), v.regex(/^[A-Z]{2}$/)),
  price: Count,
  condition: v.picklist(['new', 'used', 'worn']),
  missing: v.pipe(v.array(v.object({ item: Text, qty: v.pipe(Count, v.minValue(1)) })), v.maxLength(3000)),
})
export type WireCopy = v.InferOutput<typeof WireCopySchema>

export const CopiesResponseSchema = v.object({
  currency: v.literal('EUR'),
  day: Count,
  copies: v.pipe(v.array(WireCopySchema), v.maxLength(5000)),
})
export type CopiesResponse = v.InferOutput<typeof CopiesResponseSchema>

/** A day of the calendar, ISO 8601. */
const Day = v.pipe(v.string(), v.isoDate())

/** Parcels that are asked about, by their tracking numbers, with the day on which they were handed over. */
export const CarrierRequestSchema = v.object({
  today: Day,
  parcels: v.pipe(
    v.array(
      v.object({
        number: v.pipe(Text, v.maxLength(60)),
        from: v.optional(v.pipe(v.string(), v.regex(/^[A-Z]{2}$/))),
        to: v.pipe(v.string(), v.regex(/^[A-Z]{2}$/)),
        handed: Day,
      }),
    ),
    v.maxLength(500),
  ),
})
export type CarrierRequest = v.InferOutput<typeof CarrierRequestSchema>

export const CarrierEventSchema = v.object({
  kind: v.picklist(['accepted', 'on the way', 'at customs', 'out for delivery', 'delivered', 'sent back']),
  on: Day,
  where: v.pipe(Text, v.maxLength(80)),
})
export type CarrierEvent = v.InferOutput<typeof CarrierEventSchema>

export const CarrierResponseSchema = v.object({
  parcels: v.pipe(
    v.array(
      v.object({
        number: Text,
        events: v.pipe(v.array(CarrierEventSchema), v.maxLength(50)),
        /** When it is to be delivered; nothing where that is over, or not known. */
        due: v.nullable(Day),
      }),
    ),
    v.maxLength(500),
  ),
})
export type CarrierResponse = v.InferOutput<typeof CarrierResponseSchema>
