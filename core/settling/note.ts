import * as v from 'valibot'
import type { Rules } from '../build/house-rules.ts'
import { hash53 } from '../units/hash.ts'
import { BuildIdSchema, ModuleIdSchema, NoteIdSchema, type BuildId, type NoteId } from '../units/ids.ts'

/** What a note of the log is about. */
export const NOTE_KINDS = ['note', 'decision', 'compromise', 'failed try', 'test build', 'to improve'] as const
export type NoteKind = (typeof NOTE_KINDS)[number]

const Text = (max: number) => v.pipe(v.string(), v.minLength(1), v.maxLength(max))

/** Something that was written into a build's log by hand. */
export const NoteSchema = v.object({
  id: NoteIdSchema,
  build: BuildIdSchema,
  on: v.pipe(v.string(), v.isoDate('a day such as 2026-12-10 is expected')),
  kind: v.picklist(NOTE_KINDS),
  text: Text(4000),
  module: v.optional(ModuleIdSchema),
  /** Minutes that it took. */
  minutes: v.optional(v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(1_000_000))),
  /** Photos, by their ids among the pictures. */
  pictures: v.optional(v.pipe(v.array(Text(80)), v.maxLength(20))),
  /** The idea in the design that it became. */
  idea: v.optional(ModuleIdSchema),
})
export type Note = v.InferOutput<typeof NoteSchema>

/** Rules that are facts of the day rather than decisions: they are in no log. */
const FACTS: readonly (keyof Rules)[] = ['rates', 'resalePrices']

/**
 * What the log notes when house rules are changed: the same change is noted once a day, as its id is that of its words.
 * Undefined where nothing but facts of the day (rates, prices of the user's own) was changed.
 */
export function ruleNote(build: BuildId, changed: Partial<Rules>, label: string, on: string): Note | undefined {
  if ((Object.keys(changed) as (keyof Rules)[]).every((rule) => FACTS.includes(rule))) return undefined
  const about = hash53(label, 5).toString(36)
  return { id: `k-rules-${build}-${on}-${about}`.slice(0, 200) as NoteId, build, on, kind: 'decision', text: label }
}
