import * as v from 'valibot'
import { kindOf, REGISTRY, type RecordKind, type RecordOf } from '../core/records/registry.ts'
import { countFault, recordFault } from '../core/records/record-bounds.ts'
import { unfitWords } from '../core/records/unfit-words.ts'
import type { Database } from './database.ts'
import type { JournalChange } from './journal-entry.ts'
import { same } from './merge.ts'
import { Refusal } from './store-error.ts'

/**
 * Refuses records that do not fit their schema or are more than screens can show, naming the field and its bound. What was
 * beyond a bound before (`held`, in the same order) may be edited: it has to be put right somehow.
 */
export function refuseUnfit<K extends RecordKind>(
  kind: K,
  records: readonly RecordOf<K>[],
  held: readonly (RecordOf<K> | undefined)[],
): void {
  const schema = REGISTRY[kind].schema
  for (const [i, record] of records.entries()) {
    if (!v.is(schema, record)) {
      const parsed = v.safeParse(schema, record, { abortEarly: true })
      if (!parsed.success) refuse(unfitWords(kind, record, parsed.issues[0]))
    }
    const fault = recordFault(kind, record)
    const before = held[i]
    if (fault !== undefined && !(before && recordFault(kind, before) !== undefined)) refuse(fault)
  }
}

/** Refuses an edit of what may only be changed as it was found, where something else has changed it meanwhile. */
export function refuseOvertaken<K extends RecordKind>(
  kind: K,
  base: RecordOf<K>,
  next: RecordOf<K>,
  now: RecordOf<K>,
  asSeen = false,
): void {
  const { guarded = [], word } = kindOf(kind)
  const fields = asSeen ? (Object.keys({ ...base, ...next }) as (keyof RecordOf<K> & string)[]) : guarded
  for (const field of fields)
    if (!same(base[field], next[field]) && !same(base[field], now[field]))
      throw new Refusal({
        code: 'gone',
        message: `This ${word} went on meanwhile, perhaps in another tab. Look at it as it is now. Nothing was changed.`,
      })
}

function refuse(words: string): never {
  throw new Refusal({ code: 'unfit', message: `${words} Nothing was changed.` })
}

/** Refuses an act that would leave something of a build that is not there: another tab may have removed it meanwhile. */
export async function refuseHomeless(db: Database, recorded: readonly JournalChange[]): Promise<void> {
  const homes = new Set<string>()
  for (const { kind, before, after } of recorded) {
    const { buildOf } = kindOf(kind)
    if (!buildOf) continue
    const there = new Set((before as readonly { id: string }[]).map((r) => r.id))
    for (const record of after as readonly { id: string }[]) {
      const home = there.has(record.id) ? null : buildOf(record as never)
      if (home !== null) homes.add(home)
    }
  }
  if (homes.size > 0) {
    const there = await db
      .table('builds')
      .where(':id')
      .anyOf([...homes])
      .count()
    if (there < homes.size)
      throw new Refusal({
        code: 'gone',
        message: 'The build this belongs to was removed meanwhile, perhaps in another tab. Nothing was changed.',
      })
  }
}

/** Refuses an act after which there are more records of a kind than screens and backups can hold. */
export async function refuseTooMany(db: Database, recorded: readonly JournalChange[]): Promise<void> {
  const grown = new Set(recorded.filter((c) => c.after.length > c.before.length).map((c) => c.kind))
  for (const kind of grown) {
    const fault = countFault(kind, await db.table(kind).count())
    if (fault !== undefined) refuse(fault)
  }
}
