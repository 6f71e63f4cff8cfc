import type { ListPreview } from '../../../workers/list.worker.ts'
import { LEFT_OUT_WORDS } from './raw-rows.tsx'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import type { Loaded } from './loaded.ts'
import { FIELD_LABELS } from '../../../core/formats/list-fields.ts'

/** The headings of a list that was read. */
export const headOf = ({ sample }: Pick<ListPreview, 'sample'>): readonly string[] =>
  sample.find((row) => row.kind === 'headings')?.cells ?? []

/** What was made of rows that are no items, of blank colours, of quantities; and what was read for nothing. */
function Told({ reading }: { reading: ListPreview['reading'] }) {
  const { leftOut, grouped, understood, unused } = reading
  const kinds = new Map<keyof typeof LEFT_OUT_WORDS, number>()
  for (const { kind } of leftOut) kinds.set(kind, (kinds.get(kind) ?? 0) + 1)
  return (
    <span className="text-sm font-normal text-soft">
      {kinds.size > 0 &&
        ` Left out: ${[...kinds].map(([kind, n]) => `${plural(n, 'row')} (${LEFT_OUT_WORDS[kind]})`).join(', ')}.`}
      {grouped > 0 && ` ${plural(grouped, 'row has', 'rows have')} the colour above.`}
      {understood.length > 0 &&
        ` Understood: ${understood
          .slice(0, 4)
          .map(
            ({ text, qty, estimate, note }) =>
              `“${text}” as ${estimate ? 'about ' : ''}${qty}${note ? `, note “${note}”` : ''}`,
          )
          .join('; ')}${understood.length > 4 ? ` and ${understood.length - 4} more` : ''}.`}
      {unused.length > 0 && ` Not used: ${unused.slice(0, 6).join(', ')}${unused.length > 6 ? '…' : ''}.`}
    </span>
  )
}

/** How many rows can come in, and what was made of their numbers. */
export function Verdict({ loaded, ready, left }: { loaded: Loaded; ready: number; left: number }) {
  const { reading, refused } = loaded.preview
  return (
    <p role="status" className="font-display text-lg font-medium">
      {plural(ready, 'row')} can come in
      {refused > 0 && (
        <>
          , <span className="text-bad">{formatNumber(refused)} refused</span>
        </>
      )}
      {left > 0 && (
        <>
          , <span className="text-warn">{left} wait for a colour</span>
        </>
      )}
      .
      {reading.repeats > 0 &&
        ` ${plural(reading.repeats, 'row repeats', 'rows repeat')} earlier ones and will be summed.`}
      {reading.numbers.map(({ field, decimal, sample }) => (
        <span key={field} className="text-soft">
          {' '}
          {FIELD_LABELS[field]}:{' '}
          {decimal === undefined
            ? `“${sample}” could be read in two ways and no other value of the column tells which.`
            : `decimals follow a ${decimal === '.' ? 'point' : 'comma'} by all values of the column, so “${sample}” is read by that.`}
        </span>
      ))}
      <Told reading={reading} />
      {loaded.remembered && <span className="text-soft"> Columns as the last time.</span>}
    </p>
  )
}
