import type { Build } from '../core/build/build.ts'
import { defaultRules } from '../core/build/house-rules.ts'
import { itemKey, type ItemKey } from '../core/catalogue/item.ts'
import { partFromName } from '../core/catalogue/part.ts'
import type { Design, DesignLine, Module } from '../core/design/design.ts'
import { explode } from '../core/design/explode.ts'
import type { Copy, DonorSet } from '../core/donors/donor-set.ts'
import { keepStage, standing, takeOff } from '../core/making/conversion.ts'
import type { Making } from '../core/making/making.ts'
import { putIn } from '../core/making/put-in.ts'
import { takesFor } from '../core/making/takes.ts'
import { newUnit, type Unit, type WorkTime } from '../core/making/unit.ts'
import { needOf, worksOf, type Work } from '../core/making/works.ts'
import { addDays } from '../core/units/instants.ts'
import { colourId, type BuildId, type CopyId, type LineId, type ModuleId, type SetId } from '../core/units/ids.ts'
import { currency } from '../core/units/money.ts'

const VALLEY = 'b-valley-station' as BuildId
const EUR = currency('EUR')
const item = (part: string, colour: string): ItemKey => itemKey(partFromName(part).id, colourId(colour))

const PIECES = {
  slab: item('plate 6x12', 'Scree'),
  edge: item('plate 1x8', 'Weathered slate'),
  paving: item('tile 2x4', 'Scree'),
  wall: item('brick 1x4', 'Oatmeal'),
  stone: item('brick 1x2', 'Oatmeal'),
  window: item('window 1x2', 'Chalk'),
  door: item('door 1x4', 'Foxglove'),
  band: item('tile 1x2', 'Hayfield'),
  stripe: item('tile 1x2', 'Buttercup'),
  slope: item('slope 2x4 45°', 'Foxglove'),
  ridge: item('tile 1x4', 'Foxglove'),
  gutter: item('plate 1x4', 'Weathered slate'),
  post: item('bar 6 long', 'Pewter metal'),
  shade: item('plate 2x8', 'Foxglove'),
  pane: item('panel 1x4', 'Clear ice'),
  side: item('brick 1x6', 'Foxglove'),
  chassis: item('plate 4x8', 'Weathered slate'),
  lamp: item('round plate 1x1', 'Clear honey'),
  bench: item('tile 1x6', 'Hazelnut'),
  board: itemKey(partFromName('tile 2x2').id, colourId('Chalk'), 'sticker departures board'),
} as const
type Piece = keyof typeof PIECES
type Row = readonly [Piece, number, Partial<DesignLine>?]

const STAGES: readonly (readonly [string, string, readonly (readonly [Piece, number])[]])[] = [
  [
    'platform',
    'Platform',
    [
      ['slab', 4],
      ['edge', 8],
      ['paving', 12],
      ['lamp', 10],
      ['bench', 4],
    ],
  ],
  [
    'hall',
    'Waiting hall',
    [
      ['wall', 22],
      ['stone', 14],
      ['window', 8],
      ['door', 2],
      ['band', 12],
      ['board', 1],
    ],
  ],
  [
    'roof',
    'Roof',
    [
      ['slope', 16],
      ['ridge', 6],
      ['gutter', 10],
      ['shade', 6],
      ['post', 8],
    ],
  ],
  [
    'car',
    'Parked car',
    [
      ['chassis', 2],
      ['side', 12],
      ['pane', 10],
      ['stripe', 14],
      ['lamp', 6],
    ],
  ],
]

/** A small donor that stands built. */
const HALT: DonorSet = {
  id: 's-cable-railway-halt' as SetId,
  name: 'Cable railway halt',
  year: 2022,
  retail: { minor: 4499, currency: EUR },
  stages: STAGES.map(([id, name]) => ({ id, name })),
  lines: STAGES.flatMap(([stage, , rows]) =>
    rows.map(([piece, qty]) => ({ stage, item: PIECES[piece], qty, spare: false })),
  ),
}

