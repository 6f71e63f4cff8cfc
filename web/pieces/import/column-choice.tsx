import { FIELD_LABELS, LIST_FIELDS, type Field, type ListKind } from '../../../core/formats/list-columns.ts'
import type { ReadList } from './read-list.ts'
import { Choice, Field as LabelledField } from '../../ui/fields.tsx'

const NONE = 'none'

/** Which column holds which field, and how sure the match is. */
export function ColumnChoice({
  kind,
  preview,
  onChoose,
}: {
  kind: ListKind
  preview: Pick<ReadList, 'match' | 'sample' | 'width'>
  onChoose: (field: Field, column: number | undefined) => void
}) {
  const { match } = preview
  const head = match.hasHeading ? preview.sample[0] : undefined
  const first = preview.sample[match.hasHeading ? 1 : 0]
  const columns = Array.from({ length: preview.width }, (_, i) => ({
    value: String(i),
    label: (head?.[i]?.trim() || `Column ${i + 1}: ${first?.[i]?.trim() ?? ''}`).slice(0, 40),
  }))
  return LIST_FIELDS[kind].map(({ field, required }) => (
    <LabelledField key={field} label={FIELD_LABELS[field] + (required ? '' : ' (if any)')}>
      {(id) => (
        <>
          <Choice
            id={id}
            className="w-36"
            value={match.columns[field] === undefined ? NONE : String(match.columns[field])}
            options={[{ value: NONE, label: 'No column' }, ...columns]}
            onChange={(value) => {
              onChoose(field, value === NONE ? undefined : Number(value))
            }}
          />
          <span className="text-xs text-soft">
            {match.columns[field] !== undefined
              ? `${Math.round((match.confidence[field] ?? 1) * 100)}% sure`
              : required
                ? 'needed'
                : ''}
          </span>
        </>
      )}
    </LabelledField>
  ))
}
