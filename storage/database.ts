import Dexie, { type Table, type Transaction } from 'dexie'
import type { RecordKind, RecordOf } from '../core/records/registry.ts'
import type { JournalChange, JournalEntry, JournalPiece } from './journal-entry.ts'
import { inPieces } from './pieces.ts'

/** A fact about this browser's copy: when it was last exported, when offers were fetched. */
export type Setting = { readonly id: string; readonly value: string }

/** The setting that says when the market was asked, ISO 8601. */
export const OFFERS_FETCHED = 'offers-fetched'
/** The setting that says on which simulated day the practice market is. */
export const MARKET_DAY = 'market-day'
/** The setting that says how many days after a late day a parcel is to be claimed. */
export const PATIENCE_DAYS = 'patience-days'
/** The setting that says after how many days offers are old. */
export const OFFERS_OLD_AFTER = 'offers-old-after'

const FIRST_KINDS: readonly RecordKind[] = [
  'parts',
  'colours',
  'sets',
  'copies',
  'places',
  'holdings',
  'builds',
  'designs',
  'shops',
  'offers',
  'plans',
]

/**
 * Schema versions, oldest first; an upgrade never loses a record. Version 2 indexed holdings by place and item, offers
 * by item and source. Version 3 keeps what acts changed apart from the history's entries. Version 4 added designs'
 * versions and pictures, version 5 decisions by hand. Version 6 keeps no index by item: nobody asks by it, and
 * it made storing long lists slower. Version 7 keeps what an act changed in pieces that browsers take. Version 8
 * added scenarios, version 9 orders, version 10 what is being built,
 * version 11 ledgers, sales and logs.
 */
const VERSIONS: readonly Record<string, string>[] = [
  { ...Object.fromEntries(FIRST_KINDS.map((kind) => [kind, 'id'])), journal: '++id', settings: 'id' },
  { holdings: 'id, place, item', offers: 'id, item, source', copies: 'id, buildId, setId' },
  { changes: 'id' },
  { versions: 'id, buildId', pictures: 'id' },
  { decisions: 'id' },
  { holdings: 'id, place', offers: 'id, source' },
  { pieces: '++id, entry' },
  { scenarios: 'id, buildId' },
  { orders: 'id' },
  { units: 'id, build', makings: 'id' },
  { entries: 'id, build', sales: 'id, build', notes: 'id, build' },
]

export class Database extends Dexie {
  declare readonly journal: Table<JournalEntry, number>
  declare readonly pieces: Table<JournalPiece, number>
  declare readonly settings: Table<Setting, string>

  constructor(name = 'unfinished-brick', upTo = VERSIONS.length) {
    super(name, { cache: 'disabled' })
    for (const [i, stores] of VERSIONS.slice(0, upTo).entries()) this.version(i + 1).stores(stores)
    // A newer version of the app takes over for good: what does not know its records must not write among them.
    this.on('versionchange', () => {
      this.close({ disableAutoOpen: true })
      // Dexie's own answer would open it again.
      return false
    })
    this.on(
      'ready',
      () => {
        // Dexie opens what is newer than declared; its versions are tenths of the browser's.
        const stored = this.backendDB().version / 10
        if (stored > upTo)
          throw new Dexie.VersionError(`the data is of version ${stored}, this app knows up to ${upTo}`)
      },
      true,
    )
    if (upTo >= 3) this.version(3).upgrade(splitJournal)
    if (upTo >= 7) this.version(7).upgrade(changesInPieces)
  }

  records<K extends RecordKind>(kind: K): Table<RecordOf<K>, string> {
    return this.table(kind)
  }

  /** What an entry of the history changed, piece by piece in their order. */
  piecesOf(entry: number): Promise<JournalPiece[]> {
    return this.pieces.where('entry').equals(entry).sortBy('id')
  }
}

/** What an act changed, as versions 3 to 6 kept it. */
type JournalChanges = { readonly id: number; readonly changes: readonly JournalChange[] }

/** Version 7: what an act changed is kept in pieces. */
async function changesInPieces(transaction: Transaction): Promise<void> {
  const whole = transaction.table<JournalChanges, number>('changes')
  for (const id of await whole.toCollection().primaryKeys()) {
    const kept = await whole.get(id)
    for (const changes of inPieces(kept?.changes ?? []))
      await transaction.table<JournalPiece, number>('pieces').add({ entry: id, changes })
    await whole.delete(id)
  }
}

/** Version 3: entries of the journal give their changes to a table of their own. */
async function splitJournal(transaction: Transaction): Promise<void> {
  const journal = transaction.table<JournalEntry & Partial<Omit<JournalChanges, 'id'>>, number>('journal')
  for (const id of await journal.toCollection().primaryKeys()) {
    const entry = await journal.get(id)
    if (!entry?.changes) continue
    const { changes, ...light } = entry
    await transaction.table<JournalChanges, number>('changes').put({ id, changes })
    await journal.put(light)
  }
}
