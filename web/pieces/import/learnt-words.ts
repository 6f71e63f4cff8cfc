import * as v from 'valibot'
import { searchKey } from '../../../core/colours/colour.ts'
import { LIST_FIELDS, type ColumnMatch, type Field, type ListKind } from '../../../core/formats/list-fields.ts'
import { STATED_CONDITIONS, type StatedCondition } from '../../../core/units/condition.ts'
import { guarded } from '../../../storage/store-error.ts'
import { db } from '../../store/database.ts'

/** What the user said that words of lists mean: headings, by the kind of list, and conditions; by `searchKey`. */
export type LearntWords = {
  readonly headings: ReadonlyMap<string, Field>
  readonly conditionWords: ReadonlyMap<string, StatedCondition>
}

export const NO_WORDS: LearntWords = { headings: new Map(), conditionWords: new Map() }

const HEADING = 'heading:'
const CONDITION = 'condition-word:'
/** Longer texts are no words. */
const LONGEST = 100

const headingKey = (kind: ListKind) => `${HEADING}${kind}:`

/** What was learnt from earlier lists of a kind; nothing where it cannot be read. */
export async function recallWords(kind: ListKind): Promise<LearntWords> {
  const read = await guarded(() =>
    Promise.all([
      db.settings.where('id').startsWith(headingKey(kind)).toArray(),
      db.settings.where('id').startsWith(CONDITION).toArray(),
    ]),
  )
  if (!read.ok) return NO_WORDS
  const [headings, conditions] = read.value
  const fields = new Set<string>(LIST_FIELDS[kind].map((f) => f.field))
  const isCondition = (value: string): value is StatedCondition => v.is(v.picklist(STATED_CONDITIONS), value)
  return {
    headings: new Map(
      headings.flatMap(({ id, value }) =>
        fields.has(value) ? [[id.slice(headingKey(kind).length), value as Field] as const] : [],
      ),
    ),
    conditionWords: new Map(
      conditions.flatMap(({ id, value }) => (isCondition(value) ? [[id.slice(CONDITION.length), value] as const] : [])),
    ),
  }
}

/** Remembers under which headings the columns of a list stood that was imported, for lists of any shape. */
export const rememberHeadings = (kind: ListKind, { columns }: Pick<ColumnMatch, 'columns'>, head: readonly string[]) =>
  guarded(() =>
    db.settings.bulkPut(
      (Object.entries(columns) as [Field, number][]).flatMap(([field, column]) => {
        const key = searchKey(head[column] ?? '')
        return key === '' || key.length > LONGEST ? [] : [{ id: `${headingKey(kind)}${key}`, value: field }]
      }),
    ),
  )

/** Remembers what a word for a condition means. */
export const rememberCondition = (word: string, condition: StatedCondition) =>
  guarded(() => db.settings.put({ id: `${CONDITION}${searchKey(word).slice(0, LONGEST)}`, value: condition }))
