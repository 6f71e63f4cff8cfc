import * as v from 'valibot'
import { ok, refuse, type Fault, type Result } from '../units/result.ts'

const Id = v.pipe(v.string(), v.minLength(1), v.maxLength(600))
const Pieces = v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(1_000_000))
const Points = v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(1_000_000))

/** One way to cover a required piece: one or more pieces of one or more items, at so much compromise a required piece. */
export const AcceptSchema = v.object({
  id: Id,
  uses: v.pipe(
    v.array(v.object({ item: Id, qty: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(1000)) })),
    v.minLength(1),
    v.maxLength(20),
  ),
  compromise: Points,
  /** The scheme of the line's group that this option belongs to; any scheme when left out. */
  scheme: v.optional(Id),
})
export type Accept = v.InferOutput<typeof AcceptSchema>

export const NettingProblemSchema = v.pipe(
  v.object({
    format: v.literal('netting-problem'),
    /** Version 2 adds groups of lines that choose one scheme together; version 1 has none. */
    version: v.picklist([1, 2]),
    id: v.string(),
    lines: v.array(v.object({ id: Id, qty: Pieces, accepts: v.array(AcceptSchema), group: v.optional(Id) })),
    supplies: v.array(
      v.object({
        id: Id,
        item: Id,
        qty: Pieces,
        rank: v.pipe(Points, v.maxValue(10_000)),
        /** Where it is; few places are visited, as far as the objective leaves a choice. */
        place: v.optional(Id),
      }),
    ),
  }),
  v.check((p) => new Set(p.lines.map((l) => l.id)).size === p.lines.length, 'two lines have the same id'),
  v.check((p) => new Set(p.supplies.map((s) => s.id)).size === p.supplies.length, 'two supplies have the same id'),
  v.check(
    (p) => p.lines.every((l) => new Set(l.accepts.map((a) => a.id)).size === l.accepts.length),
    'a line accepts two options of the same id',
  ),
  v.rawCheck(({ dataset, addIssue }) => {
    if (!dataset.typed || dataset.value.version !== 1) return
    const newer = (what: string) => {
      addIssue({ message: `${what} is of version 2; say "version": 2 or leave it out` })
    }
    const line = dataset.value.lines.findIndex((l) => l.group !== undefined)
    if (line >= 0) newer(`lines.${line}.group`)
    const choice = dataset.value.lines.findIndex((l) => l.accepts.some((a) => a.scheme !== undefined))
    if (choice >= 0) newer(`a scheme in lines.${choice}.accepts`)
  }),
)

/** A requirement line: `qty` pieces, each covered by one accepted option; lines of a group by options of one scheme. */
export type NettingLine = {
  readonly id: string
  readonly qty: number
  readonly accepts: readonly Accept[]
  readonly group?: string | undefined
}
export type NettingSupply = {
  readonly id: string
  readonly item: string
  readonly qty: number
  /** Preference of the source, per piece drawn: 0 is used first. */
  readonly rank: number
  readonly place?: string | undefined
}
export type NettingProblem = { readonly lines: readonly NettingLine[]; readonly supplies: readonly NettingSupply[] }

/** So many pieces drawn from a supply. */
const PegSchema = v.object({ supply: Id, qty: Pieces })

/** A plan in the exchange format. */
export const NettingPlanSchema = v.object({
  format: v.literal('netting-plan'),
  version: v.picklist([1, 2]),
  /** The scheme each group took; none in version 1. */
  schemes: v.optional(v.array(v.object({ group: Id, scheme: Id }))),
  /** So many required pieces of a line covered by one of its options; pegs add up to qty × what the option uses. */
  assignments: v.array(v.object({ line: Id, accept: Id, qty: Pieces, pegs: v.array(PegSchema) })),
  /** Required pieces left uncovered. */
  short: v.pipe(v.number(), v.integer(), v.minValue(0)),
  compromise: v.pipe(v.number(), v.integer(), v.minValue(0)),
  rank: v.pipe(v.number(), v.integer(), v.minValue(0)),
  /** True when no plan is better: in pieces short, then compromise, then rank. */
  proven: v.boolean(),
})

export type Peg = Readonly<v.InferOutput<typeof PegSchema>>
export type Assignment = {
  readonly line: string
  readonly accept: string
  readonly qty: number
  readonly pegs: readonly Peg[]
}
export type NettingPlan = {
  /** The scheme of each group, by group. */
  readonly schemes?: readonly { readonly group: string; readonly scheme: string }[]
  readonly assignments: readonly Assignment[]
  readonly short: number
  readonly compromise: number
  readonly rank: number
  readonly proven: boolean
}

/** Reads the exchange format; what is wrong is said with its place in the file. */
export function parseNettingProblem(value: unknown): Result<v.InferOutput<typeof NettingProblemSchema>, Fault<'form'>> {
  const parsed = v.safeParse(NettingProblemSchema, value)
  if (parsed.success) return ok(parsed.output)
  const issue = parsed.issues[0]
  const where = v.getDotPath(issue)
  return refuse('form', where ? `${where}: ${issue.message}` : issue.message)
}
