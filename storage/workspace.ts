import Dexie, { RangeSet, type ObservabilitySet } from 'dexie'
import * as v from 'valibot'
import { RECORD_KINDS, REGISTRY, type RecordKind, type RecordOf, type Records } from '../core/records/registry.ts'
import { recordFault } from '../core/records/record-bounds.ts'
import type { Database } from './database.ts'

/** A stored record that does not fit its schema: left out of everything, kept as it is. */
export type Damaged = {
  readonly kind: RecordKind
  readonly id: string
  readonly raw: unknown
  /** Where and what, in words. */
  readonly why: string
}

/** All that is stored, as this tab sees it. An array is another one just when a record of its kind has changed. */
export type WorkspaceState = { readonly records: Records; readonly damaged: readonly Damaged[] }

/** Records are read so many at a time, so that the page stays at hand meanwhile; large ones few at a time. */
const AT_ONCE = 3000
const LARGE_AT_ONCE: Partial<Record<RecordKind, number>> = { pictures: 6, designs: 4, plans: 4, versions: 4, sets: 20 }
const atOnce = (kind: RecordKind): number => LARGE_AT_ONCE[kind] ?? AT_ONCE
/** Up to so many changed records are read one by one; more mean their whole kind. */
const FEW = 1000

/** Kinds whose schema turns what is stored into what is used (neutral values, marks); all others are used as they are. */
const READ_ANEW: ReadonlySet<RecordKind> = new Set<RecordKind>(['builds', 'designs', 'versions'])

/**
 * A stored value as a record of its kind, or what is wrong with it. The value itself where it fits as it is, unless
 * `anew`: then a record with its fields in the schema's order, and no others.
 */
export function readRecord<K extends RecordKind>(
  kind: K,
  raw: unknown,
  anew = READ_ANEW.has(kind),
): RecordOf<K> | Damaged {
  const schema = REGISTRY[kind].schema
  const setAside = (why: string): Damaged => {
    const id = (raw as { id?: unknown } | null)?.id
    return { kind, id: typeof id === 'string' ? id : JSON.stringify(id ?? null), raw, why }
  }
  const asItIs = !anew && v.is(schema, raw)
  const parsed = asItIs ? undefined : v.safeParse(schema, raw, { abortEarly: true })
  if (parsed && !parsed.success) {
    const [issue] = parsed.issues
    return setAside(`${v.getDotPath(issue) ?? 'the record'}: ${issue.message}`)
  }
  const record = (parsed ? parsed.output : raw) as RecordOf<K>
  const fault = recordFault(kind, record)
  return fault === undefined ? record : setAside(fault)
}
export const isDamaged = (read: object): read is Damaged => 'why' in read && 'raw' in read

type Rows = readonly { readonly id: string }[]

/** Where an id stands, or would stand, in rows that are in the order of their ids. */
function placeOf(rows: Rows, id: string): number {
  let [low, high] = [0, rows.length]
  while (low < high) {
    const middle = (low + high) >> 1
    if ((rows[middle]?.id ?? '') < id) low = middle + 1
    else high = middle
  }
  return low
}

/**
 * The records of a database, read once and then kept by the changes that acts bring, this tab's and others': what is
 * read again is what changed. Records that do not fit are set apart by name.
 */
