import fc from 'fast-check'
import { defaultRules } from '../build/house-rules.ts'
import type { Build } from '../build/build.ts'
import { orderAt, FIRST } from '../orders/orders.test-data.ts'
import type { EntryId } from '../units/ids.ts'
import { currency, MOST_AMOUNT } from '../units/money.ts'
import type { Entry } from './entry.ts'
import { ledgerOf } from './ledger.ts'
import { postingsOf } from './postings.ts'
import { correctedSum, correctionOf, rateNow, readEntry, type TypedEntry } from './typed-entry.ts'

const EUR = currency('EUR')
const CZK = currency('CZK')
const JPY = currency('JPY')
const rates = [{ currency: CZK, rate: 40_000_000, on: '2026-03-01' }]
const of = { id: 'e-1' as EntryId, build: FIRST, home: EUR, rates, today: '2026-03-10' }
const typed = (more: Partial<TypedEntry> = {}): TypedEntry => ({
  ...{ on: '2026-03-09', category: 'other', amount: '12.50', currency: 'EUR', rate: '', text: 'Hose', module: '' },
  ...more,
})
const refused = (more: Partial<TypedEntry>) => {
  const read = readEntry(typed(more), of)
  return read.ok ? 'taken' : [read.error.field, read.error.message]
}

test('an entry is read as it is typed', () => {
  expect(readEntry(typed({ module: 'm-1' }), of)).toEqual({
    ok: true,
    value: {
      ...{ id: 'e-1', build: FIRST, on: '2026-03-09', category: 'other', text: 'Hose', module: 'm-1' },
      amount: { minor: 1250, currency: 'EUR' },
    },
  })
  // Both have hundredths (ISO 4217): the rate is between minor units as between units. The build's serves where none is typed.
  const amountOf = (more: Partial<TypedEntry>) => {
    const read = readEntry(typed(more), of)
    return read.ok ? [read.value.amount.minor, read.value.rate] : read.error
  }
  expect(amountOf({ amount: '100 CZK', currency: 'CZK' })).toEqual([10_000, 40_000_000])
  expect(amountOf({ amount: '100,00', currency: 'czk', rate: '0.041' })).toEqual([10_000, 41_000_000])
  // A yen has no hundredths: one yen of 0.006 euros is 0.6 cents.
  expect(amountOf({ amount: '500', currency: JPY, rate: '0.006' })).toEqual([500, 600_000_000])
  expect([rateNow('CZK', 'EUR', rates), rateNow('EUR', 'EUR', rates), rateNow('USD', 'EUR', rates)]).toEqual([
    ...['0.04', '', ''],
  ])
})

test('what is refused names its field and the remedy', () => {
  expect(refused({ on: '2026-03-11' })).toEqual(['on', expect.stringContaining('still to come')])
  expect(refused({ on: '2026-02-30' })).toEqual(['on', expect.stringContaining('A day such as')])
  expect(refused({ on: '' })).toEqual(['on', expect.stringContaining('A day such as')])
  expect(refused({ currency: '' })).toEqual(['currency', 'Say in which currency it was paid.'])
  expect(refused({ currency: 'ABC' })).toEqual(['currency', expect.stringContaining('no currency of ISO 4217')])
  expect(refused({ amount: '' })).toEqual(['amount', expect.stringContaining('such as 12.50 EUR')])
  expect(refused({ amount: '12 CZK' })).toEqual(['amount', expect.stringContaining('another currency than EUR')])
  expect(refused({ amount: '1.005' })).toEqual(['amount', expect.any(String)])
  expect(refused({ amount: '0' })).toEqual(['amount', expect.stringContaining('More than nothing')])
  expect(refused({ amount: '-3' })).toEqual(['amount', expect.stringContaining('correct it')])
  expect(refused({ amount: String(MOST_AMOUNT) })).toEqual(['amount', expect.stringContaining('At most')])
  expect(refused({ amount: '99999999999999999999' })).toEqual(['amount', expect.any(String)])
  expect(refused({ text: '   ' })).toEqual(['text', 'Say what it was for.'])
  expect(refused({ text: 'x'.repeat(301) })).toEqual(['text', 'At most 300 characters.'])
  expect(refused({ currency: 'USD' })).toEqual(['rate', expect.stringContaining('no rate for USD')])
  expect(refused({ currency: 'USD', rate: 'much' })).toEqual(['rate', expect.stringContaining('What one USD cost')])
})

const build: Build = { id: FIRST, name: 'B', note: '', currency: EUR, rules: { ...defaultRules, rates } }

test('corrected as often as one likes, a posting comes to what was said last, and stays as it is itself', () => {
  fc.assert(
    fc.property(fc.array(fc.nat(9_000), { minLength: 1, maxLength: 6 }), fc.boolean(), (says, refund) => {
      const order = orderAt('paid', {
        charged: { goods: 500, shipping: 90, handling: 0, lineFees: 0, service: 0, levies: 0 },
        claims: [
          {
            ...{ id: 'k', lines: [{ reason: 'short', qty: 1 }], asked: 40, refunded: 40 },
            history: [{ state: 'refunded', on: '2026-03-04' }],
          },
        ],
      })
      const entries: Entry[] = []
      const all = () => postingsOf(build, [], { orders: [order], copies: [], sales: [], entries }).postings
      const chosen = () => {
        const found = all().find((p) => p.key === (refund ? 'r-1 back k' : 'r-1 paid shipping'))
        if (!found) throw new Error('not posted')
        return found
      }
      const [first, net] = [chosen(), ledgerOf(all()).net]
      for (const [i, right] of says.entries()) {
        const before = correctedSum(chosen(), all())
        const entry = correctionOf(chosen(), before, right, 'as the bill says', { ...of, id: `e-${i}` as EntryId })
        expect(entry === undefined).toBe(before === right)
        if (entry) entries.push(entry)
        expect(correctedSum(chosen(), all())).toBe(right)
      }
      expect(chosen()).toEqual(first)
      const last = says.at(-1) ?? 0
      expect(ledgerOf(all()).net).toBe(refund ? net + first.minor - last : net - first.minor + last)
      for (const e of entries) expect(e.text).toMatch(/^Corrects “Order 7, A.*as the bill says$/)
    }),
  )
})
