import type { ColourId } from '../../core/units/ids.ts'
import { useRecords } from '../store/records.tsx'
import { Choice } from '../ui/fields.tsx'

const NONE = '-'

/** A colour by its name, from those given or all there are; `none` names the choice of no colour. */
export function ColourChoice({
  label,
  value,
  colours,
  none,
  onChange,
  className = '',
}: {
  label: string
  value: ColourId | undefined
  colours?: readonly ColourId[]
  none?: string
  onChange: (colour: ColourId | undefined) => void
  className?: string
}) {
  const { allColours, colourById } = useRecords()
  const listed = colours ?? allColours.map((c) => c.id)
  const options = listed
    .map((id) => ({ value: id as string, label: colourById.get(id)?.name ?? id.slice(2) }))
    .sort((p, q) => p.label.localeCompare(q.label, 'en'))
  return (
    <span className={`flex min-w-0 items-center gap-1.5 ${className}`}>
      <span
        aria-hidden="true"
        className="inline-block size-4 shrink-0 border border-soft"
        style={{ background: value === undefined ? 'transparent' : (colourById.get(value)?.hex ?? '#9a9a9a') }}
      />
      <Choice
        label={label}
        className="w-full"
        value={value ?? NONE}
        options={none === undefined ? options : [{ value: NONE, label: none }, ...options]}
        onChange={(next) => {
          onChange(next === NONE ? undefined : (next as ColourId))
        }}
      />
    </span>
  )
}
