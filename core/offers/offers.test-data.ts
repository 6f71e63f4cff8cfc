import type { ItemKey } from '../catalogue/item.ts'
import { currency } from '../units/money.ts'
import type { Offer } from './offer.ts'
import type { Shop } from './shop.ts'

/** A shop without fees, minimum or bands that sends from the country it is sent to. */
export const shopOf = (id: string, more: Partial<Shop> = {}): Shop => ({
  id,
  name: id,
  country: 'AT',
  kind: 'shop',
  currency: currency('EUR'),
  minOrder: 0,
  bands: [],
  service: null,
  handling: 0,
  lineFee: 0,
  leadDays: 3,
  reliability: 1,
  ...more,
})

/** New pieces of an item, one by one, from a list; its id says how it differs from the item's plain offer. */
export const offerOf = (shop: string, item: ItemKey, more: Partial<Offer> = {}): Offer => ({
  id: [shop, item, more.condition, more.thirdParty].join(' '),
  shop,
  item,
  price: 10,
  stock: 99,
  pack: 1,
  condition: 'new',
  source: 'file',
  ...more,
})
