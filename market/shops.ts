import { hash, pick, uniform } from './random.ts'
import type { WireShop } from './wire.ts'

export const SHOP_COUNT = 40

const COUNTRIES = ['AT', 'CH', 'CZ', 'DE', 'FR', 'IT', 'NL', 'PL'] as const

const FIRST = [
  'Larch',
  'Gable',
  'Tinker',
  'Quarry',
  'Copper',
  'Lantern',
  'Orchard',
  'Cobble',
  'Harbour',
  'Willow',
  'Kestrel',
  'Mill',
  'Juniper',
  'Saddle',
  'Anvil',
  'Thistle',
  'Beacon',
  'Canal',
  'Marble',
  'Finch',
] as const
const SECOND = ['Loft', 'Bench', 'Yard', 'Attic', 'Counter', 'Corner', 'Works', 'Drawer', 'Crate', 'Shelf'] as const

/** How a shop behaves beyond its terms: what it carries and what it asks. */
export type ShopTrait = {
  /** Share of all items it carries. */
  readonly breadth: number
  /** Its price level against the base price. */
  readonly level: number
  readonly usedShare: number
}

/** A shop, and what its money is worth: minor units for a cent. */
export type SimulatedShop = { readonly terms: WireShop; readonly trait: ShopTrait; readonly perCent: number }

/** Shops that trade in other money than the rest, cheap by it: their country, money and what of it a cent is worth. */
const ABROAD = [
  { country: 'CH', currency: 'CHF', perCent: 0.94, level: 0.62, breadth: 0.6 },
  { country: 'CH', currency: 'CHF', perCent: 0.94, level: 0.8, breadth: 0.4 },
  { country: 'CZ', currency: 'CZK', perCent: 24.6, level: 0.7, breadth: 0.5 },
] as const

/** The 40 invented shops of a seed, three that trade in other money, and the gleaners' round: odd pieces from the works' leftovers, cheap and slow. */
export function makeShops(seed: number): SimulatedShop[] {
  const names = new Set<string>()
  /** A name that no shop before has. */
  const nameOf = (i: number): string => {
    let name = ''
    for (let k = 0; name === '' || names.has(name); k++)
      name = `${pick(FIRST, seed, 'first', i, k)} ${pick(SECOND, seed, 'second', i, k)}`
    names.add(name)
    return name
  }
  const shops = Array.from({ length: SHOP_COUNT }, (_, i): SimulatedShop => {
    const name = nameOf(i)
    const u = (what: string) => uniform(seed, 'shop', i, what)
    const base = Math.round(250 + 550 * u('postage'))
    const breadth = 0.12 + 0.5 * u('breadth') ** 1.5
    return {
      terms: {
        id: `shop-${String(i + 1).padStart(2, '0')}`,
        name,
        country: COUNTRIES[i % COUNTRIES.length] ?? 'AT',
        kind: 'shop',
        minOrder: [0, 0, 0, 300, 500, 800, 1000, 1500][hash(seed, i, 'minimum') % 8] ?? 0,
        bands: [100, 250, 500, 1000, 2000, 5000].map((grams, k) => ({
          maxMass: grams * 1000,
          fee: Math.round(base * (1 + 0.42 * k + 0.1 * u(`band${k}`))),
        })),
        service: null,
        handling: u('handling') < 0.3 ? Math.round(30 + 70 * u('handling amount')) : 0,
        lineFee: u('line') < 0.1 ? 2 : 0,
        leadDays: Math.round(2 + 14 * u('lead') ** 2),
        reliability: Math.round((0.9 + 0.099 * u('reliability')) * 1000) / 1000,
      },
      trait: { breadth, level: 0.8 + 0.55 * u('level'), usedShare: u('used') < 0.5 ? 0.15 : 0.5 },
      perCent: 1,
    }
  })
  const counter: SimulatedShop = {
    terms: {
      id: 'counter',
      name: 'Gleaners’ round',
      country: 'NL',
      kind: 'counter',
      minOrder: 0,
      bands: [],
      service: { threshold: 2500, fee: 600 },
      handling: 0,
      lineFee: 0,
      leadDays: Math.round(30 + 30 * uniform(seed, 'counter', 'lead')),
      reliability: 0.99,
    },
    trait: { breadth: 1 / 3, level: 0.7, usedShare: 0 },
    perCent: 1,
  }
  const abroad = ABROAD.map(({ country, currency, perCent, level, breadth }, n): SimulatedShop => {
    const i = SHOP_COUNT + n
    const u = (what: string) => uniform(seed, 'shop', i, what)
    const name = nameOf(i)
    const money = (cents: number) => Math.round(cents * perCent)
    return {
      terms: {
        ...{ id: `shop-${i + 1}`, name, country, currency, kind: 'shop', service: null, lineFee: 0 },
        minOrder: money(500 * Math.floor(3 * u('minimum'))),
        bands: [250, 1000, 2000, 5000].map((grams, k) => ({
          maxMass: grams * 1000,
          fee: money(590 + 150 * k + 200 * u('postage')),
        })),
        handling: 0,
        leadDays: Math.round(5 + 6 * u('lead')),
        reliability: Math.round((0.9 + 0.099 * u('reliability')) * 1000) / 1000,
      },
      trait: { breadth, level, usedShare: 0.15 },
      perCent,
    }
  })
  return [...shops, ...abroad, counter]
}
