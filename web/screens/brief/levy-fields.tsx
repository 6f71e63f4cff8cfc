import { Plus, Trash2 } from 'lucide-react'
import type { Build } from '../../../core/build/build.ts'
import { MOST_LEVIES, NEW_LEVY, rateText, readRate, type ImportLevy } from '../../../core/build/import-levies.ts'
import { LEVY_BASES } from '../../../core/costs/levy.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { Button } from '../../ui/button.tsx'
import { Choice, CommitInput, Field, MoneyInput } from '../../ui/fields.tsx'

const BASES = LEVY_BASES.map((value) => ({
  value,
  label: value === 'goods' ? 'goods alone' : 'goods, shipping and fees',
}))

const whence = ({ from }: ImportLevy) => from ?? 'any other country'

/** Duty and tax by the user's own rates, a block for each country or kind of levy. */
export function LevyFields({
  build: {
    currency,
    rules: { levies, shipTo },
  },
  onChange,
}: {
  build: Build
  onChange: (label: string, levies: ImportLevy[]) => void
}) {
  return (
    <div role="group" aria-label="Duty and tax" className="col-span-2 flex flex-col gap-3">
      <p className="text-sm font-semibold">Duty and tax on orders from abroad</p>
      {levies.map((levy, i) => {
        const set = (label: string, next: Partial<ImportLevy>) => {
          onChange(
            `Duty and tax from ${whence(levy)}: ${label}`,
            levies.map((l, k) => (k === i ? { ...l, ...next } : l)),
          )
        }
        return (
          <fieldset key={i} className="grid grid-cols-2 gap-x-4 gap-y-2 border-l-2 border-rule pl-3">
            <legend className="sr-only">
              Duty and tax {i + 1}, from {whence(levy)}
            </legend>
            <Field label="From">
              {(id) => (
                <CommitInput
                  id={id}
                  value={levy.from ?? ''}
                  placeholder="any other country"
                  maxLength={2}
                  onCommit={(text) => {
                    const country = text.trim().toUpperCase()
                    if (country !== '' && !/^[A-Z]{2}$/.test(country))
                      return { problem: 'Two letters, such as CH; nothing for any other country.' }
                    if (country === shipTo) return { problem: `Parcels within ${shipTo} bear none.` }
                    set(country === '' ? 'for any other country' : `for ${country}`, {
                      from: country === '' ? null : country,
                    })
                    return undefined
                  }}
                />
              )}
            </Field>
            <Field label="Rate, %">
              {(id) => (
                <CommitInput
                  id={id}
                  inputMode="decimal"
                  value={rateText(levy.rate)}
                  onCommit={(text) => {
                    const rate = readRate(text)
                    if (rate === undefined) return { problem: 'A percentage from 0 to 100, such as 7.7.' }
                    set(`${rateText(rate)}%`, { rate })
                    return undefined
                  }}
                />
              )}
            </Field>
            <div className="col-span-2">
              <Field label="On">
                {(id) => (
                  <Choice
                    id={id}
                    value={levy.on}
                    options={BASES}
                    onChange={(on) => {
                      set(`on ${on}`, { on })
                    }}
                  />
                )}
              </Field>
            </div>
            <Field label={`Due from goods of, ${currency}`}>
              {(id) => (
                <MoneyInput
                  id={id}
                  value={levy.threshold}
                  currency={currency}
                  onCommit={(minor) => {
                    if (minor !== null) set(`from ${formatMoney(minor, currency)}`, { threshold: minor })
                  }}
                />
              )}
            </Field>
            <Field label={`Carrier’s fee, ${currency}`}>
              {(id) => (
                <MoneyInput
                  id={id}
                  value={levy.fee}
                  currency={currency}
                  onCommit={(minor) => {
                    if (minor !== null) set(`carrier’s fee ${formatMoney(minor, currency)}`, { fee: minor })
                  }}
                />
              )}
            </Field>
            <div className="col-span-2 flex items-center justify-between gap-3 text-xs text-soft">
              <span>{levy.rate === 0 && levy.fee === 0 ? 'As it stands, nothing is due.' : ''}</span>
              <Button
                aria-label={`Remove duty and tax from ${whence(levy)}`}
                onClick={() => {
                  onChange(
                    `No duty and tax from ${whence(levy)}`,
                    levies.filter((_, k) => k !== i),
                  )
                }}
              >
                <Trash2 size={14} aria-hidden="true" /> Remove
              </Button>
            </div>
          </fieldset>
        )
      })}
      <div>
        <Button
          disabled={levies.length >= MOST_LEVIES}
          onClick={() => {
            onChange('Added a rate of duty and tax', [...levies, NEW_LEVY])
          }}
        >
          <Plus size={14} aria-hidden="true" /> Add a rate
        </Button>
      </div>
      <p className="text-xs text-soft">
        Your own rates, weighed when orders are sought. A country with rates of its own bears those alone; several are
        each due by themselves. What is due is for the customs authority to say.
      </p>
    </div>
  )
}
