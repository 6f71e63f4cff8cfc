import fc from 'fast-check'
import { colourIndex } from '../colours/colour.ts'
import { PALETTE } from '../colours/palette.ts'
import { colourColumns, listedByColour } from './colour-columns.ts'
import { readDelimited, writeCsv } from './delimited.ts'
import { matchColumns } from './list-columns.ts'
import { type ListKind } from './list-fields.ts'
import { readList } from './list-rows.ts'

const index = colourIndex(PALETTE)
const knownColours = new Map([...index].map(([key, c]) => [key, c.id]))

const read = (text: string, kind: ListKind = 'shelf') => {
  const list = readDelimited(text)
  if (!list.ok) throw new Error(list.error.message)
  const match = matchColumns(list.value.rows, kind, index)
  const reading = readList(list.value, kind, match, { currency: 'EUR', knownColours, knownCodes: new Map() })
  return { match, table: list.value, ...reading }
}
const brief = ({ accepted }: ReturnType<typeof read>) => accepted.map((r) => [r.qty, r.part, r.colourName].join(' '))

test('title, comment and empty lines above, a section between, a total below: the rows alone come in, and the rest is named', () => {
  const found = read(
    'My collection\n\n# counted in spring\nTeil;Farbe;Anzahl\nDrawer A:\nplate 2x4;Soot;12\nbrick 1x1;Chalk;3\n\nDrawer B\nplate 2x4;Chalk;5\nSumme;;20\nGrand total; all colours; 20\n',
  )
  expect(brief(found)).toEqual(['12 plate 2x4 Soot', '3 brick 1x1 Chalk', '5 plate 2x4 Chalk'])
  expect(found.accepted.map((r) => r.place)).toEqual(['Drawer A', 'Drawer A', 'Drawer B'])
  expect(found.refused).toEqual([])
  expect(found.leftOut.map((r) => [r.line, r.kind])).toEqual([
    [1, 'above'],
    [3, 'above'],
    [5, 'section'],
    [9, 'section'],
    [11, 'total'],
    [12, 'total'],
  ])
})

test.each<[ListKind, 'place' | 'stage' | 'module']>([
  ['shelf', 'place'],
  ['donor', 'stage'],
  ['design', 'module'],
])('a section of a %s list is its %s, unless a row says otherwise', (kind, field) => {
  const found = read(`part,colour,quantity,${field}\nBag 1,,,\nplate 2x4,Soot,1,\nplate 2x4,Chalk,1,elsewhere\n`, kind)
  expect(found.accepted.map((r) => r[field])).toEqual(['Bag 1', 'elsewhere'])
})

test('sep= names the sign, and lines keep their numbers', () => {
  const found = read('sep=;\npart;colour;quantity\nplate 2x4, left;Soot;2\nplate 2x4;Soot;many\n')
  expect(brief(found)).toEqual(['2 plate 2x4, left Soot'])
  expect(found.refused.map((r) => r.line)).toEqual([4])
})

test('a blank colour is the one above where the list groups by colour, and nowhere else', () => {
  const grouped = read('colour,part,quantity\nSoot,plate 2x4,1\n,brick 1x1,2\nChalk,plate 2x4,3\n,brick 1x1,4\n')
  expect(grouped.accepted.map((r) => r.colourName)).toEqual(['Soot', 'Soot', 'Chalk', 'Chalk'])
  expect(grouped.grouped).toBe(2)
  const forgotten = read('colour,part,quantity\nSoot,plate 2x4,1\nSoot,brick 1x1,2\n,plate 2x4,3\n')
  expect([forgotten.accepted.length, forgotten.refused.map((r) => r.code)]).toEqual([2, ['nothing there']])
})

test('colours head groups of a list that has no column for them', () => {
  const found = read('part,quantity\nSoot\nplate 2x4,1\nbrick 1x1,2\nChalk\nplate 2x4,3\n')
  expect(brief(found)).toEqual(['1 plate 2x4 Soot', '2 brick 1x1 Soot', '3 plate 2x4 Chalk'])
})

test('part and colour in one cell; a colour that is not known whole stays whole', () => {
  const found = read('item,quantity\nplate 2x4 Soot,12\nbrick 1x1 dark red,3\nslope 2x2 45° Weathered slate,1\n')
  expect(brief(found)).toEqual(['12 plate 2x4 Soot', '3 brick 1x1 dark red', '1 slope 2x2 45° Weathered slate'])
  expect(found.unknownColours).toEqual([{ name: 'dark red', rows: 1 }])
})

test('plain lines are lists: count, part and colour in any order', () => {
  const found = read('12 plate 2x4 Soot\nbrick 1x1 Chalk x3\nslope 2x2 45° 4 Soot\nplate 1x2 Chalk\n')
  expect(brief(found)).toEqual(['12 plate 2x4 Soot', '3 brick 1x1 Chalk', '4 slope 2x2 45° Soot', '1 plate 1x2 Chalk'])
})

