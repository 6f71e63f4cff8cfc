/** Job files that mean harm or are merely absurd, made when asked for: by name, what is odd, and the text. */
export type HostileJob = { readonly name: string; readonly text: () => string }

/** Kinds of records that a job file holds. */
export const KINDS = [
  'parts',
  'colours',
  'sets',
  'copies',
  'places',
  'holdings',
  'builds',
  'designs',
  'shops',
  'offers',
  'plans',
  'versions',
  'pictures',
  'decisions',
  'scenarios',
  'orders',
  'units',
  'makings',
  'entries',
  'sales',
  'notes',
] as const
const AT = '2026-01-01T00:00:00.000Z'
type Fields = Record<string, unknown>

export const job = (over: Fields): string =>
  JSON.stringify({
    format: 'unfinished-brick-job',
    version: 1,
    savedAt: AT,
    ...Object.fromEntries(KINDS.map((kind) => [kind, []])),
    setAside: [],
    ...over,
  })

const RULES = {
  sources: 'donors, shelf and shops',
  condition: 'used',
  estimatePercent: 75,
  maxShops: null,
  deadlineDays: null,
  shops: {},
  resalePercent: 0,
  shipTo: 'AT',
}
const ITEM = 'p-plate-2x4|c-soot'
export const build = (id = 'b-1', over: Fields = {}): Fields => ({
  id,
  name: `Build ${id.slice(2)}`,
  note: '',
  currency: 'EUR',
  rules: RULES,
  ...over,
})
export const line = (id: string, over: Fields = {}): Fields => ({ id: `n-${id}`, item: ITEM, qty: 1, ...over })
export const module = (id: string, over: Fields = {}): Fields => ({
  id: `m-${id}`,
  name: `Module ${id}`,
  repeats: 1,
  lines: [line(id)],
  ...over,
})
/** A build with one design of these modules. */
export const designed = (modules: readonly Fields[], over: Fields = {}): Fields => ({
  builds: [build()],
  designs: [{ id: 'b-1', modules, ...over }],
})
const many = <T>(n: number, make: (i: number) => T): T[] => Array.from({ length: n }, (_, i) => make(i))

/** An order that is on its way, of so many lines. */
const order = (id: string, lines = 1): Fields => ({
  id: `r-${id}`,
  number: 1,
  seller: { name: 'x'.repeat(100) },
  builds: ['b-1'],
  currency: 'EUR',
  home: 'EUR',
  lines: Array.from({ length: lines }, (_, i) => ({
    id: `${i}`,
    item: ITEM,
    qty: 1_000_000,
    price: 1_000_000,
    condition: 'new',
    for: [{ build: 'b-1', qty: 1_000_000 }],
  })),
  copies: [],
  history: [{ state: 'placed', on: '0001-01-01' }],
  leadDays: 2000,
  bookings: 0,
  claims: [],
})

/** A repeat that is being built, of so many kinds of pieces. */
const unit = (id: string, pieces: number): Fields => ({
  id: `u-${id}`,
  build: 'b-1',
  path: ['m-1'],
  repeat: 1,
  put: Array.from({ length: pieces }, (_, i) => ({
    line: `n-${i}`,
    item: ITEM,
    qty: 1_000_000,
    covers: 1_000_000,
    from: { kind: 'found' },
    condition: 'new',
  })),
  leftOut: [],
  exceptions: [],
  times: [],
})

