import { FIELD_LABELS, LIST_FIELDS, STAND_FOR, type Field, type ListKind } from '../../../core/formats/list-fields.ts'
import type { LeftOutKind } from '../../../core/formats/list-layout.ts'
import { Choice } from '../../ui/fields.tsx'
import type { ListPreview } from '../../../workers/list.worker.ts'

const UNUSED = 'unused'
const NO_HEADINGS = 'none'

/** What rows are that are no items. */
export const LEFT_OUT_WORDS: Record<LeftOutKind | 'headings', string> = {
  headings: 'headings',
  above: 'above the headings',
  comment: 'comment',
  'heading again': 'headings again',
  section: 'section',
  total: 'sum',
}

/** The first rows as they are written, with what each column is above it, and which row has the headings. */
export function RawRows({
  kind,
  preview,
  onChoose,
  onHeadings,
}: {
  kind: ListKind
  preview: Pick<ListPreview, 'match' | 'sample' | 'width'>
  onChoose: (field: Field | undefined, column: number) => void
  onHeadings: (row: number | null) => void
}) {
  const { match, sample, width } = preview
  const head = sample.find((row) => row.kind === 'headings')?.cells ?? []
  const fieldOf = new Map(Object.entries(match.columns).map(([field, column]) => [column, field as Field]))
  const fields = LIST_FIELDS[kind]
  const missing = fields.filter(
    ({ field, required }) =>
      required && [field, ...(STAND_FOR[field] ?? [])].every((f) => match.columns[f] === undefined),
  )
  const options = [
    { value: UNUSED, label: 'not used' },
    ...fields.map(({ field }) => ({ value: field as string, label: FIELD_LABELS[field] })),
  ]
  return (
    <section aria-label="Rows as written" className="flex shrink-0 flex-col gap-1">
      <div className="flex flex-wrap items-center gap-3 text-sm">
        <b>As written</b>
        <Choice
          label="Where the headings are"
          className="w-44"
          value={match.heading === null ? NO_HEADINGS : String(match.heading)}
          options={[
            { value: NO_HEADINGS, label: 'no headings' },
            ...sample.map(({ row, line }) => ({ value: String(row), label: `headings in line ${line}` })),
          ]}
          onChange={(value) => {
            onHeadings(value === NO_HEADINGS ? null : Number(value))
          }}
        />
        {missing.length > 0 && (
          <span className="text-warn">
            Say which column is the {missing.map(({ field }) => FIELD_LABELS[field].toLowerCase()).join(', the ')}.
          </span>
        )}
      </div>
      <div className="max-h-40 overflow-auto border border-rule bg-paper">
        <table className="text-sm">
          <thead className="sticky top-0 bg-raised">
            <tr>
              <th className="px-2 text-right text-xs font-semibold text-soft">Line</th>
              {Array.from({ length: width }, (_, column) => {
                const field = fieldOf.get(column)
                const name = head[column]?.trim()
                const sure = field && (match.confidence[field] ?? 1)
                return (
                  <th key={column} className="px-1 py-1 text-left align-top font-normal">
                    <Choice
                      label={`What ${name ? name : `column ${column + 1}`} is`}
                      className={`w-40 ${field ? 'font-semibold' : 'text-soft'}`}
                      value={field ?? UNUSED}
                      options={options}
                      onChange={(value) => {
                        onChoose(value === UNUSED ? undefined : (value as Field), column)
                      }}
                    />
                    {sure !== undefined && sure < 0.7 && <span className="block text-xs text-warn">by its cells</span>}
                  </th>
                )
              })}
            </tr>
          </thead>
          <tbody>
            {sample.map(({ row, line, cells, kind: what }) => (
              <tr key={row} className={what ? 'text-soft italic' : ''}>
                <td className="px-2 text-right text-xs whitespace-nowrap text-soft not-italic">
                  {what && <span className="mr-2">{LEFT_OUT_WORDS[what]}</span>}
                  {line}
                </td>
                {Array.from({ length: width }, (_, column) => (
                  <td key={column} className="max-w-64 truncate border-l border-hair px-2">
                    {cells[column] ?? ''}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  )
}
