import { inTermsOf } from '../../core/catalogue/merge-parts.ts'
import {
  RECORD_KINDS,
  REGISTRY,
  type RecordKind,
  type RecordOf,
  type RecordsByKind,
} from '../../core/records/registry.ts'
import { add } from '../../storage/journal.ts'
import type { Change } from '../../storage/journal-entry.ts'
import { dayOf } from '../../core/units/instants.ts'
import { nowIso } from './database.ts'
import { perform } from './perform.ts'
import type { RecordsView } from './records.tsx'

/**
 * Loads the demo scenario beside whatever is there; one act, undoable. What the user has under the same ids stays as it
 * is, and parts that the user merged or renamed are called as the user calls them. The generator is loaded when needed.
 */
export async function loadDemo(
  { partByAlias }: Pick<RecordsView, 'partByAlias'>,
  options: { readonly quiet?: boolean } = {},
): Promise<boolean> {
  const { demoRecords } = await import('../../demo/scenario.ts')
  const demo = inTermsOf<RecordsByKind>(partByAlias, demoRecords(undefined, dayOf(nowIso())), REGISTRY)
  const added = <K extends RecordKind>(kind: K) => add(kind, (demo[kind] ?? []) as readonly RecordOf<K>[])
  return perform(
    'Loaded the demo: mountain observatory',
    RECORD_KINDS.map((kind): Change => added(kind)),
    options,
  )
}
