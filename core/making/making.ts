import * as v from 'valibot'
import { ItemKeySchema } from '../catalogue/item.ts'
import { BuildIdSchema, LineIdSchema, PlaceIdSchema, type BuildId } from '../units/ids.ts'
import { QtySchema } from '../units/quantity.ts'

const Text = (max: number) => v.pipe(v.string(), v.minLength(1), v.maxLength(max))
const Note = v.optional(v.pipe(v.string(), v.maxLength(1000)))
const Day = v.pipe(v.string(), v.isoDate('a day such as 2026-12-10 is expected'))

/** What a sticker is at, and what becomes of it. */
export const STICKER_STATES = ['on the sheet', 'put off', 'applied', 'left out', 'peeled', 'spare', 'unusable'] as const

export const StickerSchema = v.object({
  id: Text(80),
  /** Its number on the sheet, or what it shows. */
  name: Text(120),
  /** The sheet, or the stickered piece that it was bought with. */
  of: v.optional(ItemKeySchema),
  state: v.picklist(STICKER_STATES),
  /** The line whose piece it goes on. */
  line: v.optional(LineIdSchema),
  condition: v.optional(v.picklist(['new', 'used', 'worn'])),
  note: Note,
})
export type Sticker = v.InferOutput<typeof StickerSchema>

/** What a reference shows, to be compared with the model. */
export const CHECK_KINDS = ['count', 'side', 'position'] as const
export const CHECK_STATES = ['open', 'as shown', 'departs'] as const
export const CheckSchema = v.object({
  id: Text(80),
  kind: v.picklist(CHECK_KINDS),
  text: Text(300),
  state: v.picklist(CHECK_STATES),
  note: Note,
})
export type Check = v.InferOutput<typeof CheckSchema>

/** What is said of making one build beside its units: one record a build. */
export const MakingSchema = v.object({
  id: BuildIdSchema,
  /** People at the table. */
  people: v.optional(v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(20))),
  /** Piles that are sorted into at most. */
  piles: v.optional(v.pipe(v.number(), v.integer(), v.minValue(2), v.maxValue(60))),
  /** What lies on the table by now, by where it was fetched from: a holding or a copy. */
  fetched: v.pipe(v.array(v.object({ from: Text(400), item: ItemKeySchema, qty: QtySchema })), v.maxLength(20_000)),
  /** Timed sortings, into so many piles. */
  sorts: v.pipe(
    v.array(
      v.object({
        id: Text(80),
        on: Day,
        person: Text(80),
        pieces: QtySchema,
        minutes: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(100_000)),
        piles: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(1000)),
      }),
    ),
    v.maxLength(500),
  ),
  stickers: v.pipe(v.array(StickerSchema), v.maxLength(2000)),
  checks: v.pipe(v.array(CheckSchema), v.maxLength(2000)),
  /** Pieces counted on the table to find swaps by. */
  counted: v.pipe(
    v.array(
      v.object({ item: ItemKeySchema, qty: v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(1_000_000)) }),
    ),
    v.maxLength(20_000),
  ),
  /** The finished model, and since when. */
  finished: v.optional(v.object({ place: PlaceIdSchema, on: Day })),
})
export type Making = v.InferOutput<typeof MakingSchema>

/** Of a build of which nothing is said yet. */
export const newMaking = (id: BuildId): Making => ({
  id,
  fetched: [],
  sorts: [],
  stickers: [],
  checks: [],
  counted: [],
})
