import type { Build } from '../core/build/build.ts'
import { defaultRules } from '../core/build/house-rules.ts'
import { itemKey, type ItemKey } from '../core/catalogue/item.ts'
import { partFromName } from '../core/catalogue/part.ts'
import type { Design, Module } from '../core/design/design.ts'
import type { Copy, DonorSet } from '../core/donors/donor-set.ts'
import { colourId, type BuildId, type CopyId, type LineId, type ModuleId, type SetId } from '../core/units/ids.ts'
import { currency } from '../core/units/money.ts'

export const WINCH_HOUSE = 'b-winch-house' as BuildId

const EUR = currency('EUR')

type Row = readonly [part: string, colour: string, qty: number]

const item = (part: string, colour: string): ItemKey => itemKey(partFromName(part).id, colourId(colour))

/** Much of it the observatory lacks as well. */
const WALLS: readonly Row[] = [
  ['brick 1x6', 'Oatmeal', 8],
  ['brick 2x2', 'Chalk', 6],
  ['brick 2x4', 'Oatmeal', 6],
  ['window 1x2', 'Chalk', 4],
  ['door 1x4', 'Chalk', 1],
  ['tile 2x2', 'Hazelnut', 6],
  ['fence 1x4 with spindles', 'Hazelnut', 3],
]
const ROOF: readonly Row[] = [
  ['slope 2x4 45°', 'Rowanberry', 8],
  ['slope 2x2 45°', 'Rowanberry', 6],
  ['slope 1x2 45°', 'Peat', 10],
]
const WINCH: readonly Row[] = [
  ['gear 24 teeth', 'Brass metal', 2],
  ['bar 3 long', 'Soot', 2],
  ['round brick 4x4', 'Weathered slate', 2],
  ['plate 2x8', 'Soot', 4],
  ['plate 1x2 with rail', 'Weathered slate', 6],
]

const FIGURE = 'Lamplighter Juno'

/** A little donor: one copy pays by its pieces, a second one only if its figure sells. */
const LANTERN_SHOP = {
  Shop: [
    ['brick 1x6', 'Oatmeal', 8],
    ['brick 2x2', 'Chalk', 4],
    ['brick 2x4', 'Oatmeal', 6],
    ['slope 2x4 45°', 'Rowanberry', 8],
    ['brick 1x4', 'Hazelnut', 12],
    ['plate 4x8', 'Hazelnut', 2],
    ['tile 2x2', 'Hazelnut', 3],
    ['slope 1x2 45°', 'Peat', 10],
    ['window 1x2', 'Chalk', 3],
    ['plate 2x4', 'Birch ash', 8],
  ],
  'Lamps and bench': [
    ['accessory lantern', 'Brass metal', 4],
    ['round tile 1x1', 'Clear honey', 8],
    ['bar 3 long', 'Soot', 4],
    ['plate 1x2 with rail', 'Weathered slate', 6],
    ['tile 1x4', 'Hazelnut', 6],
  ],
} satisfies Readonly<Record<string, readonly Row[]>>
const FIGURE_PIECES: readonly (readonly [string, string])[] = [
  ['figure head smiling', 'Apricot'],
  ['figure hair bun', 'Hazelnut'],
  ['figure torso coat', 'Gentian'],
  ['figure legs plain', 'Soot'],
]

function lanternShop(): DonorSet {
  const stages = Object.keys(LANTERN_SHOP).map((name, i) => ({ id: `stage-${i + 1}`, name }))
  return {
    id: 's-lantern-shop' as SetId,
    name: 'Lantern shop',
    year: 2024,
    retail: { minor: 1299, currency: EUR },
    retires: '2026-12-31',
    note: 'Collectors ask for its lamplighter.',
    stages,
    lines: [
      ...Object.values(LANTERN_SHOP).flatMap((rows, i) =>
        rows.map(([part, colour, qty]) => ({
          stage: stages[i]?.id ?? '',
          item: item(String(part), String(colour)),
          qty: Number(qty),
          spare: false,
        })),
      ),
      ...FIGURE_PIECES.map(([part, colour]) => ({
        stage: stages[1]?.id ?? '',
        item: item(part, colour),
        qty: 1,
        spare: false,
        figure: FIGURE,
      })),
    ],
  }
}

/** Two examples that are for sale: one in a dented box, and one that was built once and lost its bars. */
const wantedCopies = (set: DonorSet): Copy[] =>
  ([1, 2] as const).map((n) => ({
    id: `y-lantern-${n}` as CopyId,
    setId: set.id,
    label: `Lantern shop, ${n === 1 ? 'in a dented box' : 'built once'}`,
    buildId: WINCH_HOUSE,
    state: 'to-buy',
    askingPrice: { minor: n === 1 ? 790 : 690, currency: EUR },
    condition: n === 1 ? 'new' : 'used',
    stages: 'all',
    spares: true,
    missing: n === 1 ? [] : [{ item: item('bar 3 long', 'Soot'), qty: 4 }],
  }))

const module = (name: string, rows: readonly Row[]): Module => ({
  id: `m-winch-${name.toLowerCase()}` as ModuleId,
  name,
  repeats: 1,
  lines: rows.map(([part, colour, qty], i) => ({
    id: `n-winch-${name.toLowerCase()}-${i}` as LineId,
    item: item(part, colour),
    qty,
  })),
})

/**
 * The demo's third build, a small one that stands beside the observatory: it wants pieces that the observatory lacks as
 * well, and is bought together with it.
 */
export function winchHouse(): {
  readonly build: Build
  readonly design: Design
  readonly set: DonorSet
  readonly copies: readonly Copy[]
} {
  const build: Build = {
    id: WINCH_HOUSE,
    name: 'Winch house at the halfway stop',
    note: 'Stands beside the observatory and hides the winch of its funicular.',
    currency: EUR,
    rules: {
      ...defaultRules,
      condition: 'used',
      maxShops: 6,
      deadlineDays: 30,
      resalePercent: 15,
      resalePrices: [{ kind: 'figure', name: FIGURE, price: 800 }],
      shipTo: 'AT',
    },
  }
  const design: Design = {
    id: WINCH_HOUSE,
    modules: [module('Walls', WALLS), module('Roof', ROOF), module('Winch', WINCH)],
  }
  const set = lanternShop()
  return { build, design, set, copies: wantedCopies(set) }
}
