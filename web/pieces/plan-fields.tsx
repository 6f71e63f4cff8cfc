import type { Provenance } from '../../core/design/provenance.ts'
import { decimal, parseMinor, type Currency } from '../../core/units/money.ts'
import { CommitInput, Field, Tick } from '../ui/fields.tsx'

/** Nothing is known yet of someone's instructions. */
export const NEW_PLAN: Provenance = { author: '', licence: '', permits: { share: false, sell: false } }

/** Someone's instructions: author, price paid, licence and what it permits. */
export function PlanFields({
  plan,
  currency,
  onChange,
}: {
  plan: Provenance
  currency: Currency
  onChange: (next: Partial<Provenance>) => void
}) {
  return (
    <>
      <Field label="Author">
        {(id) => (
          <CommitInput
            id={id}
            value={plan.author}
            maxLength={120}
            onCommit={(author) => {
              onChange({ author })
            }}
          />
        )}
      </Field>
      <Field label={`Price paid, ${currency}`} hint="Counts in the total.">
        {(id) => (
          <CommitInput
            id={id}
            value={plan.price ? decimal(plan.price.minor, plan.price.currency) : ''}
            onCommit={(text) => {
              const minor = parseMinor(text, currency)
              if (minor !== undefined && minor >= 0) onChange({ price: { minor, currency: currency } })
            }}
          />
        )}
      </Field>
      <div className="col-span-2">
        <Field label="Licence, in its words">
          {(id) => (
            <CommitInput
              id={id}
              value={plan.licence}
              maxLength={200}
              onCommit={(licence) => {
                onChange({ licence })
              }}
            />
          )}
        </Field>
      </div>
      <Tick
        checked={plan.permits.share}
        onChange={(share) => {
          onChange({ permits: { ...plan.permits, share } })
        }}
      >
        It may be shared
      </Tick>
      <Tick
        checked={plan.permits.sell}
        onChange={(sell) => {
          onChange({ permits: { ...plan.permits, sell } })
        }}
      >
        A build of it may be sold
      </Tick>
    </>
  )
}
