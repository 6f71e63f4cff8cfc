import fc from 'fast-check'
import { cellMove, HEAD, within } from './grid-keys.ts'

const size = { rows: 100, columns: 5, page: 10 }
const none = { shift: false, ctrl: false }

// Keyboard interaction of data grids in the ARIA Authoring Practices Guide (W3C).
test.each([
  ['ArrowRight', none, { row: 7, column: 3 }],
  ['ArrowLeft', none, { row: 7, column: 1 }],
  ['ArrowDown', none, { row: 8, column: 2 }],
  ['ArrowUp', none, { row: 6, column: 2 }],
  ['PageDown', none, { row: 17, column: 2 }],
  ['PageUp', none, { row: 0, column: 2 }],
  ['Home', none, { row: 7, column: 0 }],
  ['End', none, { row: 7, column: 4 }],
  ['Home', { shift: false, ctrl: true }, { row: 0, column: 0 }],
  ['End', { shift: false, ctrl: true }, { row: 99, column: 4 }],
])('%s with %j moves to %j', (key, held, to) => {
  expect(cellMove(key, held, { row: 7, column: 2 }, size)).toEqual({ to, choosing: false })
})

test('at an edge keys do not move focus; the headings are above the first row', () => {
  expect(cellMove('ArrowRight', none, { row: 0, column: 4 }, size)?.to).toEqual({ row: 0, column: 4 })
  expect(cellMove('ArrowDown', none, { row: 99, column: 0 }, size)?.to).toEqual({ row: 99, column: 0 })
  expect(cellMove('ArrowUp', none, { row: 0, column: 0 }, size)?.to).toEqual({ row: HEAD, column: 0 })
  expect(cellMove('ArrowUp', none, { row: HEAD, column: 0 }, size)?.to).toEqual({ row: HEAD, column: 0 })
  // Rows are chosen, headings are not.
  expect(cellMove('ArrowUp', { shift: true, ctrl: false }, { row: 0, column: 0 }, size)?.to.row).toBe(0)
})

test('whatever is pressed, the active cell is one there is, and other keys are left to the page', () => {
  const key = fc.constantFrom('ArrowUp', 'ArrowDown', 'ArrowLeft', 'ArrowRight', 'Home', 'End', 'PageUp', 'PageDown')
  const grid = fc.record({
    rows: fc.nat(30),
    columns: fc.integer({ min: 1, max: 6 }),
    page: fc.integer({ min: 1, max: 9 }),
  })
  const press = fc.record({ key, shift: fc.boolean(), ctrl: fc.boolean() })
  fc.assert(
    fc.property(grid, fc.array(press, { maxLength: 40 }), (of, presses) => {
      let at = within({ row: 0, column: 0 }, of)
      for (const { key: pressed, ...held } of presses) {
        const move = cellMove(pressed, held, at, of)
        if (!move) throw new Error(`${pressed} moves`)
        at = move.to
        expect(at.row).toBeGreaterThanOrEqual(HEAD)
        expect(at.row).toBeLessThan(Math.max(1, of.rows))
        expect(at.column).toBeGreaterThanOrEqual(0)
        expect(at.column).toBeLessThan(of.columns)
      }
    }),
  )
  for (const other of ['Tab', 'a', 'Enter', 'Escape', 'F2'])
    expect(cellMove(other, none, { row: 1, column: 1 }, size)).toBeUndefined()
})
