import { conversionOf } from './conversion.ts'
import { itemKey, type ItemKey } from '../core/catalogue/item.ts'
import { type Part, partFromName } from '../core/catalogue/part.ts'
import { PALETTE } from '../core/colours/palette.ts'
import type { Design } from '../core/design/design.ts'
import type { Copy, DonorSet } from '../core/donors/donor-set.ts'
import type { Records } from '../core/records/registry.ts'
import { type Build } from '../core/build/build.ts'
import { defaultRules } from '../core/build/house-rules.ts'
import type { Scenario } from '../core/build/scenario.ts'
import type { Holding } from '../core/shelf/holding.ts'
import type { Place } from '../core/shelf/place.ts'
import {
  type ScenarioId,
  colourId,
  slug,
  type BuildId,
  type CopyId,
  type HoldingId,
  type LineId,
  type ModuleId,
  type PlaceId,
  type SetId,
} from '../core/units/ids.ts'
import { currency } from '../core/units/money.ts'
import { demoParts } from './parts.ts'
import { Prng } from './prng.ts'
import { firstDraft, remixed, REMIX_PIECES } from './remix.ts'
import { addDays } from '../core/units/instants.ts'
import { settled } from './settled.ts'
import { valleyStation } from './valley.ts'
import { winchHouse } from './winch-house.ts'
import { yardKiosk } from './kiosk.ts'

export const DEMO_SEED = 1891
/** The day on which the demo's orders are told, where no other is given. */
const DEMO_DAY = '2026-11-27'
export const DEMO_BUILD = 'b-observatory' as BuildId

const EUR = currency('EUR')

/** What a module is made of: parts by name, colours, how many different items, how many pieces in one repeat. */
type ModulePlan = {
  readonly name: string
  readonly repeats: number
  readonly items: number
  readonly pieces: number
  readonly parts: readonly [string, ...string[]]
  readonly colours: readonly [string, ...string[]]
  /** Items that must be there: part, colour, quantity. */
  readonly fixed?: readonly (readonly [string, string, number])[]
}

const STONE = ['Weathered slate', 'Birch ash', 'Scree'] as const
const WALLS = [
  'brick 1x2',
  'brick 1x3',
  'brick 1x4',
  'brick 1x6',
  'brick 1x8',
  'brick 2x2',
  'brick 2x4',
  'brick 1x2 masonry',
  'brick 1x4 masonry',
] as const
const ROOF = [
  'slope 2x2 45°',
  'slope 2x3 45°',
  'slope 2x4 45°',
  'slope 1x2 45°',
  'slope 2x8 45°',
  'slope 1x2 double 45°',
] as const