const COPY: Copy = {
  id: 'y-halt-1' as CopyId,
  setId: HALT.id,
  label: `${HALT.name}, standing built`,
  buildId: VALLEY,
  state: 'gift',
  condition: 'used',
  stages: 'all',
  spares: false,
  // One of the stones was not found.
  missing: [{ item: PIECES.stone, qty: 1 }],
}

function module(id: string, name: string, rows: readonly Row[], more: Partial<Module> = {}): Module {
  return {
    id: `m-valley-${id}` as ModuleId,
    name,
    repeats: 1,
    lines: rows.map(([piece, qty, line]) => ({
      id: `n-valley-${id}-${piece}` as LineId,
      item: PIECES[piece],
      qty,
      ...line,
    })),
    ...more,
  }
}

/** A module that begins as a stage of the donor: what it held, and what it is to have. */
const fromStage = (stage: string, name: string, rows: readonly Row[], more: Partial<Module> = {}): Module =>
  module(stage, name, rows, {
    origin: {
      kind: 'donor',
      set: HALT.id,
      stage,
      name: `${HALT.name}, ${STAGES.find(([id]) => id === stage)?.[1] ?? stage}`,
      contents: (STAGES.find(([id]) => id === stage)?.[2] ?? []).map(([piece, qty]) => ({ item: PIECES[piece], qty })),
    },
    ...more,
  })

const MODULES: readonly Module[] = [
  fromStage('platform', 'Platform', [
    ['slab', 4],
    ['edge', 4],
    ['paving', 8],
    ['lamp', 4],
  ]),
  fromStage('hall', 'Valley station', [
    ['wall', 18],
    ['stone', 14],
    ['window', 6],
    ['door', 1],
    ['band', 12],
    ['board', 1, { use: 'applied', moment: 'attach last' }],
  ]),
  fromStage(
    'roof',
    'Station roof',
    [
      ['slope', 16],
      ['ridge', 4],
      ['gutter', 6],
    ],
    { change: 'turned' },
  ),
  module('cabin', 'Funicular cabin', [
    ['chassis', 1],
    ['side', 6],
    ['pane', 6],
    ['stripe', 8],
    ['lamp', 2, { note: 'both face downhill' }],
    ['bench', 2, { moment: 'before closing' }],
  ]),
  module(
    'canopy',
    'Canopy bay',
    [
      ['post', 2],
      ['shade', 1],
      ['gutter', 1],
      ['lamp', 1],
    ],
    { repeats: 4 },
  ),
  module('sign', 'Sign on the road', [
    ['stripe', 6],
    ['window', 2],
    ['edge', 2],
  ]),
]

/** Minutes from one time of a day to another, some days before the demo is loaded. */
const time = (id: string, day: string, from: string, to: string, kind: WorkTime['kind'] = 'building'): WorkTime => ({
  id: `t-valley-${id}`,
  kind,
  from: `${day}T${from}:00.000Z`,
  to: `${day}T${to}:00.000Z`,
})

/**
 * The demo's fifth build: a valley station, half built out of a donor that stands. The cabin is finished, one try failed, one
 * stone is missing, one swap shows in what is left, and a sticker was put off. Times go back from `today`.
 */
