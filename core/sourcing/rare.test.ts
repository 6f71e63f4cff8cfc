import { fixture, of, OTHER, type Line } from '../netting/fixture.test-data.ts'
import { tally } from '../netting/count.ts'
import type { Snapshot } from '../netting/snapshot.ts'
import { offerOf, shopOf } from '../offers/offers.test-data.ts'
import type { Copy, DonorSet } from '../donors/donor-set.ts'
import type { Offer } from '../offers/offer.ts'
import { Memory } from '../units/memory.ts'
import { currency } from '../units/money.ts'
import type { Rules } from '../build/house-rules.ts'
import { hintsFor, orderOpeners, ownAlternatives, rareItems, rareMarket } from './rare.ts'

const PLATE = of('plate 2x4')
const BRICK = of('brick 2x2')
const other = (name: string) => of(name, OTHER)
const shops = ['a', 'b', 'c'].map((id) => shopOf(id, id === 'c' ? { leadDays: 40 } : {}))

const scene = (
  offers: readonly Offer[],
  lines: readonly Line[] = [{ item: PLATE, qty: 6 }],
  rules: Partial<Rules> = {},
  more: Partial<Snapshot> = {},
) => fixture(rules, lines, [], { market: { shops, offers }, ...more })

const rareOf = (snapshot: Snapshot, openers: Parameters<typeof rareItems>[2] = []) =>
  rareItems(tally(snapshot), rareMarket(snapshot), openers)

test('nothing is said before any offer is known', () => {
  expect(rareOf(scene([]))).toEqual([])
})

test('no shop, too few, one shop: by what the rules let the build use', () => {
  const elsewhere = offerOf('a', BRICK)
  expect(rareOf(scene([elsewhere]))[0]).toMatchObject({ item: PLATE, reasons: ['no shop'], shops: 0, stock: 0 })
  const few = [offerOf('a', PLATE, { stock: 3 }), offerOf('b', PLATE, { stock: 2 })]
  expect(rareOf(scene(few))[0]).toMatchObject({ reasons: ['too few'], shops: 2, stock: 5 })
  expect(rareOf(scene([offerOf('a', PLATE)]))[0]).toMatchObject({ reasons: ['one shop'], price: 10 })
  // Packs of four: of seven in stock four can be bought.
  expect(rareOf(scene([offerOf('a', PLATE, { stock: 7, pack: 4 })]))[0]).toMatchObject({ stock: 4 })
  expect(rareOf(scene([offerOf('a', PLATE), offerOf('b', PLATE)]))).toEqual([])
  // A shop too slow, one that is avoided, worn pieces: none of them counts.
  expect(
    rareOf(scene([offerOf('a', PLATE), offerOf('c', PLATE)], undefined, { deadlineDays: 10 }))[0]?.reasons,
  ).toEqual(['one shop'])
  expect(
    rareOf(scene([offerOf('a', PLATE), offerOf('b', PLATE)], undefined, { shops: { b: 'excluded' } }))[0]?.reasons,
  ).toEqual(['one shop'])
  expect(rareOf(scene([offerOf('a', PLATE), offerOf('b', PLATE, { condition: 'worn' })]))[0]?.shops).toBe(1)
})

test('dear is twice what the part costs in other colours, by their lower median', () => {
  const at = (price: number) => [
    offerOf('a', PLATE, { price }),
    offerOf('b', PLATE, { price: price + 5 }),
    offerOf('a', other('plate 2x4'), { price: 10 }),
  ]
  expect(rareOf(scene(at(19)))).toEqual([])
  expect(rareOf(scene(at(20)))[0]).toMatchObject({ reasons: ['dear'], price: 20, elsewhere: 10, colours: 1 })
})

test('an order is opened for pieces that are nearly all of it', () => {
  const lines = (...items: (typeof PLATE)[]) => ({ lines: items.map((item) => ({ item })) })
  expect(orderOpeners([lines(PLATE), lines(BRICK, PLATE, other('plate 2x2'))])).toEqual([PLATE])
  const snapshot = scene([offerOf('a', PLATE), offerOf('b', PLATE)])
  expect(rareOf(snapshot, [PLATE])[0]?.reasons).toEqual(['opens an order'])
})

