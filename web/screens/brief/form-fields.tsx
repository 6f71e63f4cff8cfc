import { formatNumber } from '../../../core/units/numbers.ts'
import type { Form } from '../../../core/build/house-rules.ts'
import { roomOf } from '../../../core/build/form.ts'
import { Choice, Field, NumberInput, Tick } from '../../ui/fields.tsx'

const SIDES = [
  { key: 'width', label: 'Room in width, studs' },
  { key: 'depth', label: 'Room in depth, studs' },
  { key: 'height', label: 'Room in height, plates' },
  { key: 'scale', label: 'Scale, 1 to' },
] as const

/** The room there is for the build and how it is to look, with what that is in mm and in the real thing. */
export function FormFields({ form, onChange }: { form: Form; onChange: (label: string, form: Form) => void }) {
  const { mm, metres } = roomOf(form)
  return (
    <>
      {SIDES.map(({ key, label }) => (
        <Field key={key} label={label}>
          {(id) => (
            <NumberInput
              id={id}
              value={form[key]}
              min={1}
              max={10_000}
              empty={key === 'scale' ? 'none' : 'open'}
              onCommit={(n) => {
                onChange(`${label}: ${n ?? 'open'}`, { ...form, [key]: n })
              }}
            />
          )}
        </Field>
      ))}
      {mm.length > 0 && (
        <p className="col-span-2 text-xs text-soft">
          That is {mm.map((side) => formatNumber(side)).join(' × ')} mm
          {metres.length > 0 && <>, standing for {metres.map((m) => formatNumber(m)).join(' × ')} m</>}.
        </p>
      )}
      <Field label="Back">
        {(id) => (
          <Choice
            id={id}
            value={form.back}
            options={[
              { value: 'undecided', label: 'undecided' },
              { value: 'open', label: 'open' },
              { value: 'closed', label: 'closed' },
            ]}
            onChange={(back) => {
              onChange(`Back ${back}`, { ...form, back })
            }}
          />
        )}
      </Field>
      <Tick
        checked={form.symmetric}
        onChange={(symmetric) => {
          onChange(symmetric ? 'To be symmetric' : 'Need not be symmetric', { ...form, symmetric })
        }}
      >
        Symmetric
      </Tick>
    </>
  )
}
