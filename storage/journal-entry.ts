import type { RecordKind, RecordOf } from '../core/planning/record-kinds.ts'
import type { LotPieces } from '../core/shelf/lot.ts'

/** What an act writes and deletes in one kind of record. */
export type Change<K extends RecordKind = RecordKind> = {
  readonly kind: K
  readonly puts: readonly RecordOf<K>[]
  readonly deletes: readonly string[]
  /**
   * How the puts meet what is stored: `whole` replaces it (what a market or the app itself made anew); `new` leaves what
   * has the same id as it is; a list holds what each put was edited from, in the same order: what has changed meanwhile
   * is kept (`merged`), and what is gone meanwhile makes the act fail.
   */
  readonly meets: 'whole' | 'new' | readonly RecordOf<K>[]
  /** Pieces for the shelf, joined with what lies there when this is written (`addLots`). */
  readonly lots?: readonly LotPieces[]
}

/** A change with what it replaced, so that it can be undone and redone. */
export type JournalChange = {
  readonly kind: RecordKind
  readonly before: readonly unknown[]
  readonly after: readonly unknown[]
  readonly ids: readonly string[]
}

export type JournalEntry = {
  readonly id?: number
  /** In words, for the history: "Imported 300 holdings". */
  readonly label: string
  readonly at: string
  /** False once undone; the undone tail is dropped by the next act. */
  readonly done: boolean
}

/** What an act changed, kept apart from its entry: an import's changes are large, the history reads entries alone. */
export type JournalChanges = { readonly id: number; readonly changes: readonly JournalChange[] }
