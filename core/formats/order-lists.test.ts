import Papa from 'papaparse'
import { codeAlias } from '../catalogue/part.ts'
import { line, order, orderAt } from '../orders/orders.test-data.ts'
import { expectedDays, orderCsv, orderText, sellerCode } from './order-lists.ts'

const part = { name: 'plate 2x4', aliases: [codeAlias('Pebble & Sons number', 'P 77'), 'other=9'] }
const nameItem = () => ({ name: 'plate 2x4, Soot', part, colour: { name: '=Soot' } })

test('the seller’s own codes are those of a column that was named after the seller', () => {
  expect(sellerCode(part, 'Pebble & Sons')).toBe('p 77')
  expect(sellerCode(part, 'Somebody')).toBe('')
  expect(sellerCode({}, '')).toBe('')
})

test('an order as a table: formulas are made text, a note says what may be replaced', () => {
  const csv = orderCsv(
    order({ seller: { name: 'Pebble & Sons' }, lines: [line({ note: '+any grey', qty: 3, for: [] })] }),
    nameItem,
  )
  const { data } = Papa.parse<string[]>(csv)
  expect(data[0]).toContain('code')
  // OWASP, CSV injection: an apostrophe before = and +.
  expect(data[1]).toEqual(['p 77', 'plate 2x4', "'=Soot", '3', 'new', '0.12', '0.36', 'EUR', "'+any grey"])
})

test('an order in words has no code of another seller, and names donor copies', () => {
  const text = orderText(
    order({ reference: 'W 12', copies: [{ id: 'y-1' as never, label: 'Hut, used', price: 900 }] }),
    nameItem,
  )
  expect(text.split('\n')).toEqual([
    'A, your order W 12: 11 pieces, 10.20 EUR with shipping and fees as I reckon',
    '10 x plate 2x4, Soot (new) at 0.12',
    '1 x Hut, used at 9.00',
  ])
})

test('days for a calendar are those of parcels on their way, each under the same id every time', () => {
  const days = expectedDays([order(), orderAt('dispatched'), orderAt('lost')], () => [], '2026-03-05')
  expect(days).toEqual([
    {
      uid: 'r-1@unfinished-brick',
      day: '2026-03-08',
      summary: 'Order 7, A: 10 pieces expected',
      description: 'Late would be after 2026-03-11.',
    },
  ])
})
