import type { PartId } from '../../../core/units/ids.ts'
import type { ListPreview } from '../../../workers/list.worker.ts'
import type { DestinationState } from './destination.tsx'
import type { LearntWords } from './learnt-words.ts'
import type { ColourChoice } from './run-import.ts'

/** A list that was read, under the name of its file (empty when pasted), and what was chosen for it so far. */
export type Loaded = {
  readonly preview: ListPreview
  readonly name: string
  /** True when the columns are matched as the last time a list of this shape came in. */
  readonly remembered: boolean
  /** What was learnt of words, from earlier lists and this one. */
  readonly words: LearntWords
  /** What unknown colours are, by `colourKey`. */
  readonly choices: ReadonlyMap<string, ColourChoice>
  /** What new parts are the same as, by their ids. */
  readonly same: ReadonlyMap<PartId, string>
  readonly destination: DestinationState
}
