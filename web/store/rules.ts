import type { Build } from '../../core/build/build.ts'
import type { Rules } from '../../core/build/house-rules.ts'
import { ruleNote } from '../../core/settling/note.ts'
import { dayOf } from '../../core/units/instants.ts'
import type { Change } from '../../storage/journal-entry.ts'
import { add, edit } from '../../storage/journal.ts'
import { nowIso } from './database.ts'

/** A build's house rules changed, and the decision noted in its log; one act. */
export function ruleChanges(build: Build, next: Partial<Rules>, label: string): Change[] {
  const note = ruleNote(build.id, next, label, dayOf(nowIso()))
  return [
    edit('builds', build, { ...build, rules: { ...build.rules, ...next } }),
    ...(note ? [add('notes', [note])] : []),
  ]
}
