import * as v from 'valibot'
import { ItemKeySchema } from '../catalogue/item.ts'
import { STATED_CONDITIONS } from '../units/condition.ts'
import { MOST_EXCHANGE } from '../units/exchange.ts'
import { BuildIdSchema, CopyIdSchema, OrderIdSchema } from '../units/ids.ts'
import { CurrencySchema } from '../units/money.ts'
import { QtySchema } from '../units/quantity.ts'

/** How far an order is, in the usual order; the last three end it where it is. */
export const ORDER_STATES = [
  'drafted',
  'placed',
  'paid',
  'dispatched',
  'arrived',
  'checked in',
  'cancelled',
  'lost',
  'returned',
] as const
export type OrderState = (typeof ORDER_STATES)[number]

/** What a carrier may say of a parcel. */
export const CARRIER_EVENTS = [
  'accepted',
  'on the way',
  'at customs',
  'out for delivery',
  'delivered',
  'sent back',
] as const
export type CarrierEvent = NonNullable<Order['news']>[number]

const Text = (max: number) => v.pipe(v.string(), v.minLength(1), v.maxLength(max))
const Note = v.optional(v.pipe(v.string(), v.maxLength(1000)))
const Day = v.pipe(v.string(), v.isoDate('a day such as 2026-12-10 is expected'))
const Count = v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(1_000_000))
const Amount = v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(1e12))

/** Pieces that came in place of others. */
const OtherPiecesSchema = v.object({ item: ItemKeySchema, qty: QtySchema })

/**
 * What was found of a line. All but `extra` are of what was ordered: right, not there, there but of no use, and other
 * pieces in their place. `extra` came beyond that.
 */
export const ReceiptSchema = v.object({
  right: Count,
  short: Count,
  damaged: Count,
  wrong: v.pipe(v.array(OtherPiecesSchema), v.maxLength(50)),
  extra: Count,
  /** Taken as right without counting. */
  uncounted: v.optional(v.boolean()),
})
export type Receipt = v.InferOutput<typeof ReceiptSchema>

export const OrderLineSchema = v.object({
  id: Text(120),
  item: ItemKeySchema,
  qty: QtySchema,
  /** Of one piece, minor units of the seller's money. */
  price: Amount,
  condition: v.picklist(STATED_CONDITIONS),
  /** Pieces for each build; what is beyond that is for none. */
  for: v.pipe(v.array(v.object({ build: BuildIdSchema, qty: QtySchema })), v.maxLength(200)),
  /** What the seller may do where there is none: a word for the seller. */
  note: Note,
  /** Printed to order. */
  print: v.optional(v.boolean()),
  /** What has come of it, as booked. */
  got: v.optional(ReceiptSchema),
})
export type OrderLine = v.InferOutput<typeof OrderLineSchema>

/** A donor copy among what is ordered: a record of its own, which says what it holds. */
export const OrderedCopySchema = v.object({
  id: CopyIdSchema,
  label: Text(200),
  price: Amount,
  /** Its pieces are on the table. */
  checked: v.optional(v.boolean()),
})
export type OrderedCopy = v.InferOutput<typeof OrderedCopySchema>

/** What a seller asks for, part by part, minor units of the seller's money; duty and tax in the user's. */
export const ChargesSchema = v.object({
  goods: Amount,
  shipping: Amount,
  handling: Amount,
  lineFees: Amount,
  service: Amount,
  levies: Amount,
})
export type Charges = v.InferOutput<typeof ChargesSchema>

export const CLAIM_STATES = ['open', 'promised', 'sent again', 'refunded', 'refused'] as const
export type ClaimState = (typeof CLAIM_STATES)[number]
export const CLAIM_REASONS = ['short', 'wrong', 'damaged', 'lost'] as const

/** What a claim is about: a line of the order, or all of it where none is named (shipping included). */
export const ClaimLineSchema = v.object({
  line: v.optional(Text(120)),
  copy: v.optional(CopyIdSchema),
  reason: v.picklist(CLAIM_REASONS),
  qty: Count,
  note: Note,
})
export type ClaimLine = v.InferOutput<typeof ClaimLineSchema>

export const ClaimSchema = v.object({
  id: Text(80),
  lines: v.pipe(v.array(ClaimLineSchema), v.minLength(1), v.maxLength(20_000)),
  /** Minor units of the seller's money. */
  asked: Amount,
  refunded: v.optional(Amount),
  history: v.pipe(v.array(v.object({ state: v.picklist(CLAIM_STATES), on: Day, note: Note })), v.minLength(1)),
})
export type Claim = v.InferOutput<typeof ClaimSchema>

const StepSchema = v.object({ state: v.picklist(ORDER_STATES), on: Day, note: Note })
export type OrderStep = v.InferOutput<typeof StepSchema>

