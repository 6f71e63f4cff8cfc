import fc from 'fast-check'
import { EDGE, labelSheet, PAPERS, paperSize } from './label-sheet.ts'

test('papers are of the sizes that ISO 216 gives them', () => {
  // ISO 216:2007, table of the A series (recalled from memory), mm.
  expect(PAPERS.map((p) => paperSize(p))).toEqual([
    { width: 210, height: 297 },
    { width: 148, height: 210 },
    { width: 105, height: 148 },
  ])
})

test('labels fill sheets without overlapping the edge, none is lost, and those too small to read are refused', () => {
  fc.assert(
    fc.property(
      fc.constantFrom(...PAPERS),
      fc.integer({ min: 1, max: 6 }),
      fc.integer({ min: 1, max: 20 }),
      fc.integer({ min: 0, max: 60 }),
      (paper, columns, rows, count) => {
        const labels = Array.from({ length: count }, (_, i) => ({ title: `${i}`, lines: [] }))
        const sheet = labelSheet(labels, paper, columns, rows)
        const { width, height } = paperSize(paper)
        const fits = (width - 2 * EDGE) / columns >= 15 && (height - 2 * EDGE) / rows >= 15
        expect(sheet !== undefined).toBe(fits)
        if (!sheet) return
        expect(sheet.width * columns).toBeLessThanOrEqual(width - 2 * EDGE)
        expect(sheet.height * rows).toBeLessThanOrEqual(height - 2 * EDGE)
        expect(sheet.pages.flat()).toEqual(labels)
        expect(sheet.pages.every((p) => p.length <= columns * rows)).toBe(true)
      },
    ),
  )
})
