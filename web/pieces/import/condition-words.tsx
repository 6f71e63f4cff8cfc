import type { ListReading } from '../../../core/formats/list-rows.ts'
import { STATED_CONDITIONS, type StatedCondition } from '../../../core/units/condition.ts'
import { plural } from '../../../core/units/numbers.ts'
import { Choice } from '../../ui/fields.tsx'

const UNSAID = 'unsaid'

/** How conditions were read, where every word is known. */
function understood(words: ReadingWords): string {
  const blank = words.find((w) => w.word === '')
  const others = words.length - (blank ? 1 : 0)
  return [
    ...(others > 0 ? [`${plural(others, 'word')} for conditions understood.`] : []),
    ...(blank ? [`${plural(blank.rows, 'row says', 'rows say')} no condition: ${blank.meant ?? 'not stated'}.`] : []),
  ].join(' ')
}

type ReadingWords = ListReading['conditions']

/** Words for conditions that are not ours: what each means, for all its rows at once, remembered for the next list. */
export function ConditionWords({
  words,
  onSay,
}: {
  words: ReadingWords
  onSay: (word: string, condition: StatedCondition) => void
}) {
  const unknown = words.filter((w) => w.meant === undefined).length
  return (
    <details open={unknown > 0} className="shrink-0 border border-rule bg-paper px-3 py-2 text-sm">
      <summary>
        {unknown > 0 ? (
          <b className="text-warn">
            {plural(unknown, 'word for conditions is', 'words for conditions are')} not known.
          </b>
        ) : (
          understood(words)
        )}
      </summary>
      <ul className="mt-1 grid max-h-28 grid-cols-[repeat(auto-fill,minmax(17rem,1fr))] gap-x-6 gap-y-1 overflow-auto">
        {words.map(({ word, rows, meant }) => (
          <li key={word} className="flex items-center justify-between gap-2">
            <span className="truncate" title={word}>
              {word === '' ? 'nothing written' : word} <span className="text-soft">({plural(rows, 'row')})</span>
            </span>
            <Choice
              label={word === '' ? 'What nothing written means' : `What ${word} means`}
              className="w-28 shrink-0"
              value={meant ?? UNSAID}
              options={[
                ...(meant ? [] : [{ value: UNSAID, label: 'not said' }]),
                ...STATED_CONDITIONS.map((c) => ({ value: c as string, label: c })),
              ]}
              onChange={(value) => {
                if (value !== UNSAID) onSay(word, value as StatedCondition)
              }}
            />
          </li>
        ))}
      </ul>
    </details>
  )
}