/** The plainest record of each kind, for spoiling field by field. */
const PLAIN: Readonly<Record<string, Fields>> = {
  parts: {
    id: 'p-plate-2x4',
    name: 'plate 2x4',
    shape: { family: 'plate', width: 2, length: 4, height: 1, hand: 'none', mass: 1000 },
    aliases: ['x=1'],
  },
  colours: { id: 'c-soot', name: 'Soot', finish: 'opaque', hex: '#222222', aliases: [] },
  sets: {
    id: 's-1',
    name: 'Hut',
    stages: [{ id: 'a', name: 'A' }],
    lines: [{ stage: 'a', item: ITEM, qty: 1, spare: false }],
  },
  copies: {
    id: 'y-1',
    setId: 's-1',
    label: 'One',
    buildId: 'b-1',
    state: 'owned',
    stages: 'all',
    spares: true,
    missing: [],
  },
  places: { id: 'l-1', name: 'Bin', kind: 'bin', parent: null },
  holdings: { id: 'h-1', place: 'l-1', item: ITEM, qty: 1, estimate: false, condition: 'used' },
  builds: build(),
  designs: { id: 'b-1', modules: [module('1')] },
  shops: {
    id: 'a',
    name: 'A',
    country: 'AT',
    kind: 'shop',
    currency: 'EUR',
    minOrder: 0,
    bands: [],
    service: null,
    handling: 0,
    lineFee: 0,
    leadDays: 1,
    reliability: 1,
  },
  offers: { id: 'o', shop: 'a', item: ITEM, price: 5, stock: 9, pack: 1, condition: 'new', source: 'file' },
  versions: { id: 'v-1', buildId: 'b-1', name: 'First', at: AT, design: { id: 'b-1', modules: [] } },
  pictures: { id: 'i-1', name: 'a', data: 'data:image/png;base64,iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJ' },
  decisions: {
    id: 'd-1',
    build: 'b-1',
    what: { kind: 'own', part: 'p-plate-2x4', uses: [{ part: 'p-plate-2x2', qty: 2 }], points: 1 },
  },
  scenarios: { id: 'w-1', buildId: 'b-1', name: 'Later', changes: {} },
  orders: order('1'),
  units: unit('1', 1),
  makings: { id: 'b-1', fetched: [], sorts: [], stickers: [], checks: [], counted: [] },
  entries: {
    ...{ id: 'e-1', build: 'b-1', on: '2026-01-01', category: 'other', text: 'Hose' },
    amount: { minor: 100, currency: 'EUR' },
  },
  sales: {
    ...{ id: 'z-1', build: 'b-1', title: 'Plates', way: 'price', currency: 'EUR' },
    lots: [{ item: ITEM, qty: 1, from: { kind: 'found' }, condition: 'used' }],
    history: [{ state: 'listed', on: '2026-01-01' }],
  },
  notes: { id: 'k-1', build: 'b-1', on: '2026-01-01', kind: 'note', text: 'Held.' },
}
const TEXTS: Readonly<Record<string, string>> = {
  parts: 'name',
  colours: 'name',
  sets: 'name',
  copies: 'label',
  places: 'name',
  builds: 'note',
  shops: 'name',
  versions: 'name',
  pictures: 'name',
  scenarios: 'name',
  orders: 'note',
  units: 'id',
  entries: 'text',
  sales: 'title',
  notes: 'text',
}
const NUMBERS: Readonly<Record<string, string>> = { holdings: 'qty', shops: 'minOrder', offers: 'price' }

/** A PNG's first bytes with a size of its own saying (ISO/IEC 15948). */
function pngOf(width: number, height: number): string {
  const bytes = new Uint8Array(33)
  bytes.set([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 0, 0, 0, 13, 0x49, 0x48, 0x44, 0x52])
  new DataView(bytes.buffer).setUint32(16, width)
  new DataView(bytes.buffer).setUint32(20, height)
  return `data:image/png;base64,${Buffer.from(bytes).toString('base64')}`
}

/** Each module the same as the one before, twice: places of lines double with each. */
const doubling = (n: number): Fields[] => [
  module('0'),
  ...many(n, (i) => [
    module(`a${i}`, { like: i === 0 ? 'm-0' : `m-b${i - 1}`, lines: [] }),
    module(`b${i}`, { lines: [], like: `m-a${i}` }),
    module(`c${i}`, { lines: [], within: `m-b${i}`, like: `m-a${i}` }),
  ]).flat(),
]
const chain = (n: number, by: 'within' | 'like'): Fields[] =>
  many(n, (i) => module(String(i), i === 0 ? {} : { [by]: `m-${i - 1}` }))
const long = 'x'.repeat(100_000)

const raw = (name: string, text: () => string): HostileJob => ({ name, text })
const of = (name: string, over: () => Fields): HostileJob => ({ name, text: () => job(over()) })

