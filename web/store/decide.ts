import type { Decision } from '../../core/build/decision.ts'
import type { BuildId, DecisionId } from '../../core/units/ids.ts'
import { add, remove } from '../../storage/journal.ts'
import { dayOf } from '../../core/units/instants.ts'
import { fresh, nowIso } from './database.ts'
import { perform } from './perform.ts'

/** A decision by hand as it is made today. */
export const decisionOf = (build: BuildId | null, what: Decision['what']): Decision => ({
  id: `d-${fresh()}` as DecisionId,
  build,
  on: dayOf(nowIso()),
  what,
})

/** Records decisions by hand, for one build or (null) for all; one step of undo. */
export const decide = (label: string, build: BuildId | null, whats: readonly Decision['what'][]): Promise<boolean> =>
  perform(label, [
    add(
      'decisions',
      whats.map((what) => decisionOf(build, what)),
    ),
  ])

/** Takes decisions back. */
export const takeBack = (label: string, decisions: readonly Pick<Decision, 'id'>[]): Promise<boolean> =>
  perform(label, [
    remove(
      'decisions',
      decisions.map((d) => d.id),
    ),
  ])
