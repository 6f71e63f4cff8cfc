import * as v from 'valibot'
import { ItemKeySchema } from '../catalogue/item.ts'
import { STATED_CONDITIONS } from '../units/condition.ts'
import { BuildIdSchema, HoldingIdSchema, OrderIdSchema, PlaceIdSchema, type BuildId } from '../units/ids.ts'
import { QtySchema } from '../units/quantity.ts'

/** Pieces of one item in one place. */
export const HoldingSchema = v.object({
  id: HoldingIdSchema,
  place: PlaceIdSchema,
  item: ItemKeySchema,
  qty: QtySchema,
  /** True when `qty` is a guess ("about 60"). */
  estimate: v.boolean(),
  condition: v.picklist(STATED_CONDITIONS),
  /** Length of each piece of hose or string in mm, where it is known or differs from the name's. */
  length: v.optional(v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(10_000))),
  /** Pieces promised to builds; they are not free for any other. */
  reserved: v.optional(v.array(v.object({ build: BuildIdSchema, qty: QtySchema }))),
  /** The order with which they came, taken as right and not counted since. */
  uncounted: v.optional(OrderIdSchema),
})
export type Holding = v.InferOutput<typeof HoldingSchema>

/** Pieces a holding counts for: all when counted, a share (percent, rounded down) when estimated. */
export const countsFor = (holding: Pick<Holding, 'qty' | 'estimate'>, estimatePercent: number): number =>
  holding.estimate ? Math.floor((holding.qty * estimatePercent) / 100) : holding.qty

/** Pieces of a holding that a build may count on: what it counts for, less what is promised to other builds. */
export const freeFor = (
  holding: Pick<Holding, 'qty' | 'estimate' | 'reserved'>,
  build: BuildId,
  estimatePercent: number,
): number =>
  Math.max(
    0,
    countsFor(holding, estimatePercent) -
      (holding.reserved ?? []).reduce((n, r) => n + (r.build === build ? 0 : r.qty), 0),
  )
