import { copiesFor } from '../../market/copies.ts'
import { CopySchema, type DonorSet } from '../donors/donor-set.ts'
import { of } from '../netting/fixture.test-data.ts'
import type { BuildId, SetId } from '../units/ids.ts'
import { currency } from '../units/money.ts'
import * as v from 'valibot'
import { acceptCopies, copyWanted, wantedId, type OfferedCopy } from './copies-answer.ts'

const [brick, plate] = [of('brick 1x2'), of('plate 2x4')]
const set: DonorSet = {
  id: 's-1' as SetId,
  name: 'Ticket office',
  stages: [{ id: 'a', name: 'Office' }],
  lines: [
    { stage: 'a', item: brick, qty: 6, spare: false },
    { stage: 'a', item: brick, qty: 2, spare: true },
    { stage: 'a', item: plate, qty: 4, spare: false },
  ],
}
const offered: OfferedCopy = {
  id: 'o-1',
  set: 's-1',
  seller: 'Larch Crate',
  country: 'AT',
  price: 900,
  condition: 'used',
  missing: [{ item: brick, qty: 3 }],
}

test('what the market that ships with the app answers is taken whole', () => {
  const lines = set.lines.map(({ item, qty }) => ({ item, qty, figure: false }))
  const days = Array.from({ length: 40 }, (_, day) => copiesFor({ sets: [{ set: 's-1', lines }] }, 3, day * 12).copies)
  expect(days.some((copies) => copies.length > 1)).toBe(true)
  for (const copies of days) expect(acceptCopies(copies, [set])).toEqual({ ok: true, value: copies })
})

test.each<[string, readonly OfferedCopy[], string]>([
  ['a set nobody asked about', [{ ...offered, set: 's-2' }], 'not asked for'],
  ['one copy twice', [offered, offered], 'repeated id'],
  ['a name that turns the line around', [{ ...offered, seller: 'Shop\u202egnp.exe' }], 'name'],
  ['a name of 400 characters', [{ ...offered, seller: 'x'.repeat(400) }], 'name'],
  ['a copy for nothing', [{ ...offered, price: 0 }], 'absurd amount'],
  ['a price that nobody pays', [{ ...offered, price: 2_000_000_000 }], 'absurd amount'],
  ['more missing than there is', [{ ...offered, missing: [{ item: brick, qty: 9 }] }], 'missing'],
  [
    'more missing than there is, in two entries',
    [
      {
        ...offered,
        missing: [
          { item: brick, qty: 5 },
          { item: brick, qty: 5 },
        ],
      },
    ],
    'missing',
  ],
  ['pieces missing that it never had', [{ ...offered, missing: [{ item: of('tile 1x2'), qty: 1 }] }], 'missing'],
  ['a thousand copies', Array.from({ length: 1000 }, (_, i) => ({ ...offered, id: `o-${i}` })), 'too many'],
])('%s: none of the answer is taken', (_, answer, code) => {
  const taken = acceptCopies(answer, [set])
  expect(taken.ok ? 'taken' : taken.error.code).toBe(code)
})

test('an offered copy that is wanted is a copy to buy, with what it lacks, once for each build', () => {
  const [a, b] = ['b-1', 'b-2'] as BuildId[]
  if (!a || !b) throw new Error('two builds')
  const copy = copyWanted(offered, set, a, currency('EUR'))
  expect(v.is(CopySchema, copy)).toBe(true)
  expect(copy).toMatchObject({ state: 'to-buy', askingPrice: { minor: 900 }, condition: 'used', buildId: a })
  expect(copy.missing).toEqual([{ item: brick, qty: 3 }])
  expect(wantedId(offered, a)).toBe(copy.id)
  expect(wantedId(offered, b)).not.toBe(copy.id)
  const long = (end: string) => wantedId({ ...offered, id: 'x'.repeat(390) + end }, a)
  expect(long('1')).not.toBe(long('2'))
})
