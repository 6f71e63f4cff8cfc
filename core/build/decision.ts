import * as v from 'valibot'
import { ItemKeySchema, type ItemKey } from '../catalogue/item.ts'
import {
  BuildIdSchema,
  CopyIdSchema,
  DecisionIdSchema,
  HoldingIdSchema,
  LineIdSchema,
  PartIdSchema,
  type BuildId,
  type LineId,
} from '../units/ids.ts'
import { QtySchema } from '../units/quantity.ts'

/** Pieces that serve for one. */
export const UsesSchema = v.pipe(
  v.array(v.object({ item: ItemKeySchema, qty: v.pipe(QtySchema, v.maxValue(1000)) })),
  v.minLength(1),
  v.maxLength(20),
)

/** A supply as a decision names it: it may be gone by the time it is looked for. */
export const PinnedSourceSchema = v.variant('kind', [
  v.object({
    kind: v.literal('copy'),
    copy: CopyIdSchema,
    stage: v.pipe(v.string(), v.maxLength(200)),
    item: ItemKeySchema,
  }),
  v.object({ kind: v.literal('shelf'), holding: HoldingIdSchema, item: ItemKeySchema }),
])
export type PinnedSource = v.InferOutput<typeof PinnedSourceSchema>

/** One decision by hand about what covers what, beyond the house rules. */
export const DecisionSchema = v.object({
  id: DecisionIdSchema,
  /** The build it holds for; every build when null. */
  build: v.nullable(BuildIdSchema),
  /** The day on which it was made, and why, where that was said. */
  on: v.optional(v.pipe(v.string(), v.isoDate('a day such as 2026-12-10 is expected'))),
  why: v.optional(v.pipe(v.string(), v.maxLength(500))),
  what: v.variant('kind', [
    /** So many pieces of a line come from this supply, whatever the rules say of it. */
    v.object({ kind: v.literal('pin'), line: LineIdSchema, source: PinnedSourceSchema, qty: QtySchema }),
    /** These pieces never stand in for the item: on one line, or wherever the decision holds. */
    v.object({ kind: v.literal('forbid'), line: v.optional(LineIdSchema), item: ItemKeySchema, uses: UsesSchema }),
    /** On this line these pieces are as good as the item. */
    v.object({ kind: v.literal('accept'), line: LineIdSchema, item: ItemKeySchema, uses: UsesSchema }),
    /** One piece of a part may be made of others, in its own colour. */
    v.object({
      kind: v.literal('own'),
      part: PartIdSchema,
      uses: v.pipe(
        v.array(v.object({ part: PartIdSchema, qty: v.pipe(QtySchema, v.maxValue(1000)) })),
        v.minLength(1),
        v.maxLength(20),
      ),
      /** Points of compromise per piece. */
      points: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(100)),
    }),
  ]),
})
export type Decision = v.InferOutput<typeof DecisionSchema>
export type Pin = Extract<Decision['what'], { kind: 'pin' }>
export type OwnRule = Extract<Decision['what'], { kind: 'own' }>

/** Equal for the same pieces, whatever their order. */
export const usesKey = (uses: readonly { readonly item: ItemKey; readonly qty: number }[]): string =>
  uses.length === 1 && uses[0]?.qty === 1
    ? uses[0].item
    : uses
        .map((u) => `${u.qty} ${u.item}`)
        .sort()
        .join('\n')

/** What the user decided of lines and stand-ins, found by line and by item. */
export type DecisionBook = {
  /** Nothing was decided of any line. */
  readonly empty: boolean
  readonly pins: readonly { readonly id: Decision['id']; readonly pin: Pin }[]
  readonly own: readonly OwnRule[]
  /** `usesKey`s that must not cover a line's item. */
  forbidden(line: LineId, item: ItemKey): readonly string[]
  /** Whether anything is forbidden or accepted for a line and its item. */
  concerns(line: LineId, item: ItemKey): boolean
  /** `usesKey`s that are as good as a line's item. */
  accepted(line: LineId, item: ItemKey): readonly string[]
}

const NONE: readonly string[] = []

/** Sorts the decisions that hold for a build; those of other builds are left out. */
export function decisionBook(decisions: readonly Decision[], build: BuildId): DecisionBook {
  const pins: { id: Decision['id']; pin: Pin }[] = []
  const own: OwnRule[] = []
  const forbidden = new Map<string, string[]>()
  const accepted = new Map<string, string[]>()
  const put = (map: Map<string, string[]>, key: string, value: string) => map.set(key, [...(map.get(key) ?? []), value])
  for (const { id, build: where, what } of [...decisions].sort((p, q) => (p.id < q.id ? -1 : 1))) {
    if (where !== null && where !== build) continue
    if (what.kind === 'pin') pins.push({ id, pin: what })
    else if (what.kind === 'own') own.push(what)
    else if (what.kind === 'forbid') put(forbidden, `${what.line ?? ''}\n${what.item}`, usesKey(what.uses))
    else put(accepted, `${what.line}\n${what.item}`, usesKey(what.uses))
  }
  return {
    pins,
    own,
    empty: pins.length === 0 && forbidden.size === 0 && accepted.size === 0,
    concerns: (line, item) =>
      (forbidden.size > 0 && (forbidden.has(`${line}\n${item}`) || forbidden.has(`\n${item}`))) ||
      (accepted.size > 0 && accepted.has(`${line}\n${item}`)),
    forbidden: (line, item) => {
      const [here, anywhere] = [forbidden.get(`${line}\n${item}`), forbidden.get(`\n${item}`)]
      return here && anywhere ? [...new Set([...here, ...anywhere])].sort() : (here ?? anywhere ?? NONE)
    },
    accepted: (line, item) => accepted.get(`${line}\n${item}`) ?? NONE,
  }
}