const MODULES: readonly ModulePlan[] = [
  {
    name: 'Rock face',
    repeats: 1,
    items: 34,
    pieces: 150,
    parts: [
      'slope 2x2 65°',
      'slope 1x3 65°',
      'slope 2x3 65°',
      'wedge 2x4 left hand',
      'wedge 2x4 right hand',
      'wedge 4x6 left hand',
      'wedge 4x6 right hand',
      'brick 2x4',
      'brick 2x6',
      'brick 2x8',
      'inverted slope 2x2 45°',
      'inverted slope 2x4 45°',
    ],
    colours: STONE,
  },
  {
    name: 'Observatory drum',
    repeats: 1,
    items: 30,
    pieces: 150,
    parts: [
      ...WALLS,
      'round brick 2x2',
      'round brick 4x4',
      'panel 2x4 curved, 15 plates high',
      'arch 1x6, two bricks high',
      'window 1x2',
      'door 1x4',
    ],
    colours: ['Chalk', 'Oatmeal', 'Weathered slate'],
  },
  {
    name: 'Dome segment',
    repeats: 8,
    items: 9,
    pieces: 14,
    parts: [
      'wedge plate 3x8 left hand',
      'wedge plate 3x8 right hand',
      'wedge plate 2x4 left hand',
      'wedge plate 2x4 right hand',
      'slope 1x2 30°',
      'clip plate 1x2',
      'bar 4 long',
      'tile 1x4',
      'plate 1x2 with handle',
    ],
    colours: ['Pewter metal', 'Chalk'],
  },
  {
    name: 'Telescope mount',
    repeats: 1,
    items: 18,
    pieces: 42,
    parts: [
      'gear 24 teeth',
      'gear 8 teeth',
      'gear 40 teeth',
      'rod 6 long',
      'rod 4 long',
      'round brick 2x2',
      'round plate 4x4',
      'cone 2x2',
      'dome 2x2',
      'plate 4x4 turntable',
      'bracket 1x2',
      'brick 1x4 with holes',
    ],
    colours: ['Brass metal', 'Soot', 'Night sky'],
    fixed: [['accessory telescope', 'Brass metal', 1]],
  },
  {
    name: 'Track bed',
    repeats: 6,
    items: 11,
    pieces: 26,
    parts: [
      'plate 1x8 with rail',
      'plate 2x8',
      'plate 1x2 with rail',
      'tile 1x8',
      'tile 1x2 grille',
      'brick 2x8',
      'arch 1x8',
      'plate 2x4',
      'slope 1x2 45°',
    ],
    colours: ['Soot', 'Weathered slate', 'Peat'],
  },
  {
    name: 'Valley station',
    repeats: 1,
    items: 40,
    pieces: 165,
    parts: [
      ...WALLS,
      ...ROOF,
      'window 1x3',
      'window 1x4, 18 plates high',
      'door 1x3 with glass',
      'fence 1x4 with spindles',
      'tile 2x4',
      'tile 1x2 with ticket window print',
      'bracket 1x4',
    ],
    colours: ['Oatmeal', 'Rowanberry', 'Hazelnut', 'Chalk'],
    fixed: [
      ['tile 2x4 with station name print', 'Chalk', 2],
      ['tile 2x2 with clock face', 'Chalk', 1],
    ],
  },
  {
    name: 'Summit platform',
    repeats: 1,
    items: 26,
    pieces: 90,
    parts: [
      'plate 6x10',
      'plate 4x8',
      'plate 2x10',
      'plate 2x12',
      'tile 2x4',
      'tile 2x2',
      'fence 1x4',
      'fence 1x8 iron',
      'bar 3 long',
      'brick 1x2 with hole',
      'inverted slope 2x3 45°',
      'ladder 1x2',
    ],
    colours: ['Hazelnut', 'Soot', 'Birch ash'],
  },
  {
    name: 'Funicular cabin',
    repeats: 2,
    items: 24,
    pieces: 52,
    parts: [
      'panel 1x4',
      'panel 1x6',
      'window 1x2',
      'window 1x4',
      'plate 4x8',
      'plate 2x6',
      'slope 1x4 45°',
      'slope 2x4 30°',
      'wedge plate 2x6 left hand',
      'wedge plate 2x6 right hand',
      'wheel small flanged',
      'rod 4 long',
      'tile 1x6',
      'brick 1x2 with studs on one side',
    ],
    colours: ['Rowanberry', 'Chalk', 'Clear ice', 'Soot'],
    fixed: [['string 40 long', 'Soot', 1]],
  },
  {
    name: 'Pine group',
    repeats: 5,
    items: 6,
    pieces: 11,
    parts: [
      'pine tree small',
      'pine tree tall',
      'round brick 1x1',
      'plant grass tuft',
      'plate 2x2',
      'plant leaf large',
      'plant bush round',
    ],
    colours: ['Spruce', 'Peat', 'Meadow'],
  },
  {
    name: 'People and luggage',
    repeats: 1,
    items: 6,
    pieces: 10,
    parts: [
      'accessory suitcase',
      'accessory lantern',
      'accessory ticket book',
      'accessory star chart',
      'accessory walking stick',
      'accessory cup',
    ],
    colours: ['Hazelnut', 'Brass metal', 'Chalk'],
    fixed: [
      ['figure head smiling', 'Apricot', 2],
      ['figure head with beard', 'Apricot', 1],
      ['figure torso coat', 'Night sky', 2],
      ['figure torso waistcoat', 'Rowanberry', 1],
      ['figure legs plain', 'Soot', 3],
      ['figure arm left', 'Night sky', 2],
      ['figure arm right', 'Night sky', 2],
      ['figure hat flat cap', 'Soot', 1],
      ['figure hair bun', 'Peat', 1],
      ['figure hat knitted', 'Gentian', 1],
    ],
  },
]