export function valleyStation(today: string): {
  readonly build: Build
  readonly design: Design
  readonly set: DonorSet
  readonly copy: Copy
  readonly units: readonly Unit[]
  readonly making: Making
} {
  const design: Design = { id: VALLEY, modules: [...MODULES] }
  const works = worksOf(design, explode(design))
  const table = { copy: standing(COPY, HALT), units: new Map<string, Unit>() }
  const stock = () => ({ holdings: [], copies: [table.copy], sets: [HALT], places: [] })
  const workOf = (id: string): Work => {
    const work = works.find((w) => w.module.id === `m-valley-${id}`)
    if (!work) throw new Error(`the valley station has no ${id}`)
    return work
  }
  const unitAt = (work: Work, repeat: number) =>
    table.units.get(`${work.key} ${repeat}`) ?? newUnit(VALLEY, work.path, repeat)
  const keep = (work: Work, unit: Unit, copies: readonly Copy[]) => {
    table.units.set(`${work.key} ${unit.repeat}`, unit)
    table.copy = copies[0] ?? table.copy
  }
  /** Puts all pieces of a repeat in that the copy has. */
  const build = (id: string, repeat: number) => {
    const work = workOf(id)
    for (const line of work.lines) {
      const open = needOf(work, line, repeat)
      const { groups } = takesFor(VALLEY, line.item, open, [], stock())
      const put = groups.length > 0 ? putIn(unitAt(work, repeat), line.line, open, groups, stock()) : undefined
      if (put?.ok) keep(work, put.value.units[0] ?? unitAt(work, repeat), put.value.copies)
    }
  }
  const change = (id: string, repeat: number, more: Partial<Unit>) => {
    const work = workOf(id)
    keep(work, { ...unitAt(work, repeat), ...more }, [table.copy])
  }
  for (const stage of ['platform', 'hall']) {
    const kept = keepStage(unitAt(workOf(stage), 1), workOf(stage), table.copy, HALT, stage, stock())
    if (kept.ok) keep(workOf(stage), kept.value.units[0] ?? unitAt(workOf(stage), 1), kept.value.copies)
  }
  const off = (stage: string, pieces: readonly (readonly [Piece, number])[]) => {
    for (const [piece, qty] of pieces) {
      const next = takeOff(table.copy, HALT, stage, PIECES[piece], qty)
      if (next.ok) table.copy = next.value
    }
  }
  off('platform', [
    ['edge', 4],
    ['paving', 4],
    ['lamp', 6],
    ['bench', 4],
  ])
  off('hall', [
    ['window', 2],
    ['door', 1],
  ])
  off('car', [
    ['chassis', 2],
    ['side', 12],
    ['pane', 10],
    ['stripe', 14],
    ['lamp', 6],
  ])
  off('roof', [
    ['post', 8],
    ['shade', 6],
    ['gutter', 4],
  ])
  build('cabin', 1)
  build('canopy', 1)
  build('canopy', 2)
  const [first, second] = [addDays(today, -6), addDays(today, -3)]
  change('cabin', 1, {
    times: [time('cabin-design', first, '14:00', '15:10', 'designing'), time('cabin', first, '15:10', '15:31')],
  })
  change('canopy', 1, { times: [time('canopy-1', second, '10:00', '10:05')] })
  change('canopy', 2, { times: [time('canopy-2', second, '10:06', '10:10')] })
  change('canopy', 3, {
    exceptions: [
      {
        id: 'e-valley-1',
        kind: 'failed',
        on: second,
        qty: 5,
        minutes: 35,
        note: 'Hung from the hall alone it tipped forward: it needs both posts.',
      },
    ],
  })
  const stripes = 14 - 8
  return {
    build: {
      id: VALLEY,
      name: 'Valley station from a cable railway halt',
      note: 'The donor stands on the table and is changed stage by stage; its parked car gives the cabin.',
      currency: EUR,
      rules: { ...defaultRules, sources: 'donors', condition: 'worn' },
    },
    design,
    set: HALT,
    copy: table.copy,
    units: [...table.units.values()],
    making: {
      id: VALLEY,
      people: 1,
      fetched: [],
      sorts: [{ id: 'o-valley-1', on: first, person: 'me', pieces: 190, minutes: 8, piles: 12 }],
      stickers: [
        {
          id: 'k-valley-1',
          name: 'departures board',
          of: PIECES.board,
          state: 'put off',
          line: 'n-valley-hall-board' as LineId,
          note: 'when the hall is closed and the hands are clean',
        },
        { id: 'k-valley-2', name: 'line number', state: 'spare', condition: 'new' },
      ],
      checks: [
        { id: 'c-valley-1', kind: 'count', text: 'six windows towards the rails', state: 'as shown' },
        {
          id: 'c-valley-2',
          kind: 'side',
          text: 'one door, on the road side',
          state: 'departs',
          note: 'the road is behind it here',
        },
        { id: 'c-valley-3', kind: 'position', text: 'canopy over the whole platform', state: 'open' },
      ],
      // One stripe of the cabin went in where a band of the hall belongs.
      counted: [
        { item: PIECES.band, qty: 1 },
        { item: PIECES.stripe, qty: stripes - 1 },
      ],
    },
  }
}
