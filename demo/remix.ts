import { itemKey, type ItemKey } from '../core/catalogue/item.ts'
import { partFromName } from '../core/catalogue/part.ts'
import type { Colourway, Design, DesignLine, Module, Slot } from '../core/design/design.ts'
import type { DesignVersion } from '../core/design/version.ts'
import type { Holding } from '../core/shelf/holding.ts'
import { colourId, slug, type LineId, type ModuleId, type VersionId } from '../core/units/ids.ts'

const item = (part: string, colour: string, decoration?: string): ItemKey =>
  itemKey(partFromName(part).id, colourId(colour), decoration)
const idOf = (name: string) => `m-${slug(name)}` as ModuleId

type LinePlan = readonly [part: string, colour: string, qty: number, more?: Partial<DesignLine>]

const module = (name: string, repeats: number, lines: readonly LinePlan[], more: Partial<Module> = {}): Module => ({
  id: idOf(name),
  name,
  repeats,
  lines: lines.map(([part, colour, qty, rest], i) => ({
    id: `n-${slug(name)}-${i}` as LineId,
    item: item(part, colour),
    qty,
    ...rest,
  })),
  ...more,
})

const form = (width: number, depth: number, height: number, stacked = false): Pick<Module, 'form'> => ({
  form: { width, depth, height, stacked },
})

const figure = (
  name: string,
  slots: readonly (readonly [Slot, string, string, Partial<DesignLine>?])[],
  more: Partial<Module> = {},
): Module =>
  module(
    name,
    1,
    slots.map(([slot, part, colour, rest]): LinePlan => [part, colour, 1, { slot, ...rest }]),
    { figure: true, ...more },
  )

const PALETTE = ['Pewter metal', 'Chalk', 'Birch ash', 'Soot'].map(colourId)
const or = (...items: readonly ItemKey[]): Pick<DesignLine, 'instead'> => ({
  instead: items.map((i) => [{ item: i, qty: 1 }]),
})

/** What the remix adds to the plain design: everything a design can say, each once. */
const ADDED: readonly Module[] = [
  module(
    'Ground',
    1,
    [
      [
        'base plate 48x48',
        'Scree',
        1,
        {
          instead: [
            [
              { item: item('base plate 32x32', 'Scree'), qty: 2 },
              { item: item('plate 4x6', 'Scree'), qty: 4 },
            ],
          ],
          note: 'One large plate, or two smaller ones tied with plates.',
        },
      ],
    ],
    { note: 'Everything stands on it.' },
  ),
  module(
    'Stair wing, right',
    1,
    [
      ['wedge plate 3x6 right hand', 'Weathered slate', 4],
      ['wedge 2x4 right hand', 'Weathered slate', 3],
      ['plate 2x6', 'Weathered slate', 6],
      ['tile 1x4', 'Birch ash', 6],
      ['fence 1x4', 'Soot', 2],
    ],
    { ...form(6, 12, 18), pair: idOf('Stair wing, left') },
  ),
  module('Stair wing, left', 1, [['bar 3 long', 'Soot', 1, { note: 'The lamp post stands on this side only.' }]], {
    ...form(6, 12, 18),
    like: idOf('Stair wing, right'),
    mirrored: true,
    pair: idOf('Stair wing, right'),
  }),
  module(
    'Parapet section',
    6,
    [
      ['fence 1x4 with spindles', 'Birch ash', 1],
      ['plate 1x4', 'Birch ash', 1],
      ['brick 1x1', 'Weathered slate', 1],
      ['tile 1x4', 'Birch ash', 1],
    ],
    form(4, 1, 7),
  ),
  module(
    'Parapet end',
    2,
    [
      ['brick 1x1', 'Weathered slate', 3],
      ['round tile 1x1', 'Clear honey', 1],
    ],
    form(1, 1, 10),
  ),
  module(
    'Dome rings',
    5,
    [
      [
        'slope 1x2 30°',
        'Pewter metal',
        1,
        { steps: [14, 11, 8, 6, 3], group: 'Dome rings', palette: PALETTE, freedom: 'palette' },
      ],
      [
        'tile 1x2',
        'Pewter metal',
        1,
        { steps: [7, 6, 4, 3, 2], group: 'Dome rings', palette: PALETTE, freedom: 'palette' },
      ],
    ],
    {
      ...form(16, 16, 3, true),
      note: 'Each ring a step smaller; all rings in one colour, whichever there is most of.',
    },
  ),
  module(
    'Dome collar',
    1,
    [
      ['plate 1x4', 'Buttercup', 8, { group: 'Collar', freedom: 'near' }],
      ['round plate 1x1', 'Buttercup', 12, { group: 'Collar', freedom: 'near', low: 8, high: 20 }],
    ],
    form(16, 16, 1, true),
  ),
  module('Summit sign', 1, [
    [
      'tile 1x4',
      'Chalk',
      1,
      {
        item: item('tile 1x4', 'Chalk', 'summit 2187 m'),
        print: { vendor: 'Ahorn prints', price: 180, minRun: 4, days: 18, artwork: 'summit-sign.svg' },
      },
    ],
    ['sticker sheet tramway', 'Chalk', 1],
    ['hose 16 long', 'Soot', 1, { length: 96, note: 'Cable from the sign to the drum.' }],
  ]),
  figure('Astronomer Liv', [
    ['hair or hat', 'figure hat flat cap', 'Soot', or(item('figure hair bun', 'Peat'))],
    ['head', 'figure head two faces', 'Apricot', { meanwhile: item('figure head plain', 'Apricot') }],
    ['torso', 'figure torso coat', 'Night sky'],
    ['left arm', 'figure arm left', 'Night sky'],
    ['right arm', 'figure arm right', 'Night sky'],
    ['hips and legs', 'figure legs plain', 'Soot'],
    ['accessory', 'accessory star chart', 'Chalk'],
  ]),
  figure('Conductor Bruno', [
    ['hair or hat', 'figure hat flat cap', 'Soot'],
    ['head', 'figure head with beard', 'Apricot'],
    ['torso', 'figure torso waistcoat', 'Rowanberry'],
    ['left arm', 'figure arm left', 'Night sky'],
    ['hips and legs', 'figure legs plain', 'Soot', or(item('figure legs plain', 'Peat'))],
  ]),
  figure('Hiker Mira', [
    ['hair or hat', 'figure hat knitted', 'Gentian'],
    ['head', 'figure head smiling', 'Apricot', or(item('figure head plain', 'Apricot'))],
    ['torso', 'figure torso jumper', 'Gentian'],
    ['hips and legs', 'figure legs skirt', 'Night sky', or(item('figure legs short', 'Peat'))],
    ['accessory', 'accessory walking stick', 'Hazelnut'],
  ]),
  figure('Stationmaster Odo', [
    ['hair or hat', 'figure hat knitted', 'Gentian', or(item('figure hair short', 'Peat'))],
    ['head', 'figure head smiling', 'Apricot'],
    ['torso', 'figure torso jumper', 'Gentian'],
    ['hips and legs', 'figure legs plain', 'Soot'],
  ]),
  module(
    'Weather mast',
    1,
    [
      ['bar 4 long', 'Soot', 6],
      ['cone 1x1', 'Rowanberry', 3],
      ['clip plate 1x1', 'Soot', 4],
    ],
    { later: true, note: 'If there is room left on the platform.' },
  ),
]