type SetPlan = {
  readonly name: string
  readonly year: number
  readonly retail: number
  readonly retires: string
  readonly note: string
  readonly pieces: number
  readonly stages: readonly string[]
  /** Modules whose items the set is rich in. */
  readonly feeds: readonly string[]
  readonly share: number
  readonly colours: readonly [string, ...string[]]
  readonly figures: readonly (readonly [string, readonly (readonly [string, string])[]])[]
  readonly sheet: string
}

const SETS: readonly SetPlan[] = [
  {
    name: 'Tramway workshop',
    year: 2021,
    retires: '2027-03-31',
    note: 'The works tram alone is worth a copy.',
    retail: 7999,
    pieces: 780,
    stages: ['Floor and pits', 'Walls', 'Roof lights', 'Works tram'],
    feeds: ['Track bed', 'Valley station', 'Funicular cabin', 'Rock face', 'Observatory drum'],
    share: 0.62,
    colours: ['Rowanberry', 'Weathered slate', 'Soot', 'Hazelnut', 'Chalk'],
    figures: [
      [
        'Fitter Marek',
        [
          ['figure head with beard', 'Apricot'],
          ['figure hat flat cap', 'Soot'],
          ['figure torso waistcoat', 'Rowanberry'],
          ['figure legs plain', 'Soot'],
        ],
      ],
      [
        'Driver Ilse',
        [
          ['figure head smiling', 'Apricot'],
          ['figure hair bun', 'Peat'],
          ['figure torso coat', 'Night sky'],
          ['figure legs plain', 'Soot'],
          ['figure arm left', 'Night sky'],
          ['figure arm right', 'Night sky'],
        ],
      ],
    ],
    sheet: 'sticker sheet tramway',
  },
  {
    name: 'Mountain post office',
    year: 2019,
    retires: '2021-12-31',
    note: 'Bought second hand, built once.',
    retail: 4999,
    pieces: 520,
    stages: ['Ground floor', 'Upper floor', 'Roof and garden'],
    feeds: ['Valley station', 'Observatory drum', 'Summit platform', 'Pine group', 'People and luggage'],
    share: 0.58,
    colours: ['Oatmeal', 'Hazelnut', 'Spruce', 'Birch ash'],
    figures: [
      [
        'Postmistress Vera',
        [
          ['figure head smiling', 'Apricot'],
          ['figure hair long', 'Hazelnut'],
          ['figure torso jumper', 'Gentian'],
          ['figure legs skirt', 'Night sky'],
        ],
      ],
    ],
    sheet: 'sticker sheet post office',
  },
  {
    name: 'Palm glasshouse',
    year: 2022,
    retires: '2026-12-31',
    note: 'The only source of clear roof panels.',
    retail: 2999,
    pieces: 290,
    stages: ['Base', 'Glass roof'],
    feeds: ['Dome segment', 'Summit platform', 'Pine group', 'Telescope mount'],
    share: 0.55,
    colours: ['Clear ice', 'Pewter metal', 'Chalk', 'Meadow'],
    figures: [
      [
        'Gardener Anton',
        [
          ['figure head plain', 'Apricot'],
          ['figure hat knitted', 'Gentian'],
          ['figure torso plain', 'Meadow'],
          ['figure legs plain', 'Peat'],
        ],
      ],
    ],
    sheet: 'sticker sheet glasshouse',
  },
]

const item = (part: string, colour: string, decoration?: string): ItemKey =>
  itemKey(partFromName(part).id, colourId(colour), decoration)

/** Lines beside the generated ones: a stickered tile, a hose by its length. */
const ODD_LINES: Readonly<Record<string, readonly { readonly item: ItemKey; readonly qty: number }[]>> = {
  'Valley station': [{ item: item('tile 2x2', 'Chalk', 'sticker departures board'), qty: 2 }],
  'Telescope mount': [{ item: item('hose 8 long', 'Soot'), qty: 1 }],
}

/** Families of pieces that nobody sees inside these modules. */
const FILLED: Readonly<Record<string, RegExp>> = {
  'Rock face': /^p-(brick|inverted)/,
  'Track bed': /^p-(brick|plate-2)/,
}

