import type { Build } from '../../../core/build/build.ts'
import { PURPOSES, type Provenance } from '../../../core/build/provenance.ts'
import { decimal, parseMinor } from '../../../core/units/money.ts'
import { edit } from '../../../storage/journal.ts'
import { perform } from '../../store/perform.ts'
import { Choice, CommitInput, Field, Tick } from '../../ui/fields.tsx'

const NEW: Provenance = { author: '', licence: '', permits: { share: false, sell: false } }

const PURPOSE_LABELS = { keep: 'to keep', share: 'to share', sell: 'to sell' } as const

/** Own design or someone's instructions: author, licence, price, what it permits; and what the build is for. */
export function ProvenanceFields({ build }: { build: Build }) {
  const { provenance } = build
  const save = (label: string, next: Build) => void perform(label, [edit('builds', build, next)], { quiet: true })
  const change = (next: Partial<Provenance>) => {
    save('Changed where the plan comes from', { ...build, provenance: { ...(provenance ?? NEW), ...next } })
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
                origin === 'own' ? own : { ...build, provenance: NEW },
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
      {provenance && (
        <>
          <Field label="Author">
            {(id) => (
              <CommitInput
                id={id}
                value={provenance.author}
                maxLength={120}
                onCommit={(author) => {
                  change({ author })
                }}
              />
            )}
          </Field>
          <Field label={`Price paid, ${build.currency}`} hint="Counts in the total.">
            {(id) => (
              <CommitInput
                id={id}
                value={provenance.price ? decimal(provenance.price.minor, provenance.price.currency) : ''}
                onCommit={(text) => {
                  const minor = parseMinor(text, build.currency)
                  if (minor !== undefined && minor >= 0) change({ price: { minor, currency: build.currency } })
                }}
              />
            )}
          </Field>
          <div className="col-span-2">
            <Field label="Licence, in its words">
              {(id) => (
                <CommitInput
                  id={id}
                  value={provenance.licence}
                  maxLength={200}
                  onCommit={(licence) => {
                    change({ licence })
                  }}
                />
              )}
            </Field>
          </div>
          <Tick
            checked={provenance.permits.share}
            onChange={(share) => {
              change({ permits: { ...provenance.permits, share } })
            }}
          >
            It may be shared
          </Tick>
          <Tick
            checked={provenance.permits.sell}
            onChange={(sell) => {
              change({ permits: { ...provenance.permits, sell } })
            }}
          >
            A build of it may be sold
          </Tick>
        </>
      )}
    </div>
  )
}
