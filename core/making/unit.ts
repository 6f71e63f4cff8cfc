import * as v from 'valibot'
import { ItemKeySchema } from '../catalogue/item.ts'
import { STATED_CONDITIONS } from '../units/condition.ts'
import { hash53 } from '../units/hash.ts'
import {
  BuildIdSchema,
  CopyIdSchema,
  LineIdSchema,
  ModuleIdSchema,
  OrderIdSchema,
  PlaceIdSchema,
  UnitIdSchema,
  type BuildId,
  type LineId,
  type ModuleId,
  type UnitId,
} from '../units/ids.ts'
import { QtySchema } from '../units/quantity.ts'

const Text = (max: number) => v.pipe(v.string(), v.minLength(1), v.maxLength(max))
const Note = v.optional(v.pipe(v.string(), v.maxLength(1000)))
const Day = v.pipe(v.string(), v.isoDate('a day such as 2026-12-10 is expected'))
const Instant = v.pipe(v.string(), v.isoTimestamp('an instant such as 2026-12-10T18:00:00.000Z is expected'))
const Count = v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(1_000_000))

/** Where pieces of a model came from, and where they go when they come out again. */
export const OriginSchema = v.variant('kind', [
  v.object({ kind: v.literal('copy'), copy: CopyIdSchema }),
  v.object({
    kind: v.literal('place'),
    place: PlaceIdSchema,
    /** Pieces reserved for the build there. */ reserved: Count,
  }),
  /** They were on the table and nobody knew of them. */
  v.object({ kind: v.literal('found') }),
])

/** Pieces that were put into a model. */
export const PutSchema = v.object({
  /** The line of the design they are for; none where the design asks for no such pieces here. */
  line: v.optional(LineIdSchema),
  item: ItemKeySchema,
  qty: QtySchema,
  /** Required pieces that they stand for; of several that serve together the first says so. */
  covers: Count,
  /** Puts of one number serve together: they come out together. */
  kit: v.optional(Count),
  from: OriginSchema,
  condition: v.picklist(STATED_CONDITIONS),
  length: v.optional(v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(10_000))),
  /** The order with which they came, taken as right and not counted. */
  uncounted: v.optional(OrderIdSchema),
  /** They stayed where they were in a donor that stood built. */
  stayed: v.optional(v.boolean()),
  /** What was here before it was exchanged for show, to be put back. */
  shown: v.optional(v.object({ item: ItemKeySchema, on: Day })),
})
export type Put = v.InferOutput<typeof PutSchema>

/** What did not go as drawn: each is a decision with its effect. */
export const EXCEPTION_KINDS = ['left out', 'put elsewhere', 'other colour', 'unclear', 'failed'] as const
export const ExceptionSchema = v.object({
  id: Text(80),
  kind: v.picklist(EXCEPTION_KINDS),
  line: v.optional(LineIdSchema),
  /** Pieces it is about. */
  qty: v.optional(Count),
  on: Day,
  note: Note,
  /** Of a failed try: minutes that it took. */
  minutes: v.optional(Count),
  /** Of what was unclear: it is no longer. */
  cleared: v.optional(v.boolean()),
})
export type Exception = v.InferOutput<typeof ExceptionSchema>

/** What time at the table goes into. */
export const TIME_KINDS = ['building', 'designing'] as const
export const TimeSchema = v.object({
  id: Text(80),
  kind: v.picklist(TIME_KINDS),
  from: Instant,
  /** Running where left out. */
  to: v.optional(Instant),
})
export type WorkTime = v.InferOutput<typeof TimeSchema>

/** One repeat of a module in one place of the design, as it is being built: what is in it, and how it went. */
export const UnitSchema = v.object({
  id: UnitIdSchema,
  build: BuildIdSchema,
  /** The module, with those around it before it. */
  path: v.pipe(v.array(ModuleIdSchema), v.minLength(1), v.maxLength(100)),
  /** Which of its repeats, from 1 on. */
  repeat: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(1_000_000)),
  put: v.array(PutSchema),
  /** Lines of which pieces were left out on purpose. */
  leftOut: v.pipe(v.array(v.object({ line: LineIdSchema, qty: QtySchema })), v.maxLength(20_000)),
  exceptions: v.pipe(v.array(ExceptionSchema), v.maxLength(500)),
  times: v.pipe(v.array(TimeSchema), v.maxLength(500)),
  /** The finished model that it is part of: its pieces are there. */
  standsIn: v.optional(PlaceIdSchema),
})
export type Unit = v.InferOutput<typeof UnitSchema>

/** The place of a module in the design, as a key. */
export const pathKey = (path: readonly ModuleId[]): string => path.join('/')

/** The one id that a repeat of a module in its place has. */
export const unitId = (build: BuildId, path: readonly ModuleId[], repeat: number): UnitId =>
  `u-${build.slice(2, 40)}~${hash53(`${build}\n${pathKey(path)}`, 7).toString(36)}~${repeat}` as UnitId

/** A repeat of which nothing was built yet. */
export const newUnit = (build: BuildId, path: readonly ModuleId[], repeat: number): Unit => ({
  id: unitId(build, path, repeat),
  build,
  path: [...path],
  repeat,
  put: [],
  leftOut: [],
  exceptions: [],
  times: [],
})

/** Required pieces of a line that what was put in stands for. */
export const putOf = (unit: Pick<Unit, 'put'>, line: LineId): number =>
  unit.put.reduce((n, p) => n + (p.line === line ? p.covers : 0), 0)

/** Pieces of a line that were left out on purpose. */
export const leftOutOf = (unit: Pick<Unit, 'leftOut'>, line: LineId): number =>
  unit.leftOut.reduce((n, l) => n + (l.line === line ? l.qty : 0), 0)

/** Pieces that are in a unit. */
export const piecesIn = ({ put }: Pick<Unit, 'put'>): number => put.reduce((n, p) => n + p.qty, 0)