/** Splits `total` pieces over `kinds` items, each at least one, a few plentiful. */
function quantities(random: Prng, kinds: number, total: number): number[] {
  const weights = Array.from({ length: kinds }, () => random.next() ** 2.2 + 0.05)
  const sum = weights.reduce((s, w) => s + w, 0)
  return weights.map((w) => Math.max(1, Math.round((w / sum) * total)))
}

function makeDesign(random: Prng): Design {
  return {
    id: DEMO_BUILD,
    modules: MODULES.map((plan) => {
      const lines = new Map<ItemKey, number>()
      for (const [part, colour, qty] of plan.fixed ?? []) lines.set(item(part, colour), qty)
      const fixed = [...lines.values()].reduce((s, q) => s + q, 0)
      const wanted = Math.min(plan.items, plan.parts.length * plan.colours.length)
      while (lines.size < wanted + (plan.fixed?.length ?? 0))
        lines.set(item(random.pick(plan.parts), random.pick(plan.colours)), 0)
      const free = [...lines].filter(([, q]) => q === 0).map(([key]) => key)
      const amounts = quantities(random, free.length, Math.max(free.length, plan.pieces - fixed))
      for (const [i, key] of free.entries()) lines.set(key, amounts[i] ?? 1)
      return {
        id: `m-${slug(plan.name)}` as ModuleId,
        name: plan.name,
        repeats: plan.repeats,
        lines: [...[...lines].map(([key, qty]) => ({ item: key, qty })), ...(ODD_LINES[plan.name] ?? [])].map(
          (line, i) => ({
            id: `n-${slug(plan.name)}-${i}` as LineId,
            ...line,
            ...(FILLED[plan.name]?.test(line.item) ? { visibility: 'hidden' as const } : {}),
          }),
        ),
      }
    }),
  }
}

function makeSet(random: Prng, plan: SetPlan, design: Design, parts: readonly Part[]): DonorSet {
  const stages = plan.stages.map((name) => ({ id: slug(name), name }))
  const fed = design.modules
    .filter((m) => plan.feeds.includes(m.name))
    .flatMap((m) => m.lines.map((line) => ({ item: line.item, need: line.qty * m.repeats })))
  const lines: DonorSet['lines'][number][] = []
  const stageOf = () => stages[random.int(0, stages.length - 1)]?.id ?? ''
  let pieces = 0
  for (const { item: key, need } of random.shuffle(fed)) {
    if (!random.chance(plan.share) || pieces > plan.pieces * 0.75) continue
    const qty = Math.max(1, Math.round(need * (0.4 + 0.7 * random.next())))
    if (pieces + qty > plan.pieces) continue
    pieces += qty
    lines.push({ stage: stageOf(), item: key, qty, spare: false })
  }
  const ordinary = parts.filter((p) => !/^(figure|sticker|accessory|base)/.test(p.shape.family))
  while (pieces < plan.pieces - 14) {
    const part = ordinary[random.int(0, ordinary.length - 1)]
    if (!part) break
    const qty = random.int(1, 8)
    pieces += qty
    lines.push({ stage: stageOf(), item: itemKey(part.id, colourId(random.pick(plan.colours))), qty, spare: false })
  }
  for (const [i, [figure, pieceNames]] of plan.figures.entries())
    for (const [part, colour] of pieceNames)
      lines.push({ stage: stages[i % stages.length]?.id ?? '', item: item(part, colour), qty: 1, spare: false, figure })
  lines.push({ stage: stages.at(-1)?.id ?? '', item: item(plan.sheet, 'Chalk'), qty: 1, spare: false })
  // Spares: a few of the smallest pieces, as boxes have them.
  for (const [part, colour] of [
    ['plate 1x1', plan.colours[0]],
    ['round plate 1x1', plan.colours[1] ?? plan.colours[0]],
    ['tile 1x1', plan.colours[0]],
    ['clip plate 1x1', plan.colours[2] ?? plan.colours[0]],
    ['round tile 1x1', 'Clear honey'],
    ['slope 1x1 30°', plan.colours[1] ?? plan.colours[0]],
  ] as const)
    lines.push({ stage: stageOf(), item: item(part, colour), qty: random.int(1, 2), spare: true })
  return {
    id: `s-${slug(plan.name)}` as SetId,
    name: plan.name,
    year: plan.year,
    retail: { minor: plan.retail, currency: EUR },
    retires: plan.retires,
    note: plan.note,
    stages,
    lines,
  }
}