export const HOSTILE_JOBS: readonly HostileJob[] = [
  ...[8, 12, 14, 16, 20, 40, 200].map((n) => of(`${n} modules doubling`, () => designed(doubling(n)))),
  ...[60, 61, 500, 999, 3000].flatMap((n) =>
    (['within', 'like'] as const).map((by) => of(`modules ${by} one another ${n} deep`, () => designed(chain(n, by)))),
  ),
  of('a module within itself', () => designed([module('1', { within: 'm-1' })])),
  of('two modules the same as each other', () =>
    designed([module('1', { like: 'm-2' }), module('2', { like: 'm-1' })]),
  ),
  of('a circle of a hundred modules', () =>
    designed(many(100, (i) => module(String(i), { within: `m-${(i + 1) % 100}` }))),
  ),
  of('six hundred modules', () => designed(many(600, (i) => module(String(i))))),
  of('ten thousand modules', () => designed(many(10_000, (i) => module(String(i))))),
  of('fifty thousand lines in one module', () =>
    designed([module('1', { lines: many(49_990, (i) => line(String(i))) })]),
  ),
  of('two hundred thousand lines in one module', () =>
    designed([module('1', { lines: many(200_000, (i) => line(String(i))) })]),
  ),
  of('a module repeated a million times in one that is', () =>
    designed([
      module('1', { repeats: 1_000_000 }),
      module('2', { repeats: 1_000_000, within: 'm-1' }),
      module('3', { repeats: 1_000_000, within: 'm-2', lines: [line('x', { qty: 1_000_000 })] }),
    ]),
  ),
  of('repeats below nothing', () => designed([module('1', { repeats: -5, lines: [line('1', { qty: -1_000_000 })] })])),
  of('a taper of a thousand steps in every line', () =>
    designed([
      module('1', { repeats: 1000, lines: many(500, (i) => line(String(i), { steps: many(1000, (n) => n) })) }),
    ]),
  ),
  of('modules that lead nowhere', () =>
    designed([module('1', { within: 'm-none', like: 'm-never', pair: 'm-gone', picture: 'i-gone' })]),
  ),
  of('two thousand orders on their way', () => ({
    ...designed([module('1')]),
    orders: [order('large', 5000), ...many(2000, (i) => order(String(i), 10))],
  })),
  of('two hundred builds', () => ({
    builds: many(200, (i) => build(`b-${i}`)),
    designs: many(200, (i) => ({ id: `b-${i}`, modules: [module('1')] })),
  })),
  of('a thousand builds', () => ({ builds: many(1000, (i) => build(`b-${i}`)) })),
  of('builds without number among what is set aside', () => ({
    setAside: many(5000, (i) => ({ kind: 'builds', record: build(`b-${i}`) })),
  })),
  of('three thousand places in one another', () => ({
    places: many(3000, (i) => ({ id: `l-${i}`, name: `P ${i}`, kind: 'bin', parent: i === 0 ? null : `l-${i - 1}` })),
  })),
  of('three thousand places in a circle', () => ({
    places: many(3000, (i) => ({ id: `l-${i}`, name: `P ${i}`, kind: 'bin', parent: `l-${(i + 1) % 3000}` })),
  })),
  of('thirty thousand places', () => ({
    places: many(30_000, (i) => ({ id: `l-${i}`, name: `P ${i}`, kind: 'bin', parent: null })),
  })),
  of('four hundred pictures of sixteen megapixels', () => ({
    pictures: many(400, (i) => ({ id: `i-${i}`, name: 'a', data: pngOf(4096, 4096) })),
  })),
  of('four hundred and one pictures', () => ({ pictures: many(401, (i) => ({ ...PLAIN['pictures'], id: `i-${i}` })) })),
  ...(
    [
      [65_535, 65_535],
      [4097, 1],
      [0xffffffff, 0xffffffff],
    ] as const
  ).map(([w, h]) =>
    of(`a picture of ${w} by ${h} pixels`, () => ({ pictures: [{ ...PLAIN['pictures'], data: pngOf(w, h) }] })),
  ),
  of('a picture that is a script', () => ({
    pictures: [{ ...PLAIN['pictures'], data: 'data:image/svg+xml;base64,PHN2Zz4=' }],
  })),
  of('a picture without a size', () => ({ pictures: [{ ...PLAIN['pictures'], data: 'data:image/png;base64,AAAA' }] })),
  of('a picture of a megabyte', () => ({
    pictures: [{ ...PLAIN['pictures'], data: `${pngOf(1, 1)}${'A'.repeat(1_000_000)}` }],
  })),
  of('a set of two hundred thousand lines', () => ({
    sets: [{ ...PLAIN['sets'], lines: many(200_000, () => ({ stage: 'a', item: ITEM, qty: 1, spare: false })) }],
  })),
  of('a part of ten thousand names', () => ({
    parts: [{ ...PLAIN['parts'], aliases: many(10_000, (i) => `x=${i}`) }],
  })),
  of('a shop of ten thousand bands', () => ({
    shops: [{ ...PLAIN['shops'], bands: many(10_000, (i) => ({ maxMass: i + 1, fee: i })) }],
  })),
  of('rules about a hundred thousand shops', () => ({
    builds: [
      build('b-1', { rules: { ...RULES, shops: Object.fromEntries(many(100_000, (i) => [`s${i}`, 'excluded'])) } }),
    ],
  })),
  of('a thousand colours', () => ({
    colours: many(1000, (i) => ({
      ...PLAIN['colours'],
      id: `c-${i}`,
      name: `C ${i}`,
      hex: `#${i.toString(16).padStart(6, '0')}`,
    })),
  })),
  of('ten thousand colours', () => ({ colours: many(10_000, (i) => ({ ...PLAIN['colours'], id: `c-${i}` })) })),
  ...Object.entries(PLAIN).flatMap(([kind, plain]) =>
    ['/', '?', '#', '%2e%2e', '\\', '\u0000', '__proto__'].map((sign) =>
      of(`an id of the ${kind} with ${JSON.stringify(sign)}`, () => ({
        builds: [build()],
        [kind]: [{ ...plain, id: `${String(plain['id'])}${sign}` }],
      })),
    ),
  ),
  ...Object.entries(TEXTS).map(([kind, field]) =>
    of(`a text of 100 kB as ${field} of the ${kind}`, () => ({ [kind]: [{ ...PLAIN[kind], [field]: long }] })),
  ),
  ...Object.keys(PLAIN).map((kind) =>
    of(`an id of 100 kB of the ${kind}`, () => ({
      [kind]: [{ ...PLAIN[kind], id: `${String(PLAIN[kind]?.['id'])}${long}` }],
    })),
  ),
  ...Object.entries(NUMBERS).flatMap(([kind, field]) =>
    ['1e309', '-1', '1.5', '1e300', 'null', '"1"'].map((n) =>
      raw(`${n} as ${field} of the ${kind}`, () =>
        job({ [kind]: [{ ...PLAIN[kind], [field]: '@' }] }).replace('"@"', n),
      ),
    ),
  ),
  ...Object.entries(PLAIN).map(([kind, plain]) =>
    of(`one of the ${kind} twice`, () => ({ builds: kind === 'builds' ? [] : [build()], [kind]: [plain, plain] })),
  ),
  of('a design of no build', () => ({ designs: [PLAIN['designs']] })),
  of('a plan of no build, and holdings of no place', () => ({
    versions: [PLAIN['versions']],
    holdings: [PLAIN['holdings']],
    copies: [PLAIN['copies']],
    decisions: [PLAIN['decisions']],
  })),
  of('a time of 100 kB', () => ({ savedAt: long })),
  of('a version of 100 kB', () => ({ version: long })),
  of('a version above all', () => ({ version: Number.MAX_SAFE_INTEGER })),
  of('a currency of 100 kB', () => ({ builds: [build('b-1', { currency: long })] })),
  of('a kind set aside that is none', () => ({ setAside: [{ kind: long, record: { id: 'x' } }] })),
  of('a hundred thousand records set aside', () => ({
    setAside: many(100_000, (i) => ({ kind: 'holdings', record: { id: `h-${i}` } })),
  })),
  raw(
    'brackets a hundred thousand deep',
    () => `{"format":"unfinished-brick-job","version":1,"x":${'['.repeat(100_000)}${']'.repeat(100_000)}}`,
  ),
  raw('brackets a hundred thousand deep in what is set aside', () =>
    job({ setAside: [{ kind: 'places', record: { id: 'l-1', x: '@' } }] }).replace(
      '"@"',
      `${'[{"a":'.repeat(50_000)}1${'}]'.repeat(50_000)}`,
    ),
  ),
  raw('brackets that never close', () => `{"format":"unfinished-brick-job","version":1,"x":${'['.repeat(1_000_000)}`),
  raw('a text that never closes', () => `{"format":"unfinished-brick-job","version":1,"x":"${long}`),
  raw('keys of the language', () =>
    job({ builds: [build()] }).replace(
      '"shops":{}',
      '"shops":{"__proto__":"pinned","constructor":"excluded","toString":"pinned"}',
    ),
  ),
  raw('a key twice', () => job({ builds: [build()] }).replace('"designs":[]', '"designs":5,"designs":[]')),
]
