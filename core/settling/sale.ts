import * as v from 'valibot'
import { ItemKeySchema } from '../catalogue/item.ts'
import { OriginSchema } from '../making/unit.ts'
import { STATED_CONDITIONS } from '../units/condition.ts'
import { MOST_EXCHANGE } from '../units/exchange.ts'
import { BuildIdSchema, OrderIdSchema, SaleIdSchema } from '../units/ids.ts'
import { CurrencySchema, MOST_AMOUNT } from '../units/money.ts'
import { QtySchema } from '../units/quantity.ts'

/** How pieces leave: at an asking price, to whoever bids most, or for nothing. */
export const SALE_WAYS = ['price', 'auction', 'gift'] as const
export const SALE_STATES = ['listed', 'sold', 'sent', 'withdrawn'] as const
export type SaleState = (typeof SALE_STATES)[number]

const Text = (max: number) => v.pipe(v.string(), v.minLength(1), v.maxLength(max))
const Note = v.optional(v.pipe(v.string(), v.maxLength(1000)))
const Day = v.pipe(v.string(), v.isoDate('a day such as 2026-12-10 is expected'))
const Amount = v.pipe(v.number(), v.safeInteger(), v.minValue(0), v.maxValue(MOST_AMOUNT))

/** Pieces that were set aside to leave, and where they were. */
export const SaleLotSchema = v.object({
  item: ItemKeySchema,
  qty: QtySchema,
  from: OriginSchema,
  condition: v.picklist(STATED_CONDITIONS),
  length: v.optional(v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(10_000))),
  uncounted: v.optional(OrderIdSchema),
  /** Of a figure that goes as a whole, by its name. */
  figure: v.optional(Text(200)),
})
export type SaleLot = v.InferOutput<typeof SaleLotSchema>

/**
 * Pieces that a build left over and that are offered, sold or given away. They lie in no box any more: a piece is on the
 * shelf, in a copy, in a model or in a sale.
 */
export const SaleSchema = v.object({
  id: SaleIdSchema,
  /** The build that left them over: what they bring is its. */
  build: BuildIdSchema,
  title: Text(200),
  way: v.picklist(SALE_WAYS),
  lots: v.pipe(v.array(SaleLotSchema), v.minLength(1), v.maxLength(20_000)),
  currency: CurrencySchema,
  /** What is asked; of an auction what it begins at. */
  ask: v.optional(Amount),
  /** What is likely to come, and what is hoped for; of an auction the range. */
  likely: v.optional(Amount),
  hoped: v.optional(Amount),
  /** What was paid for them, and what selling and sending took of that. */
  got: v.optional(Amount),
  costs: v.optional(Amount),
  /** Billionths of a minor unit of the build's money for one of the sale's, on the day of payment. */
  rate: v.optional(v.pipe(v.number(), v.safeInteger(), v.minValue(1), v.maxValue(MOST_EXCHANGE))),
  /** What has become of it, oldest first. */
  history: v.pipe(v.array(v.object({ state: v.picklist(SALE_STATES), on: Day, note: Note })), v.minLength(1)),
  note: Note,
})
export type Sale = v.InferOutput<typeof SaleSchema>

export const saleState = ({ history }: Pick<Sale, 'history'>): SaleState => history.at(-1)?.state ?? 'listed'

export const piecesOfSale = ({ lots }: Pick<Sale, 'lots'>): number => lots.reduce((n, l) => n + l.qty, 0)