function makeCopies(sets: readonly DonorSet[], today: string): Copy[] {
  const [tram, post, glass] = sets
  if (!tram || !post || !glass) return []
  const copy = (id: string, set: DonorSet, label: string, more: Partial<Copy> = {}): Copy => ({
    id: `y-${id}` as CopyId,
    setId: set.id,
    label,
    buildId: DEMO_BUILD,
    state: 'owned',
    stages: 'all',
    spares: true,
    missing: [],
    ...more,
  })
  const gone = tram.lines.filter((l) => !l.spare && l.figure === undefined).slice(3, 6)
  return [
    copy('tram-1', tram, 'Tramway workshop, the sealed box', {
      ...{ paid: { minor: 4490, currency: EUR }, paidOn: addDays(today, -110) },
    }),
    copy('tram-2', tram, 'Tramway workshop, half a box', {
      stages: tram.stages.slice(0, 2).map((s) => s.id),
      spares: false,
      missing: gone.map((l) => ({ item: l.item, qty: 1 })),
    }),
    copy('post-1', post, 'Post office, built once', { paid: { minor: 2800, currency: EUR } }),
    copy('glass-1', glass, 'Glasshouse'),
    copy('glass-2', glass, 'Glasshouse, offered at the flea market', {
      state: 'to-buy',
      askingPrice: { minor: 2400, currency: EUR },
    }),
  ]
}

function makeShelf(random: Prng, design: Design, parts: readonly Part[]): { places: Place[]; holdings: Holding[] } {
  const room: Place = { id: 'l-attic-room' as PlaceId, name: 'Attic room', kind: 'room', parent: null }
  const cabinets = ['A', 'B', 'C'].map((letter): Place => ({
    id: `l-cabinet-${slug(letter)}` as PlaceId,
    name: `Cabinet ${letter}`,
    kind: 'cabinet',
    parent: room.id,
  }))
  const drawers = cabinets.flatMap((cabinet) =>
    Array.from({ length: 6 }, (_, i): Place => ({
      id: `${cabinet.id}-${i + 1}` as PlaceId,
      name: `Drawer ${cabinet.name.slice(-1)}${i + 1}`,
      kind: 'drawer',
      parent: cabinet.id,
    })),
  )
  const boxes = ['Half-sorted box', 'Greenery box'].map((name): Place => ({
    id: `l-${slug(name)}` as PlaceId,
    name,
    kind: 'box',
    parent: room.id,
  }))
  const bins = [...drawers, ...boxes]
  const needed = random.shuffle(design.modules.flatMap((m) => m.lines.map((l) => l.item)))
  const chosen = new Set(needed.slice(0, Math.round(needed.length * 0.36)))
  const ordinary = parts.filter((p) => !/^(figure|sticker|base)/.test(p.shape.family))
  while (chosen.size < 300) {
    const part = ordinary[random.int(0, ordinary.length - 1)]
    const colour = PALETTE[random.int(0, PALETTE.length - 1)]
    if (part && colour) chosen.add(itemKey(part.id, colour.id))
  }
  const holdings = [...chosen].map((key, i): Holding => {
    const estimate = random.chance(0.08)
    return {
      id: `h-demo-${String(i + 1).padStart(3, '0')}` as HoldingId,
      place: bins[random.int(0, bins.length - 1)]?.id ?? room.id,
      item: key,
      qty: estimate ? random.int(2, 9) * 10 : random.int(1, 14),
      estimate,
      condition: random.pick(['new', 'used', 'used', 'used', 'worn']),
    }
  })
  const model: Place = { id: 'l-little-tram' as PlaceId, name: 'Little tram, built', kind: 'model', parent: null }
  const parcel: Place = { id: 'l-parcel' as PlaceId, name: 'Parcel from Aunt Hedwig', kind: 'post', parent: null }
  const [box] = boxes
  const more = (place: Place, rows: readonly (readonly [ItemKey, number, Partial<Holding>?])[]): Holding[] =>
    rows.map(([key, qty, rest], i) => ({
      id: `h-${slug(place.name)}-${i + 1}` as HoldingId,
      place: place.id,
      item: key,
      qty,
      estimate: false,
      condition: 'used',
      ...rest,
    }))
  const missed = [...new Set(needed.filter((key) => !chosen.has(key)))]
  return {
    places: [room, ...cabinets, ...drawers, ...boxes, model, parcel],
    holdings: [
      ...holdings,
      ...more(
        model,
        missed.slice(0, 9).map((key, i) => [key, 1 + (i % 3)] as const),
      ),
      ...more(
        parcel,
        missed.slice(9, 12).map((key) => [key, 2] as const),
      ),
      ...(box
        ? more(box, [
            [item('hose 16 long', 'Soot'), 2],
            [item('hose 8 long', 'Soot'), 1, { length: 45 }],
            [item('tile 2x2', 'Chalk'), 3],
            [item('tile 2x2', 'Chalk', 'sticker departures board'), 1],
            [item('sticker departures board', 'Chalk'), 1],
            [item('tile 2x4', 'Oatmeal', 'sticker left luggage'), 2],
            ...REMIX_PIECES,
            // Beside those in Hayfield, and hard to tell from them.
            [item('round plate 1x1', 'Buttercup'), 7],
          ])
        : []),
    ],
  }
}

