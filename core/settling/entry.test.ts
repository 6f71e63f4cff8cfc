import * as v from 'valibot'
import { readJobFile, JOB_FORMAT, JOB_VERSION } from '../formats/job-file.ts'
import { AT, SAMPLES } from '../records/records.test-data.ts'
import { RECORD_KINDS } from '../records/registry.ts'
import { MOST_AMOUNT } from '../units/money.ts'
import { CATEGORIES, EntrySchema, INCOME, isIncome } from './entry.ts'
import { SaleSchema } from './sale.ts'

const fits = (schema: v.GenericSchema, record: unknown): boolean => v.safeParse(schema, record).success
const { entries: entry, sales: sale } = SAMPLES

test('an entry without a currency, with an unsafe amount or no day is none; nothing of it is guessed', () => {
  expect(fits(EntrySchema, entry)).toBe(true)
  const amounts: readonly unknown[] = [
    { minor: 100 },
    { minor: 100, currency: '' },
    { minor: 100, currency: 'XYZ' },
    { minor: 1.5, currency: 'EUR' },
    { minor: Number.MAX_SAFE_INTEGER + 2, currency: 'EUR' },
    { minor: MOST_AMOUNT + 1, currency: 'EUR' },
    { minor: NaN, currency: 'EUR' },
  ]
  for (const amount of amounts) expect([amount, fits(EntrySchema, { ...entry, amount })]).toEqual([amount, false])
  for (const on of ['', '2026-13-01', 'yesterday']) expect(fits(EntrySchema, { ...entry, on })).toBe(false)
  expect(fits(EntrySchema, { ...entry, category: 'sweets' })).toBe(false)
  expect(CATEGORIES.filter(isIncome)).toEqual(INCOME)
})

test('a sale of nothing, or of part of a piece, is none', () => {
  expect(fits(SaleSchema, sale)).toBe(true)
  expect(fits(SaleSchema, { ...sale, lots: [] })).toBe(false)
  expect(fits(SaleSchema, { ...sale, lots: [{ ...sale.lots[0], qty: 0.5 }] })).toBe(false)
  expect(fits(SaleSchema, { ...sale, history: [] })).toBe(false)
  expect(fits(SaleSchema, { ...sale, got: -1 })).toBe(false)
})

test('a job file with such an entry names it, and nothing of the file is taken', () => {
  const file = (amount: unknown) =>
    JSON.stringify({
      ...{ format: JOB_FORMAT, version: JOB_VERSION, savedAt: AT, setAside: [] },
      ...Object.fromEntries(RECORD_KINDS.map((kind) => [kind, []])),
      entries: [{ ...entry, amount }],
    })
  expect(readJobFile(file(entry.amount)).ok).toBe(true)
  const read = readJobFile(file({ minor: 450 }))
  if (read.ok) throw new Error('taken')
  expect(read.error.code).toBe('damaged')
  expect(read.error.message).toMatch(/ledger entry|entries/i)
  expect(read.error.message).toMatch(/currency/)
})
