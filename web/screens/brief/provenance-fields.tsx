import type { Build } from '../../../core/build/build.ts'
import { PURPOSES, type Provenance } from '../../../core/design/provenance.ts'
import { edit } from '../../../storage/journal.ts'
import { perform } from '../../store/perform.ts'
import { NEW_PLAN, PlanFields } from '../../pieces/plan-fields.tsx'
import { Choice, Field } from '../../ui/fields.tsx'

const PURPOSE_LABELS = { keep: 'to keep', share: 'to share', sell: 'to sell' } as const

/** Own design or someone's instructions: author, licence, price, what it permits; and what the build is for. */
export function ProvenanceFields({ build }: { build: Build }) {
  const { provenance } = build
  const save = (label: string, next: Build) => void perform(label, [edit('builds', build, next)], { quiet: true })
  const change = (next: Partial<Provenance>) => {
    save('Changed where the plan comes from', { ...build, provenance: { ...(provenance ?? NEW_PLAN), ...next } })
  }
  return (
    <div className="grid grid-cols-2 gap-x-5 gap-y-4">
      <Field label="The plan is">
        {(id) => (
          <Choice
            id={id}
            value={provenance ? 'bought' : 'own'}
            options={[
              { value: 'own', label: 'my own design' },
              { value: 'bought', label: 'someone’s instructions' },
            ]}
            onChange={(origin) => {
              const { provenance: _, ...own } = build
              save(
                origin === 'own' ? 'The plan is an own design' : 'The plan is someone’s instructions',
                origin === 'own' ? own : { ...build, provenance: NEW_PLAN },
              )
            }}
          />
        )}
      </Field>
      <Field label="The build is">
        {(id) => (
          <Choice
            id={id}
            value={build.purpose ?? 'keep'}
            options={PURPOSES.map((value) => ({ value, label: PURPOSE_LABELS[value] }))}
            onChange={(purpose) => {
              save(`The build is ${PURPOSE_LABELS[purpose]}`, { ...build, purpose })
            }}
          />
        )}
      </Field>
      {provenance && <PlanFields plan={provenance} currency={build.currency} onChange={change} />}
    </div>
  )
}
