import { zipSync } from 'fflate'
import fc from 'fast-check'
import writeWorkbook from 'write-excel-file/node'
import { looksLikeWorkbook, readWorkbook } from './workbook.ts'

const write = async (rows: (string | number | boolean | null)[][], sheet = 'Parts') =>
  new Uint8Array(
    await writeWorkbook(
      rows.map((row) => row.map((value) => (value === null ? null : { value }))),
      { sheet },
    ).toBuffer(),
  )

test('a workbook written by an independent writer reads back, cell by cell', async () => {
  const cell = fc.oneof(
    fc.string({ unit: fc.constantFrom('a', '×', 'é', '2', '"', ',', '<', '&', '=', 'א'), minLength: 1, maxLength: 8 }),
    fc.integer({ min: 0, max: 999_999 }),
  )
  await fc.assert(
    fc.asyncProperty(fc.array(fc.tuple(cell, cell), { minLength: 1, maxLength: 6 }), async (rows) => {
      const bytes = await write(rows)
      expect(looksLikeWorkbook(bytes)).toBe(true)
      const read = await readWorkbook(bytes)
      expect(read.ok && read.value[0]?.table.rows).toEqual(rows.map((row) => row.map((c) => String(c))))
    }),
    { numRuns: 30 },
  )
})

test('row numbers are those of the sheet, over empty rows', async () => {
  const read = await readWorkbook(await write([['part'], [null], ['brick']]))
  expect(read.ok && read.value[0]?.table.lineOf).toEqual([1, 3])
})

test('traps are refused before they unpack, and damage is named', async () => {
  const zeros = zipSync({ 'xl/worksheets/sheet1.xml': new Uint8Array(5_000_000) })
  expect(zeros.length).toBeLessThan(50_000)
  const bomb = await readWorkbook(zeros, 1_000_000)
  expect(bomb.ok ? '' : [bomb.error.code, bomb.error.message]).toEqual([
    'too-large',
    expect.stringContaining('unpacks to more than 1 MB'),
  ])
  const many = zipSync(Object.fromEntries(Array.from({ length: 2500 }, (_, i) => [`f${i}`, new Uint8Array(0)])))
  expect(await readWorkbook(many)).toMatchObject({ ok: false, error: { code: 'too-large' } })
  const other = zipSync({ 'readme.txt': new Uint8Array(10) })
  expect(await readWorkbook(other)).toMatchObject({ ok: false, error: { code: 'not-text' } })
  expect(await readWorkbook((await write([['part']])).slice(0, 900))).toMatchObject({
    ok: false,
    error: { code: 'not-text' },
  })
})
