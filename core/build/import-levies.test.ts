import * as v from 'valibot'
import { RulesSchema, defaultRules } from './house-rules.ts'
import { leviesFrom, rateText, readRate } from './import-levies.ts'

const levies = [
  { from: null, rate: 2000 },
  { from: 'CH', rate: 770 },
  { from: 'CH', rate: 300 },
  { from: 'DE', rate: 0 },
]

test.each([
  ['CH', [770, 300]],
  ['DE', [0]],
  ['US', [2000]],
  ['AT', []],
])('what comes from %s to AT bears %j', (from, rates) => {
  expect(leviesFrom(levies, from, 'AT').map((l) => l.rate)).toEqual(rates)
})

test('the one rate of older files becomes a levy on all other countries; none stays none', () => {
  const { levies: _, ...older } = defaultRules
  expect(v.parse(RulesSchema, { ...older, importPercent: 19 }).levies).toEqual([
    { from: null, rate: 1900, on: 'goods and shipping', threshold: 0, fee: 0 },
  ])
  expect(v.parse(RulesSchema, { ...older, importPercent: 0 })).toEqual(defaultRules)
  // Rates that are said by themselves count, whatever a file says beside them.
  expect(v.parse(RulesSchema, { ...defaultRules, importPercent: 19 })).toEqual(defaultRules)
})

test.each([
  [{ from: 'che', rate: 1, on: 'goods', threshold: 0, fee: 0 }],
  [{ from: null, rate: -1, on: 'goods', threshold: 0, fee: 0 }],
  [{ from: null, rate: 10_001, on: 'goods', threshold: 0, fee: 0 }],
  [{ from: null, rate: 12.5, on: 'goods', threshold: 0, fee: 0 }],
  [{ from: null, rate: 1, on: 'goods', threshold: -5, fee: 0 }],
])('%j is no levy', (bad) => {
  expect(v.is(RulesSchema, { ...defaultRules, levies: [bad] })).toBe(false)
})

test.each([
  ['20', 2000],
  ['7.7', 770],
  ['7,70 %', 770],
  ['0.05', 5],
  ['100', 10_000],
  ['0', 0],
  ['100.01', undefined],
  ['7.777', undefined],
  ['-3', undefined],
  ['a fifth', undefined],
  ['', undefined],
])('the rate "%s" is read as %s ten-thousandths', (text, rate) => {
  expect(readRate(text)).toBe(rate)
})

test('a rate reads back as it is shown', () => {
  for (let rate = 0; rate <= 10_000; rate++) expect(readRate(rateText(rate))).toBe(rate)
})
