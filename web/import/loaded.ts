import type { ListPreview } from '../../workers/list.worker.ts'

/** A list that was read, under the name of its file (empty when pasted). */
export type Loaded = { readonly preview: ListPreview; readonly name: string }
