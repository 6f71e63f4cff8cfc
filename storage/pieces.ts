import type { RecordKind } from '../core/records/registry.ts'
import type { JournalChange } from './journal-entry.ts'

/** What one piece of the journal holds at most, in characters of JSON; browsers refuse values above some 127 MiB. */
const MOST_IN_PIECE = 16 * 1024 * 1024

/** Kinds whose records may be large: each is measured. All others are short by their schema. */
const LARGE: ReadonlySet<RecordKind> = new Set<RecordKind>([
  'sets',
  'designs',
  'plans',
  'versions',
  'pictures',
  'units',
  'makings',
  'sales',
])
const SHORT = 1024

const sizeOf = (kind: RecordKind, record: unknown): number =>
  !LARGE.has(kind)
    ? SHORT
    : kind === 'pictures'
      ? SHORT + String((record as { data?: unknown }).data ?? '').length
      : JSON.stringify(record).length

/** Splits what an act changed into pieces that each can be stored; in their order they are the same change. */
export function inPieces(changes: readonly JournalChange[], most = MOST_IN_PIECE): JournalChange[][] {
  const pieces: JournalChange[][] = []
  let current: JournalChange[] = []
  let size = 0
  for (const change of changes) {
    const before = new Map(change.before.map((r) => [(r as { id: string }).id, r]))
    const after = new Map(change.after.map((r) => [(r as { id: string }).id, r]))
    let part: { before: unknown[]; after: unknown[]; ids: string[] } = { before: [], after: [], ids: [] }
    const close = () => {
      if (part.ids.length > 0) current.push({ kind: change.kind, ...part })
      part = { before: [], after: [], ids: [] }
    }
    for (const id of change.ids) {
      const both = [before.get(id), after.get(id)]
      const more = both.reduce<number>((n, r) => n + (r === undefined ? 0 : sizeOf(change.kind, r)), SHORT)
      if (size > 0 && size + more > most) {
        close()
        pieces.push(current)
        current = []
        size = 0
      }
      size += more
      if (both[0] !== undefined) part.before.push(both[0])
      if (both[1] !== undefined) part.after.push(both[1])
      part.ids.push(id)
    }
    close()
  }
  if (current.length > 0) pieces.push(current)
  return pieces
}