const COLOURWAYS: readonly Colourway[] = [
  {
    id: 'winter',
    name: 'Winter',
    colours: [
      { from: colourId('Scree'), to: colourId('Chalk') },
      { from: colourId('Spruce'), to: colourId('Chalk') },
      { from: colourId('Birch ash'), to: colourId('Chalk') },
    ],
  },
  {
    id: 'copper',
    name: 'Red dome',
    colours: [
      { from: colourId('Pewter metal'), to: colourId('Rowanberry') },
      { from: colourId('Rowanberry'), to: colourId('Gentian'), module: idOf('Valley station') },
    ],
  },
  {
    id: 'oat',
    name: 'Oat and honey',
    colours: [
      { from: colourId('Weathered slate'), to: colourId('Oatmeal') },
      { from: colourId('Soot'), to: colourId('Hazelnut') },
    ],
  },
]

const FORMS: Readonly<Record<string, Partial<Module>>> = {
  'Rock face': { ...form(24, 16, 27), risks: [{ kind: 'heavy', state: 'accepted', note: 'Two hands to lift it.' }] },
  'Observatory drum': form(16, 16, 24, true),
  'Dome segment': {
    ...form(8, 8, 12),
    within: idOf('Observatory drum'),
    risks: [{ kind: 'overhang', state: 'open', note: 'Eight segments hang from one turntable.' }],
  },
  'Telescope mount': {
    within: idOf('Observatory drum'),
    risks: [{ kind: 'weak hinge', state: 'test built' }],
    tested: '2026-09-12',
  },
  'Track bed': form(8, 8, 4),
  'Valley station': form(20, 14, 36),
  'Summit platform': form(16, 10, 6, true),
  'Funicular cabin': {
    ...form(6, 12, 15),
    risks: [{ kind: 'joint untested', state: 'open', note: 'Wheels on a slope of 35°.' }],
  },
}

/** The plain design remixed: sizes, risks and nesting noted, and the further modules, figures and colourways. */
export function remixed(plain: Design): Design {
  const modules = plain.modules.map((m): Module => {
    const lines = m.name === 'People and luggage' ? m.lines.filter((l) => !l.item.startsWith('p-figure')) : m.lines
    return { ...m, name: m.name === 'People and luggage' ? 'Luggage' : m.name, lines, ...FORMS[m.name] }
  })
  return { ...plain, modules: [...modules, ...ADDED], colourways: [...COLOURWAYS] }
}

/** The plain design as it was kept before the remix. */
export const firstDraft = (plain: Design): DesignVersion => ({
  id: 'v-first-draft' as VersionId,
  buildId: plain.id,
  name: 'First draft',
  at: '2026-08-30T17:20:00.000Z',
  design: plain,
})

/** Loose pieces for what the remix adds. */
export const REMIX_PIECES: readonly (readonly [ItemKey, number, Partial<Holding>?])[] = [
  [item('fence 1x4 with spindles', 'Birch ash'), 9],
  [item('plate 1x4', 'Birch ash'), 14],
  [item('brick 1x1', 'Weathered slate'), 21],
  [item('tile 1x4', 'Birch ash'), 20],
  [item('slope 1x2 30°', 'Birch ash'), 38],
  [item('tile 1x2', 'Birch ash'), 18],
  [item('slope 1x2 30°', 'Pewter metal'), 12],
  [item('plate 1x4', 'Hayfield'), 8],
  [item('round plate 1x1', 'Hayfield'), 9],
  [item('wedge plate 3x6 right hand', 'Weathered slate'), 4],
  [item('wedge plate 3x6 left hand', 'Weathered slate'), 2],
  [item('plate 2x6', 'Weathered slate'), 10],
  [item('base plate 32x32', 'Scree'), 2],
  [item('plate 4x6', 'Scree'), 5],
  [item('figure head plain', 'Apricot'), 2],
  [item('figure hair short', 'Peat'), 1],
]
