import * as v from 'valibot'
import { MOST_EXCHANGE } from '../units/exchange.ts'
import { BuildIdSchema, EntryIdSchema, ModuleIdSchema } from '../units/ids.ts'
import { CurrencySchema, MOST_AMOUNT } from '../units/money.ts'

/** What money goes into. */
export const SPENDING = [
  'donor copies',
  'loose pieces',
  'shipping',
  'fees',
  'duty and tax',
  'prints',
  'plans',
  'other',
] as const
/** What money comes from. */
export const INCOME = ['resale', 'instructions sold'] as const
export const CATEGORIES = [...SPENDING, ...INCOME] as const
export type Category = (typeof CATEGORIES)[number]

export const isIncome = (category: Category): boolean => INCOME.some((c) => c === category)

const Text = (max: number) => v.pipe(v.string(), v.minLength(1), v.maxLength(max))

/** An entry of a build's ledger that was typed: money that was paid or came in, or what corrects another entry. */
export const EntrySchema = v.object({
  id: EntryIdSchema,
  build: BuildIdSchema,
  /** The day of payment. */
  on: v.pipe(v.string(), v.isoDate('a day such as 2026-12-10 is expected')),
  category: v.picklist(CATEGORIES),
  /** What was paid; of income what came in. Below 0 where it takes back what another entry says too much. */
  amount: v.object({
    minor: v.pipe(v.number(), v.safeInteger(), v.minValue(-MOST_AMOUNT), v.maxValue(MOST_AMOUNT)),
    currency: CurrencySchema,
  }),
  /**
   * Billionths of a minor unit of the build's money for one of the amount's, as it was on that day; left out where both
   * are the same.
   */
  rate: v.optional(v.pipe(v.number(), v.safeInteger(), v.minValue(1), v.maxValue(MOST_EXCHANGE))),
  text: Text(300),
  /** The module it is for; the whole build when left out. */
  module: v.optional(ModuleIdSchema),
  /** The entry that it corrects, by its key in the ledger; that one stays as it is. */
  corrects: v.optional(Text(400)),
  /** A photo of the receipt, by its id among the pictures. */
  receipt: v.optional(Text(80)),
})
export type Entry = v.InferOutput<typeof EntrySchema>