/** What was asked of one seller, from the draft to the table, and all that became of it. */
export const OrderSchema = v.object({
  id: OrderIdSchema,
  /** What it is called: a running number. */
  number: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(1_000_000)),
  /** By its id while the shop is known; the name stays. */
  seller: v.object({ shop: v.optional(Text(120)), name: Text(120), country: v.optional(Text(2)) }),
  /** The builds that it is for; none once they are gone. */
  builds: v.pipe(v.array(BuildIdSchema), v.maxLength(200)),
  currency: CurrencySchema,
  /** The builds' money, and billionths of a minor unit of it for one of the seller's, where that is another. */
  home: CurrencySchema,
  rate: v.optional(v.pipe(v.number(), v.safeInteger(), v.minValue(1), v.maxValue(MOST_EXCHANGE))),
  lines: v.array(OrderLineSchema),
  copies: v.pipe(v.array(OrderedCopySchema), v.maxLength(500)),
  /** As planned; none of an order made elsewhere. */
  planned: v.optional(ChargesSchema),
  /** As the seller charged. */
  charged: v.optional(ChargesSchema),
  /** What has become of it, oldest first. */
  history: v.pipe(v.array(StepSchema), v.minLength(1), v.maxLength(200)),
  /** The seller's number of it. */
  reference: v.optional(Text(80)),
  tracking: v.optional(Text(60)),
  /** Days from ordering to the door, as expected when it was made. */
  leadDays: v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(2000)),
  /** The day on which it is to come, as the seller or the carrier says. */
  due: v.optional(Day),
  /** What the carrier said of it, oldest first. */
  news: v.optional(
    v.pipe(v.array(v.object({ kind: v.picklist(CARRIER_EVENTS), on: Day, where: Text(80) })), v.maxLength(50)),
  ),
  /** What has been counted of an opened parcel and is not booked yet, line by line. */
  bench: v.optional(v.array(v.object({ id: Text(120), ...ReceiptSchema.entries }))),
  /** How often something of it was booked: two tabs cannot both book. */
  bookings: Count,
  claims: v.pipe(v.array(ClaimSchema), v.maxLength(200)),
  /** The order in place of which this was sent. */
  replaces: v.optional(OrderIdSchema),
  /** When the plan that it is of was made. */
  planOf: v.optional(v.pipe(v.string(), v.isoTimestamp())),
  note: Note,
})
export type Order = v.InferOutput<typeof OrderSchema>
export type OrderBench = NonNullable<Order['bench']>

/** How far an order is now. */
export const stateOf = ({ history }: Pick<Order, 'history'>): OrderState => history.at(-1)?.state ?? 'drafted'

/** The last day on which it came to a state; undefined where it never did. */
export const dayOfState = ({ history }: Pick<Order, 'history'>, state: OrderState): string | undefined =>
  history.findLast((step) => step.state === state)?.on

/** What became of a claim. */
export const claimState = ({ history }: Pick<Claim, 'history'>): ClaimState => history.at(-1)?.state ?? 'open'

export const orderName = ({ number, seller }: Pick<Order, 'number' | 'seller'>): string =>
  `Order ${number}, ${seller.name}`

/** Of a line, what nothing is known of yet: neither here nor missing. */
export const openPieces = ({ qty, got }: Pick<OrderLine, 'qty' | 'got'>): number =>
  got ? Math.max(0, qty - accountedFor(got)) : qty

/** How many of the pieces ordered a receipt accounts for; those that came beyond them are not among them. */
export const accountedFor = ({ right, short, damaged, wrong }: Receipt): number =>
  right + short + damaged + wrong.reduce((n, w) => n + w.qty, 0)

export const NOTHING_GOT: Receipt = { right: 0, short: 0, damaged: 0, wrong: [], extra: 0 }

/** Two receipts of one line together. */
export const receiptsTogether = (p: Receipt, q: Receipt): Receipt => ({
  right: p.right + q.right,
  short: p.short + q.short,
  damaged: p.damaged + q.damaged,
  wrong: [...p.wrong, ...q.wrong],
  extra: p.extra + q.extra,
  ...((p.uncounted === true || q.uncounted === true) && { uncounted: true }),
})

const NO_FEES = { shipping: 0, handling: 0, lineFees: 0, service: 0, levies: 0 }

/** What a seller is owed: as charged, else what the lines come to by now with the fees that were planned. */
export const chargesOf = (order: Order): Charges =>
  order.charged ?? { ...NO_FEES, ...order.planned, goods: goodsOf(order) }

/** What its lines and copies come to, minor units of the seller's money. */
export const goodsOf = ({ lines, copies }: Pick<Order, 'lines' | 'copies'>): number =>
  lines.reduce((sum, l) => sum + l.qty * l.price, 0) + copies.reduce((sum, c) => sum + c.price, 0)
