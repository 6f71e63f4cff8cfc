import type { LearntWords } from './learnt-words.ts'
import type { ReadList } from './read-list.ts'

/** A list that was read, under the name of its file (empty when pasted). */
export type Loaded = {
  readonly preview: ReadList
  readonly name: string
  /** True when the columns are matched as the last time a list of this shape came in. */
  readonly remembered: boolean
  /** What was learnt of words, from earlier lists and this one. */
  readonly words: LearntWords
}
