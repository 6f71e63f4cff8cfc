import type { ListReading } from '../../../core/formats/list-rows.ts'
import { CONDITIONS, type Condition } from '../../../core/units/condition.ts'
import { plural } from '../../../core/units/numbers.ts'
import { Choice } from '../../ui/fields.tsx'

const UNSAID = 'unsaid'

/** Words for conditions that are not ours: what each means, for all its rows at once, remembered for the next list. */
export function ConditionWords({
  words,
  onSay,
}: {
  words: ListReading['conditions']
  onSay: (word: string, condition: Condition) => void
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
          `${plural(words.length, 'word')} for conditions understood.`
        )}
      </summary>
      <ul className="mt-1 grid max-h-28 grid-cols-[repeat(auto-fill,minmax(17rem,1fr))] gap-x-6 gap-y-1 overflow-auto">
        {words.map(({ word, rows, meant }) => (
          <li key={word} className="flex items-center justify-between gap-2">
            <span className="truncate" title={word}>
              {word} <span className="text-soft">({plural(rows, 'row')})</span>
            </span>
            <Choice
              label={`What ${word} means`}
              className="w-28 shrink-0"
              value={meant ?? UNSAID}
              options={[
                ...(meant ? [] : [{ value: UNSAID, label: 'not said' }]),
                ...CONDITIONS.map((c) => ({ value: c as string, label: c })),
              ]}
              onChange={(value) => {
                if (value !== UNSAID) onSay(word, value as Condition)
              }}
            />
          </li>
        ))}
      </ul>
    </details>
  )
}
