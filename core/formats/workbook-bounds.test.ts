import { strToU8, unzipSync, zipSync } from 'fflate'
import writeWorkbook from 'write-excel-file/node'
import { MAX_CELL, MAX_COLUMNS, MAX_ROWS } from './delimited.ts'
import { sheetFault } from './workbook-bounds.ts'
import { readWorkbook } from './workbook.ts'

/** A workbook of an independent writer with one sheet's XML (and the shared strings) replaced. */
async function workbookWith(sheet: string, shared?: string): Promise<Uint8Array> {
  const made = new Uint8Array(await writeWorkbook([[{ value: 'part' }]], { sheet: 'Parts' }).toBuffer())
  const entries = unzipSync(made)
  const path = Object.keys(entries).find((name) => /worksheets\/[^/]+\.xml$/.test(name))
  if (!path) throw new Error('the writer made no sheet')
  entries[path] = strToU8(sheet)
  if (shared !== undefined) entries['xl/sharedStrings.xml'] = strToU8(shared)
  return zipSync(entries)
}
const NAMESPACE = 'xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"'
const sheetOf = (rows: string) =>
  `<?xml version="1.0" encoding="UTF-8"?><worksheet ${NAMESPACE}><sheetData>${rows}</sheetData></worksheet>`
const inline = (at: string, text: string) => `<c r="${at}" t="inlineStr"><is><t>${text}</t></is></c>`
const strings = (items: string) => `<?xml version="1.0"?><sst ${NAMESPACE}>${items}</sst>`

/** Files that are small and would cost whoever builds them a tab, with the code of the refusal and what it must name. */
const HOSTILE: readonly (readonly [string, string, string | undefined, string, RegExp])[] = [
  [
    'a cell in the last corner',
    sheetOf(`<row r="1048576">${inline('XFD1048576', 'x')}</row>`),
    undefined,
    'too-many-columns',
    /XFD1048576/,
  ],
  [
    'a number far down',
    sheetOf('<row r="1048576"><c r="A1048576"><v>1</v></c></row>'),
    undefined,
    'too-many-rows',
    /A1048576/,
  ],
  ['a cell one column out', sheetOf(`<row r="1">${inline('BI1', 'x')}</row>`), undefined, 'too-many-columns', /BI1/],
  ['a row without end', sheetOf('<row r="99999999999"></row>'), undefined, 'not-text', /row/],
  ['a row before the first', sheetOf('<row r="-1"></row>'), undefined, 'not-text', /row/],
  ['a cell of 10 MB', sheetOf(`<row r="1">${inline('A1', 'x'.repeat(10_000_000))}</row>`), undefined, 'too-long', /A1/],
  [
    'a cell of many short pieces',
    sheetOf(`<row r="2"><c r="A2" t="inlineStr"><is>${'<r><t>xx</t></r>'.repeat(200_000)}</is></c></row>`),
    undefined,
    'too-long',
    /A2/,
  ],
  [
    'a shared text of 10 MB',
    sheetOf('<row r="1"><c r="A1" t="s"><v>0</v></c></row>'),
    strings(`<si><t>${'y'.repeat(10_000_000)}</t></si>`),
    'too-long',
    /characters/,
  ],
  [
    'a shared text one character too long',
    sheetOf('<row r="1"><c r="A1" t="s"><v>0</v></c></row>'),
    strings(`<si><t>${'y'.repeat(MAX_CELL + 1)}</t></si>`),
    'too-long',
    /A1/,
  ],
  [
    'texts that name each other',
    `<!DOCTYPE s [<!ENTITY a "${'x'.repeat(50)}"><!ENTITY b "${'&a;'.repeat(50)}">]>${sheetOf(`<row r="1">${inline('A1', '&b;')}</row>`)}`,
    undefined,
    'not-text',
    /document type/,
  ],
  ['a tag without end', sheetOf(`<row r="1" x="${'z'.repeat(100_000)}"></row>`), undefined, 'not-text', /tag/],
]

test.each(HOSTILE)('%s is refused at once, in words', async (_, sheet, shared, code, words) => {
  const bytes = await workbookWith(sheet, shared)
  const read = await readWorkbook(bytes)
  expect(read.ok ? 'read' : [read.error.code, read.error.message]).toEqual([code, expect.stringMatching(words)])
})

test('what is far out and empty, as formatting leaves it, does no harm', async () => {
  const sheet = sheetOf(
    `<row r="1">${inline('A1', 'part')}<c r="XFD1" s="0"/></row><row r="1048576"><c r="A1048576" s="0"/></row>`,
  )
  const read = await readWorkbook(await workbookWith(sheet))
  expect(read).toMatchObject({ ok: true, value: [{ table: { rows: [['part']], lineOf: [1] } }] })
})

test('the last cell that can be read is read', async () => {
  expect([MAX_COLUMNS, MAX_ROWS]).toEqual([60, 200_000])
  const sheet = sheetOf(`<row r="200000">${inline('BH200000', 'x'.repeat(MAX_CELL))}</row>`)
  expect(sheetFault(strToU8(sheet))).toBeUndefined()
  const read = await readWorkbook(await workbookWith(sheet))
  expect(read.ok && read.value[0]?.table.lineOf).toEqual([200_000])
})

test('tags with a namespace of their own are looked at all the same', () => {
  const sheet = '<x:sheetData><x:row r="1"><x:c r="XFD1"><x:v>1</x:v></x:c></x:row></x:sheetData>'
  expect(sheetFault(strToU8(sheet))?.message).toContain('XFD1')
  expect(sheetFault(strToU8(sheet.replace('x:v', 'x:f')))?.message).toBeUndefined()
})

test('a workbook of 20,000 rows, far above what a reader unpacks aside, comes in whole', async () => {
  const rows = Array.from({ length: 20_000 }, (_, i) => [`plate ${1 + (i % 8)}x${1 + (i % 16)} no ${i}`, 'Soot', i + 1])
  const bytes = new Uint8Array(
    await writeWorkbook(
      rows.map((row) => row.map((value) => ({ value }))),
      { sheet: 'Parts' },
    ).toBuffer(),
  )
  const read = await readWorkbook(bytes)
  expect(read.ok && read.value[0]?.table.rows).toEqual(rows.map((row) => row.map(String)))
}, 60_000)
