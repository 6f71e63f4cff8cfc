import type { Order } from '../../../core/orders/order.ts'
import { marked, withBench } from '../../../core/orders/check-in.ts'
import { line, orderAt } from '../../../core/orders/orders.test-data.ts'
import { benchAct } from './bench-keys.ts'

/** An order after keys at its first line, as they are typed: digits gather until another key. */
function typed(keys: readonly string[], start: Order = orderAt('arrived')): Order {
  let order = start
  let text = ''
  for (const key of keys) {
    if (/^\d$/.test(key)) {
      text += key
      continue
    }
    const [of] = order.lines
    if (!of) throw new Error('test data')
    const act = benchAct(key, text, of, order)
    text = ''
    if (act?.kind !== 'mark') continue
    const receipt = marked(order, of, act.mark)
    if (receipt.ok) order = withBench(order, of.id, receipt.value)
  }
  return order
}

test.each([
  [['Enter'], { right: 10, short: 0 }],
  [['7', 'Enter', '-'], { right: 7, short: 3 }],
  [['1', '2', 'Enter'], { right: 10, extra: 2 }],
  [['Enter', '.'], { right: 9, damaged: 1 }],
  [['Enter', '-'], { right: 9, short: 1 }],
  [['3', '-', 'Enter'], { right: 7, short: 3 }],
  [['#', 'Enter'], { right: 9, damaged: 1 }],
  [['+', '+'], { extra: 2 }],
  [['='], { right: 10, uncounted: true }],
])('the keys %j', (keys, says) => {
  expect(typed(keys).bench).toEqual([expect.objectContaining(says)])
})

test('Backspace takes back what was said, and only where no number is being typed', () => {
  expect(typed(['Enter', 'Backspace']).bench).toBeUndefined()
  expect(benchAct('Backspace', '1', line(), orderAt('arrived'))).toBeUndefined()
})

test('a wrong colour or piece asks which came, and how many is what is left or was typed', () => {
  expect(benchAct('/', '', line(), orderAt('arrived'))).toEqual({ kind: 'other', what: 'colour', qty: 10 })
  expect(benchAct('*', '2', line(), orderAt('arrived'))).toEqual({ kind: 'other', what: 'piece', qty: 2 })
  expect(benchAct('5', '', line(), orderAt('arrived'))).toBeUndefined()
})