test('colours across the columns: a row for every count', () => {
  const table = readDelimited('Part;Soot;Chalk;dark red;Note\nplate 2x4;3;;1;x\nbrick 1x1;-;2 Stk;0;\nTotal;3;2;1;\n')
  if (!table.ok) throw new Error(table.error.message)
  const across = colourColumns(table.value.rows, 0, (key) => knownColours.has(key))
  expect(across).toEqual([1, 2, 3])
  const list = listedByColour(table.value, 0, across)
  const match = matchColumns(list.rows, 'shelf', index)
  const found = readList(list, 'shelf', match, { currency: 'EUR', knownColours, knownCodes: new Map() })
  expect(found.accepted.map((r) => [r.line, r.qty, r.part, r.colourName].join(' '))).toEqual([
    '2 3 plate 2x4 Soot',
    '2 1 plate 2x4 dark red',
    '3 2 brick 1x1 Chalk',
  ])
  expect(found.refused).toEqual([])
})

// Ordinary words of these languages.
test.each([
  ['Bezeichnung;Farbe;Anzahl;Lagerort;Zustand'],
  ['Désignation;Couleur;Quantité;Emplacement;État'],
  ['Descripción;Color;Cantidad;Ubicación;Estado'],
  ['Descrizione;Colore;Quantità;Posizione;Condizione'],
  ['Omschrijving;Kleur;Aantal;Locatie;Staat'],
  ['Descrição;Cor;Quantidade;Local;Condição'],
  ['Nazwa;Kolor;Ilość;Miejsce;Stan'],
  ['Název;Barva;Množství;Místo;Stav'],
  ['Beskrivning;Färg;Antal;Plats;Skick'],
])('headings in the language of %s are understood', (heading) => {
  const { match } = read(`${heading}\nzzz;yyy;12;qqq;www\n`)
  expect(match.columns).toEqual({ part: 0, colour: 1, qty: 2, place: 3, condition: 4 })
  expect(Object.values(match.confidence).every((c) => c === 1)).toBe(true)
})

test('words for conditions are what their language means; what nobody knows is named, and refused until it is said', () => {
  const found = read(
    'part,colour,quantity,condition\nplate 2x4,Soot,1,gebraucht\nplate 2x4,Soot,1,occasion\nplate 2x4,Soot,1,used - good\nplate 2x4,Soot,1,neuf\nplate 2x4,Soot,1,vergilbt\nplate 2x4,Soot,1,B+\n',
  )
  expect(found.accepted.map((r) => r.condition)).toEqual(['used', 'used', 'used', 'new', 'worn'])
  expect(found.refused.map((r) => [r.field, r.code])).toEqual([['condition', 'condition']])
  expect(found.conditions[0]).toEqual({ word: 'B+', rows: 1, meant: undefined })
  expect(found.conditions.map((c) => c.word)).toContain('gebraucht')
})

test('what quantities were read as is told, and columns that are read for nothing are named', () => {
  const found = read(
    'part,colour,quantity,weight\nplate 2x4,Soot,3 (one chipped),2 g\nplate 2x4,Chalk,10-12,3 g\nbrick 1x1,Soot,4,1 g\n',
  )
  expect(found.understood).toEqual([
    { text: '3 (one chipped)', qty: 3, estimate: false, note: 'one chipped' },
    { text: '10-12', qty: 11, estimate: true, note: '' },
  ])
  expect(found.unused).toEqual(['weight'])
})

test('whatever is written above, between and below the rows, just the rows come in', () => {
  const row = fc.tuple(
    fc.constantFrom('plate 2x4', 'brick 1x1', 'tile 1x4', 'slope 2x2 45°'),
    fc.constantFrom('Soot', 'Chalk', 'Gentian'),
    fc.integer({ min: 1, max: 900 }).map(String),
  )
  const title = fc.constantFrom('Parts of the hut', 'Stand: 12.3.2026', 'exported by hand')
  const between = fc.constantFrom(
    ['Drawer A1', '', ''],
    ['— Regal 3 —', '', ''],
    ['', '', ''],
    ['part', 'colour', 'quantity'],
    ['# note', '', ''],
  )
  const total = fc.constantFrom(
    ['Total', '', '99'],
    ['Grand total', 'all colours', '17'],
    ['Summe', '', '12'],
    ['', '', ''],
  )
  fc.assert(
    fc.property(
      fc.array(title, { maxLength: 3 }),
      fc.array(fc.tuple(fc.option(between, { nil: undefined }), row), { minLength: 2, maxLength: 12 }),
      total,
      (titles, rows, sum) => {
        const table = [
          ...titles.map((t) => [t, '', '']),
          ['part', 'colour', 'quantity'],
          ...rows.flatMap(([extra, own]) => (extra ? [extra, own] : [own])),
          sum,
        ]
        const found = read(writeCsv(table))
        expect(found.accepted.map((r) => [r.part, r.colourName, String(r.qty)])).toEqual(rows.map(([, own]) => own))
        expect(found.refused).toEqual([])
      },
    ),
    { numRuns: 300 },
  )
})
