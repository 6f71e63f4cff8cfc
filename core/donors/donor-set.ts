import * as v from 'valibot'
import { ItemKeySchema } from '../catalogue/item.ts'
import { CONDITIONS } from '../units/condition.ts'
import { BuildIdSchema, CopyIdSchema, SetIdSchema } from '../units/ids.ts'
import { MoneySchema } from '../units/money.ts'
import { QtySchema } from '../units/quantity.ts'

const Name = v.pipe(v.string(), v.minLength(1), v.maxLength(200))

/** An official set's inventory, in stages. A figure's pieces carry the figure's name. */
export const DonorSetSchema = v.object({
  id: SetIdSchema,
  name: Name,
  year: v.optional(v.pipe(v.number(), v.integer(), v.minValue(1930), v.maxValue(2100))),
  retail: v.optional(MoneySchema),
  /** The day after which it is no longer made, ISO 8601 date. */
  retires: v.optional(v.pipe(v.string(), v.isoDate('a date like 2027-03-31 is expected'))),
  note: v.optional(v.pipe(v.string(), v.maxLength(2000))),
  stages: v.array(v.object({ id: Name, name: Name })),
  lines: v.array(
    v.object({
      stage: Name,
      item: ItemKeySchema,
      qty: QtySchema,
      spare: v.boolean(),
      figure: v.optional(Name),
    }),
  ),
})
export type DonorSet = v.InferOutput<typeof DonorSetSchema>

/** One bought (or wanted) example of a donor set. */
export const CopySchema = v.object({
  id: CopyIdSchema,
  setId: SetIdSchema,
  label: Name,
  /** The build it serves; a copy serves one build at a time. */
  buildId: v.nullable(BuildIdSchema),
  /** A gift counts like an owned copy; a promised one as on order, until it is there. */
  state: v.picklist(['owned', 'gift', 'promised', 'to-buy']),
  askingPrice: v.optional(MoneySchema),
  /** What was paid for a copy that is there. */
  paid: v.optional(MoneySchema),
  /** The day on which that was paid. */
  paidOn: v.optional(v.pipe(v.string(), v.isoDate('a day such as 2026-12-10 is expected'))),
  /** Of its pieces; any when left out. */
  condition: v.optional(v.picklist(CONDITIONS)),
  /** Stages that count; the others stay closed. */
  stages: v.union([v.literal('all'), v.array(Name)]),
  spares: v.boolean(),
  missing: v.array(v.object({ item: ItemKeySchema, qty: QtySchema })),
  /** Stages that stand built, and what has been done with them by now; none stands when left out. */
  stands: v.optional(
    v.pipe(
      v.array(
        v.object({
          stage: Name,
          off: v.array(v.object({ item: ItemKeySchema, qty: QtySchema })),
          /** As a whole it was moved or turned, as the design says. */
          moved: v.optional(v.boolean()),
        }),
      ),
      v.maxLength(1000),
    ),
  ),
})
export type Copy = v.InferOutput<typeof CopySchema>

/** Whether a copy was someone's before: worn or used, or without some of its pieces. There is but the one. */
export const isSecondHand = ({ condition, missing }: Pick<Copy, 'condition' | 'missing'>): boolean =>
  (condition !== undefined && condition !== 'new') || missing.length > 0
