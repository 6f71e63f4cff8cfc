import { unzipSync, zipSync, type Unzipped } from 'fflate'
import readSheets from 'read-excel-file/universal'
import { fail, ok, type Result } from '../units/result.ts'
import { MAX_CELL, MAX_COLUMNS, MAX_ROWS, type ListError, type ListTable } from './delimited.ts'
import { sheetFault, tooLong } from './workbook-bounds.ts'

/** What a workbook may unpack to, bytes; a small file that unpacks to more is a trap or a mistake. */
export const MAX_UNPACKED = 150 * 1024 * 1024
const MAX_ENTRIES = 2000

/** True for a zip archive, which every XLSX workbook is. */
export const looksLikeWorkbook = (bytes: Uint8Array): boolean =>
  bytes[0] === 0x50 && bytes[1] === 0x4b && bytes[2] === 0x03 && bytes[3] === 0x04

/**
 * Reads the sheets of an XLSX workbook as tables of text; empty sheets are left out. Cells hold what they show or, for
 * formulas, their last result; nothing is run. Sizes are checked before anything is unpacked.
 */
export async function readWorkbook(
  bytes: Uint8Array,
  maxUnpacked: number = MAX_UNPACKED,
): Promise<Result<readonly { readonly name: string; readonly table: ListTable }[], ListError>> {
  let unpacked = 0
  let entries = 0
  try {
    unzipSync(bytes, {
      filter: ({ originalSize }) => {
        unpacked += originalSize
        entries++
        return false
      },
    })
  } catch {
    return fail({ code: 'not-text', message: 'The workbook is damaged. Save it again as XLSX, or export it as CSV.' })
  }
  if (unpacked > maxUnpacked || entries > MAX_ENTRIES)
    return fail({
      code: 'too-large',
      message: `The workbook unpacks to more than ${Math.round(maxUnpacked / 1024 / 1024)} MB. Export the one sheet you need as CSV.`,
    })
  let contents: Unzipped
  try {
    contents = unzipSync(bytes, { filter: ({ name }) => /\.(xml|rels)$/.test(name) })
  } catch {
    return fail({ code: 'not-text', message: 'The workbook is damaged. Save it again as XLSX, or export it as CSV.' })
  }
  for (const xml of Object.values(contents)) {
    const fault = sheetFault(xml)
    if (fault) return fail(fault)
  }
  let sheets: Awaited<ReturnType<typeof readSheets>>
  try {
    // Stored, not packed: the reader's own unzip would start workers of its own for large entries.
    sheets = await readSheets(zipSync(contents, { level: 0 }).buffer as ArrayBuffer)
  } catch {
    return fail({
      code: 'not-text',
      message: 'This is no XLSX workbook that can be read (an older or protected one?). Export the sheet as CSV.',
    })
  }
  const tables: { name: string; table: ListTable }[] = []
  for (const { sheet, data } of sheets) {
    const rows: string[][] = []
    const lineOf: number[] = []
    for (const [i, row] of data.entries()) {
      const cells = row.map(cellText)
      if (cells.every((c) => c.trim() === '')) continue
      const long = cells.findIndex((c) => c.length > MAX_CELL)
      if (long >= 0) return fail(tooLong(`${columnLetter(long)}${i + 1}`))
      if (cells.length > MAX_COLUMNS)
        return fail({ code: 'too-many-columns', message: `Sheet "${sheet}" has more than ${MAX_COLUMNS} columns.` })
      if (rows.length >= MAX_ROWS)
        return fail({
          code: 'too-many-rows',
          message: `Sheet "${sheet}" has more than ${MAX_ROWS} rows. Split it into smaller ones.`,
        })
      rows.push(cells)
      lineOf.push(i + 1)
    }
    if (rows.length > 0) tables.push({ name: sheet, table: { rows, lineOf } })
  }
  if (tables.length === 0) return fail({ code: 'empty', message: 'Every sheet of the workbook is empty.' })
  return ok(tables)
}

/** A, B, ..., Z, AA, ... */
const columnLetter = (index: number): string =>
  (index >= 26 ? columnLetter(Math.floor(index / 26) - 1) : '') + String.fromCharCode(65 + (index % 26))

function cellText(cell: unknown): string {
  if (cell === null || cell === undefined) return ''
  if (cell instanceof Date) return cell.toISOString().slice(0, 10)
  return typeof cell === 'string' ? cell : typeof cell === 'number' || typeof cell === 'boolean' ? String(cell) : ''
}
