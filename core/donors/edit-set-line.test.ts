import fc from 'fast-check'
import { itemKey } from '../catalogue/item.ts'
import { partFromName } from '../catalogue/part.ts'
import { colourId, type SetId } from '../units/ids.ts'
import type { DonorSet } from './donor-set.ts'
import { editSetLine, SET_CELLS, setCellText, withoutEmptyLines } from './edit-set-line.ts'

const item = itemKey(partFromName('brick 2x4').id, colourId('Soot'))
const line = fc.record(
  {
    stage: fc.constantFrom('walls', 'roof'),
    item: fc.constant(item),
    qty: fc.integer({ min: 1, max: 99 }),
    spare: fc.boolean(),
    figure: fc.stringMatching(/^[A-Z][a-z]{1,8}$/),
  },
  { requiredKeys: ['stage', 'item', 'qty', 'spare'] },
)
const set = fc.array(line, { minLength: 1, maxLength: 5 }).map((lines): DonorSet => ({
  id: 's-x' as SetId,
  name: 'X',
  stages: [
    { id: 'walls', name: 'Walls' },
    { id: 'roof', name: 'Roof' },
  ],
  lines,
}))

test('pasting what a cell says changes nothing', () => {
  fc.assert(
    fc.property(set, (before) => {
      for (const [at, own] of before.lines.entries())
        for (const cell of SET_CELLS)
          expect(editSetLine(before, at, cell, setCellText(before, own, cell))).toEqual({ ok: true, value: before })
    }),
  )
})

test('a quantity of 0 drops the line, a new stage is made once, what does not fit says why', () => {
  fc.assert(
    fc.property(set, (before) => {
      const gone = editSetLine(before, 0, 'qty', '0')
      expect(gone.ok && withoutEmptyLines(gone.value).lines).toEqual(before.lines.slice(1))
      const moved = editSetLine(before, 0, 'stage', 'Clock tower')
      const again = moved.ok ? editSetLine(moved.value, 0, 'stage', 'clock TOWER') : moved
      expect(again.ok && again.value.stages.map((s) => s.name)).toEqual(['Walls', 'Roof', 'Clock tower'])
      expect(editSetLine(before, 0, 'qty', '1.5').ok).toBe(false)
      expect(editSetLine(before, 0, 'spare', 'maybe').ok).toBe(false)
      expect(editSetLine(before, 0, 'stage', ' ').ok).toBe(false)
      expect(editSetLine(before, 99, 'qty', '1').ok).toBe(false)
    }),
  )
})