export class Workspace {
  readonly #db: Database
  readonly #onLost: (error: unknown) => void
  #state: WorkspaceState | undefined
  readonly #listeners = new Set<() => void>()
  /** Reads follow one another, so that a later one never comes first. */
  #queue: Promise<void> = Promise.resolve()
  readonly #onChange = (changed: ObservabilitySet) => {
    const kinds = this.#touchedIn(changed)
    if (kinds.size > 0) this.#queue = this.#queue.then(() => this.#follow(kinds)).catch(this.#onLost)
  }

  /** `onLost` is told when a change could not be read back: what is known is then of before it. */
  constructor(db: Database, onLost: (error: unknown) => void = () => undefined) {
    this.#db = db
    this.#onLost = onLost
  }

  /** Reads everything; rejects with what the browser says when the database cannot be opened. */
  async open(): Promise<void> {
    await this.#db.open()
    Dexie.on('storagemutated', this.#onChange)
    // All kinds at once: most are small, and reading one after the other would wait for each.
    const read = await Promise.all(RECORD_KINDS.map(async (kind) => ({ kind, ...(await this.#readKind(kind)) })))
    const records = Object.fromEntries(read.map(({ kind, rows }) => [kind, rows]))
    this.#set({ records: records as unknown as Records, damaged: read.flatMap((r) => r.damaged) })
  }

  close(): void {
    Dexie.on.storagemutated.unsubscribe(this.#onChange)
  }

  /** What is known; undefined until it was opened. */
  readonly state = (): WorkspaceState | undefined => this.#state

  readonly subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener)
    return () => this.#listeners.delete(listener)
  }

  /** Resolves when all changes known of by now are in the state. */
  async settled(): Promise<void> {
    await this.#queue
  }

  #set(state: WorkspaceState): void {
    this.#state = state
    for (const listener of this.#listeners) listener()
  }

  async #readKind(kind: RecordKind): Promise<{ rows: Rows; damaged: Damaged[] }> {
    const table = this.#db.table<unknown, string>(kind)
    const rows: { readonly id: string }[] = []
    const damaged: Damaged[] = []
    let last: unknown
    for (;;) {
      const part: unknown[] = await (last === undefined ? table.orderBy(':id') : table.where(':id').above(last))
        .limit(atOnce(kind))
        .toArray()
      for (const raw of part) {
        const read = readRecord(kind, raw)
        if (isDamaged(read)) damaged.push(read)
        else rows.push(read)
      }
      last = (part.at(-1) as { id?: unknown } | undefined)?.id
      if (part.length < atOnce(kind)) return { rows, damaged }
    }
  }

  async #readSome(kind: RecordKind, ids: readonly string[]): Promise<unknown[]> {
    const found: unknown[] = []
    for (let from = 0; from < ids.length; from += atOnce(kind))
      found.push(...(await this.#db.table<unknown, string>(kind).bulkGet(ids.slice(from, from + atOnce(kind)))))
    return found
  }

  /** Of each kind that changed: the ids, or `all` where they are not told. */
  #touchedIn(changed: ObservabilitySet): Map<RecordKind, ReadonlySet<string> | 'all'> {
    const touched = new Map<RecordKind, ReadonlySet<string> | 'all'>()
    for (const kind of RECORD_KINDS) {
      const ranges = changed[`idb://${this.#db.name}/${kind}/`]
      if (!ranges) continue
      const set = new RangeSet()
      set.add(ranges)
      const ids = new Set<string>()
      let all = false
      for (const { from, to } of set as unknown as Iterable<{ from: unknown; to: unknown }>)
        if (typeof from === 'string' && from === to && ids.size < FEW) ids.add(from)
        else all = true
      touched.set(kind, all ? 'all' : ids)
    }
    return touched
  }

  async #follow(kinds: ReadonlyMap<RecordKind, ReadonlySet<string> | 'all'>): Promise<void> {
    const before = this.#state
    if (!before) return
    const records: Record<RecordKind, Rows> = { ...before.records }
    let damaged = before.damaged
    const read = await Promise.all(
      [...kinds].map(async ([kind, ids]) =>
        ids === 'all'
          ? { kind, all: await this.#readKind(kind) }
          : { kind, list: [...ids], found: await this.#readSome(kind, [...ids]) },
      ),
    )
    for (const { kind, all, list = [], found = [] } of read) {
      if (all) {
        records[kind] = all.rows
        damaged = [...damaged.filter((d) => d.kind !== kind), ...all.damaged]
        continue
      }
      const next = [...records[kind]]
      for (const [i, id] of list.entries()) {
        const read = found[i] === undefined ? undefined : readRecord(kind, found[i])
        const at = placeOf(next, id)
        const there = next[at]?.id === id ? 1 : 0
        if (read && !isDamaged(read)) next.splice(at, there, read)
        else next.splice(at, there)
        if (damaged.some((d) => d.kind === kind && d.id === id))
          damaged = damaged.filter((d) => d.kind !== kind || d.id !== id)
        if (read && isDamaged(read)) damaged = [...damaged, read]
      }
      records[kind] = next
    }
    this.#set({ records: records as unknown as Records, damaged })
  }
}
