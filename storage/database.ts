import Dexie, { type Table } from 'dexie'
import { RECORD_KINDS, type RecordKind, type RecordOf } from '../core/formats/job-file.ts'
import type { JournalEntry } from './journal-entry.ts'

/** A fact about this browser's copy: when it was last exported, when offers were fetched. */
export type Setting = { readonly id: string; readonly value: string }

/**
 * Schema versions, oldest first; an upgrade never loses a record. Version 2 indexed holdings by place and item, offers
 * by item and source.
 */
const VERSIONS: readonly Record<string, string>[] = [
  { ...Object.fromEntries(RECORD_KINDS.map((kind) => [kind, 'id'])), journal: '++id', settings: 'id' },
  { holdings: 'id, place, item', offers: 'id, item, source', copies: 'id, buildId, setId' },
]

export class Database extends Dexie {
  declare readonly journal: Table<JournalEntry, number>
  declare readonly settings: Table<Setting, string>

  constructor(name = 'unfinished-brick', upTo = VERSIONS.length) {
    super(name)
    for (const [i, stores] of VERSIONS.slice(0, upTo).entries()) this.version(i + 1).stores(stores)
  }

  records<K extends RecordKind>(kind: K): Table<RecordOf<K>, string> {
    return this.table(kind)
  }
}
