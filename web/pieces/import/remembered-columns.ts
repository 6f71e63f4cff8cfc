import { dequal } from 'dequal'
import { readRemembered } from '../../../core/formats/list-columns.ts'
import { type ColumnMatch, type ListKind } from '../../../core/formats/list-fields.ts'
import type { ListPreview } from '../../../workers/list.worker.ts'
import { guarded } from '../../../storage/store-error.ts'
import { db } from '../../store/database.ts'

type Matched = Pick<ListPreview, 'shape' | 'match'>

const keyOf = (preview: Matched) => `columns:${preview.shape}`

/** The columns chosen the last time a list of this shape was imported, if they differ from the match on sight. */
export async function recall(preview: Matched, kind: ListKind): Promise<ColumnMatch | undefined> {
  const read = await guarded(() => db.settings.get(keyOf(preview)))
  const kept = read.ok ? read.value : undefined
  const columns = kept && readRemembered(kept.value, kind)
  if (!columns || dequal(columns, preview.match.columns)) return undefined
  return {
    heading: preview.match.heading,
    columns,
    confidence: Object.fromEntries(Object.keys(columns).map((field) => [field, 1])),
  }
}

/** Remembers the columns a list was imported by, under its shape. */
export const remember = (preview: Matched) =>
  guarded(async () => db.settings.put({ id: keyOf(preview), value: JSON.stringify(preview.match.columns) }))
