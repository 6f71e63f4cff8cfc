import type { RecordKind, RecordOf } from '../core/records/registry.ts'
import type { Holding } from '../core/shelf/holding.ts'
import type { LotPieces } from '../core/shelf/lot.ts'
import type { BuildId, PlaceId } from '../core/units/ids.ts'

/** What an act writes and deletes in one kind of record. */
export type Change<K extends RecordKind = RecordKind> = {
  readonly kind: K
  readonly puts: readonly RecordOf<K>[]
  /** By id; `all others` are those that are there by then and are not put. */
  readonly deletes: readonly string[] | 'all others'
  /**
   * How the puts meet what is stored: `whole` replaces it (what a market or the app itself made anew); `new` leaves what
   * has the same id as it is; a list holds what each put was edited from, in the same order: what has changed meanwhile
   * is kept (`merged`), and what is gone meanwhile makes the act fail. `as it is` replaces it too, with whatever a backup
   * holds, records that do not fit included; all others are refused when they do not fit.
   */
  readonly meets: 'whole' | 'as it is' | 'new' | readonly RecordOf<K>[]
  /** The edits rest on what they were made from: refused, not merged, where a field they change was changed meanwhile. */
  readonly asSeen?: boolean
  /** What is done on the shelf with the holdings as they are when this is written. */
  readonly shelf?: ShelfWork
}

/** What is done with holdings as they are by the time it is written. */
export type ShelfWork =
  /** Pieces for the shelf, joined with what lies there (`addLots`). */
  | { readonly do: 'add'; readonly lots: readonly LotPieces[] }
  /** Pieces taken from holdings to a place; all that is there where `qty` is all that was seen. */
  | {
      readonly do: 'move'
      readonly takes: readonly { readonly seen: Holding; readonly qty: number }[]
      readonly to: PlaceId
    }
  /** Pieces taken from holdings for builds: they are in a model from then on. Refused where fewer are there by then. */
  | {
      readonly do: 'take'
      readonly takes: readonly { readonly seen: Holding; readonly qty: number; readonly build: BuildId }[]
    }
  /** Holdings counted again, each as it was seen; 0 where there is none any more. */
  | { readonly do: 'count'; readonly counts: readonly Recount[] }

export type Recount = { readonly seen: Holding; readonly qty: number; readonly estimate: boolean }

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
  /** The tab that did it; unknown in older entries. */
  readonly by?: string
}

/**
 * Some of what an act changed, in the order of `id`; kept apart from its entry, as the history reads entries alone, and in
 * pieces, as a browser keeps no value above some hundred megabytes.
 */
export type JournalPiece = {
  readonly id?: number
  readonly entry: number
  readonly changes: readonly JournalChange[]
}