test('hints: the whole area in another colour only where all of it is on offer, splits and moulds where there are enough', () => {
  const lines: Line[] = [
    { item: PLATE, qty: 6 },
    { item: BRICK, qty: 2 },
  ]
  const base = [offerOf('a', PLATE), offerOf('a', BRICK), offerOf('b', BRICK)]
  const hintsOf = (offers: readonly Offer[], more: Partial<Snapshot> = {}) => {
    const snapshot = scene(offers, lines, {}, more)
    const result = tally(snapshot)
    const [rare] = rareItems(result, rareMarket(snapshot))
    return rare ? hintsFor(snapshot, result, rare, rareMarket(snapshot), new Memory()) : []
  }
  const kinds = (offers: readonly Offer[]) => hintsOf(offers).map((h) => h.hint.kind)
  expect(kinds(base)).toEqual(['leave out'])
  // The brick of the area is not to be had in the other colour.
  expect(kinds([...base, offerOf('a', other('plate 2x4'))])).toEqual(['leave out'])
  const both = hintsOf([...base, offerOf('a', other('plate 2x4')), offerOf('b', other('brick 2x2'))])
  expect(both.map((h) => h.hint)).toEqual([
    { kind: 'leave out' },
    { kind: 'recolour', colour: OTHER, pieces: 8, group: false },
  ])
  expect(both[1]?.changes.recoloured?.[0]?.lines).toHaveLength(2)
  // Two short plates for each of six.
  expect(kinds([...base, offerOf('b', of('plate 2x2'), { stock: 11 })])).toEqual(['leave out'])
  expect(kinds([...base, offerOf('b', of('plate 2x2'), { stock: 12 })])).toEqual(['leave out', 'split'])
  expect(kinds([...base, offerOf('b', of('plate 2x4 with hole'))])).toEqual(['leave out', 'mould'])
  const set = {
    id: 's',
    name: 'S',
    stages: [{ id: 'x', name: 'X' }],
    lines: [{ stage: 'x', item: PLATE, qty: 2, spare: false }],
  } as unknown as DonorSet
  const copy = {
    ...{ id: 'y', setId: 's', label: 'S', buildId: 'b-t', state: 'to-buy', stages: 'all', spares: true, missing: [] },
    askingPrice: { minor: 900, currency: currency('EUR') },
  } as unknown as Copy
  const more = hintsOf(base, { sets: [set], copies: [copy] })
  expect(more.at(-1)).toMatchObject({ hint: { kind: 'copy', copies: 2 }, changes: { copies: { y: 2 } } })
})

test('a coherent group is recoloured as a whole, whatever else its module has in that colour; locked lines are not', () => {
  const offers = [offerOf('a', PLATE), offerOf('a', other('plate 2x4'), { price: 1 })]
  const recolourings = (lines: readonly Line[]) => {
    const snapshot = scene(offers, lines)
    const result = tally(snapshot)
    const rare = rareItems(result, rareMarket(snapshot)).find((r) => r.item === PLATE)
    return rare
      ? hintsFor(snapshot, result, rare, rareMarket(snapshot), new Memory()).flatMap(({ hint, changes }) =>
          hint.kind === 'recolour' ? [{ group: hint.group, lines: changes.recoloured?.[0]?.lines.length }] : [],
        )
      : []
  }
  const brick: Line = { item: BRICK, qty: 2 }
  expect(recolourings([{ item: PLATE, qty: 6, group: 'roof' }, brick])).toEqual([{ group: true, lines: 1 }])
  // Without a group the brick belongs to the area, and is not to be had in the other colour.
  expect(recolourings([{ item: PLATE, qty: 6 }, brick])).toEqual([])
  expect(
    recolourings([
      { item: PLATE, qty: 6 },
      { ...brick, locked: true },
    ]),
  ).toEqual([{ group: false, lines: 1 }])
  expect(recolourings([{ item: PLATE, qty: 6, group: 'roof', locked: true }, brick])).toEqual([])
})

test('the design’s own alternatives to a rare piece are told once each, those of other pieces not', () => {
  const instead = [[{ item: BRICK, qty: 2 }], [{ item: other('plate 2x4'), qty: 1 }]]
  const lines: Line[] = [
    { item: PLATE, qty: 6, instead },
    { item: PLATE, qty: 1, instead: instead.slice(0, 1) },
    { item: BRICK, qty: 1, instead: [[{ item: PLATE, qty: 9 }]] },
  ]
  const snapshot = scene([offerOf('a', BRICK, { stock: 1 })], lines)
  const [rare] = rareOf(snapshot).filter((r) => r.item === PLATE)
  if (!rare) throw new Error('no shop has the plate')
  expect(ownAlternatives(snapshot.design, rare)).toEqual(instead)
})