/**
 * The demo's records: a mountain observatory with a funicular station, remixed from three donor sets, and beside it a
 * donor that is converted in part, a small winch house, a kiosk whose parcels are on their way, and a valley station that is
 * half built. Deterministic; the
 * dates of orders go back from `today`.
 */
export function demoRecords(
  seed = DEMO_SEED,
  today = DEMO_DAY,
): Omit<Records, 'shops' | 'offers' | 'plans' | 'pictures'> {
  const random = new Prng(seed)
  const parts = demoParts()
  const design = makeDesign(random)
  const sets = SETS.map((plan) => makeSet(random, plan, design, parts))
  const { places, holdings } = makeShelf(random, design, parts)
  const build: Build = {
    id: DEMO_BUILD,
    name: 'Mountain observatory with funicular station',
    note: 'A drum with a turning dome on the summit, a funicular down to the valley. Own design; open at the back.',
    currency: EUR,
    replaces: { name: 'Summit observatory', price: { minor: 18_990, currency: EUR } },
    rules: {
      ...defaultRules,
      colours: 'free where hidden',
      stickers: 'reused',
      altering: 'lengths',
      wornHidden: true,
      moulds: 'where hidden',
      maxShops: 8,
      deadlineDays: 45,
      resalePercent: 15,
      shipTo: 'AT',
      form: { ...defaultRules.form, back: 'open', width: 64, depth: 48, height: 120, scale: 45 },
    },
  }
  const post = sets[1]
  if (!post) throw new Error('the demo has three sets')
  const second = conversionOf(post)
  const third = winchHouse()
  const fourth = yardKiosk(today, second.build.id)
  const fifth = valleyStation(today)
  return {
    parts,
    colours: PALETTE,
    sets: [...sets, third.set, fourth.set, fifth.set],
    copies: [...makeCopies(sets, today), second.copy, ...third.copies, fourth.copy, fifth.copy],
    places: [...places, ...fourth.places],
    holdings: [...holdings, ...fourth.holdings],
    builds: [build, second.build, third.build, fourth.build, fifth.build],
    designs: [remixed(design), second.design, third.design, fourth.design, fifth.design],
    versions: [firstDraft(design)],
    decisions: [],
    units: fifth.units,
    makings: [fifth.making],
    ...settled(today, DEMO_BUILD),
    orders: fourth.orders,
    scenarios: [
      scenario('one-glasshouse', 'Loose instead of a second glasshouse', { copies: { 'y-glass-2': 0 } }),
      scenario('worn', 'Worn pieces will do', { rules: { condition: 'worn' } }),
      scenario('mountain-later', 'The mountain first, its trees later', {
        modules: [{ module: 'm-pine-group' as ModuleId, later: true }],
      }),
    ],
  }
}

/** Something to compare the build with. */
const scenario = (id: string, name: string, changes: Scenario['changes']): Scenario => ({
  id: `w-${id}` as ScenarioId,
  buildId: DEMO_BUILD,
  name,
  changes,
})
