import * as v from 'valibot'

import { nameKey } from '../units/ids.ts'
import { CurrencySchema } from '../units/money.ts'

export const ShopText = v.pipe(v.string(), v.minLength(1), v.maxLength(120))
export const ShopCount = v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(1e12))

/** A shop and its terms, as kept with the build's data; money in minor units of `currency`, mass in milligrams. */
export const ShopSchema = v.object({
  id: ShopText,
  name: ShopText,
  country: v.pipe(v.string(), v.regex(/^[A-Z]{2}$/)),
  kind: v.picklist(['shop', 'counter']),
  currency: CurrencySchema,
  minOrder: ShopCount,
  /** Ascending by mass, and never cheaper for a heavier parcel. */
  bands: v.pipe(
    v.array(v.object({ maxMass: ShopCount, fee: ShopCount })),
    v.check(
      (bands) =>
        bands.every(
          (b, i) => i === 0 || (b.maxMass > (bands[i - 1]?.maxMass ?? 0) && b.fee >= (bands[i - 1]?.fee ?? 0)),
        ),
      'shipping bands must ascend by mass and must not fall in price',
    ),
  ),
  /** What it asks for shipping is not known: `bands` say nothing of it. */
  shippingUnknown: v.optional(v.boolean()),
  service: v.nullable(v.object({ threshold: ShopCount, fee: ShopCount })),
  handling: ShopCount,
  lineFee: ShopCount,
  leadDays: ShopCount,
  /** Share of orders that arrive complete, 0 to 1. */
  reliability: v.pipe(v.number(), v.minValue(0), v.maxValue(1)),
  /** Its days and reliability are those of the user's own orders there: what a market says of them is left aside. */
  experienced: v.optional(v.boolean()),
})

export type Shop = v.InferOutput<typeof ShopSchema>

/** A shop's terms, as a sourcing problem states them. */
export function termsOf({
  name: _,
  country: __,
  currency: ___,
  shippingUnknown: ____,
  experienced: _____,
  ...terms
}: Shop) {
  return terms
}

/** A shop of which no terms are known yet: what it asks for shipping is unknown, the rest is nothing. */
export const unknownShop = (known: Pick<Shop, 'id' | 'name' | 'country' | 'currency'>): Shop => ({
  ...known,
  kind: 'shop',
  minOrder: 0,
  bands: [],
  shippingUnknown: true,
  service: null,
  handling: 0,
  lineFee: 0,
  leadDays: 7,
  reliability: 1,
})

/** Shops as a market tells them, but for the days and reliability that the user's own orders taught. */
export function withExperience(told: readonly Shop[], known: readonly Shop[]): Shop[] {
  const taught = new Map(known.flatMap((s) => (s.experienced === true ? [[s.id, s] as const] : [])))
  return told.map((shop) => {
    const own = taught.get(shop.id)
    return own ? { ...shop, leadDays: own.leadDays, reliability: own.reliability, experienced: true } : shop
  })
}

/** Whether a shop is the user's: of an offers file, or typed. A market has no say in those. */
export const isOwnShop = ({ id }: Pick<Shop, 'id'>): boolean => id.startsWith('file-') || id.startsWith('own-')

/** The currency of shops that trade in other money than some, by `nameKey`; not of names that one has which trades in that. */
export function shopMoney(
  shops: readonly Pick<Shop, 'name' | 'currency'>[],
  ours: string,
): ReadonlyMap<string, string> {
  const own = new Set(shops.flatMap((s) => (s.currency === ours ? [nameKey(s.name)] : [])))
  return new Map(shops.flatMap((s) => (own.has(nameKey(s.name)) ? [] : [[nameKey(s.name), s.currency] as const])))
}
