import { Plus, Trash2 } from 'lucide-react'
import { useState } from 'react'
import type { Build } from '../../../core/build/build.ts'
import { MOST_RATES, type ExchangeRate } from '../../../core/build/exchange-rates.ts'
import { minorDigits } from '../../../core/units/currency.ts'
import { exchangeText, readExchange } from '../../../core/units/exchange.ts'
import { dayOf, isDay } from '../../../core/units/instants.ts'
import { currency as currencyOf } from '../../../core/units/money.ts'
import { nowIso } from '../../store/database.ts'
import { useRecords } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'
import { CommitInput, Field, TextInput } from '../../ui/fields.tsx'

/** A day as it is typed; undefined where there is no such day, or it is yet to come. */
function readDay(text: string): string | undefined {
  const day = text.trim()
  return isDay(day) && day <= dayOf(nowIso()) ? day : undefined
}

/** What other money costs, by the user's own dated rates: without one, shops that trade in it are left out. */
export function RateFields({
  build: {
    currency,
    rules: { rates },
  },
  onChange,
}: {
  build: Build
  onChange: (label: string, rates: ExchangeRate[]) => void
}) {
  const { shops } = useRecords()
  const known = new Set<string>([currency, ...rates.map((r) => r.currency)])
  const missing = [...new Set<string>(shops.map((s) => s.currency))].filter((c) => !known.has(c)).sort()
  return (
    <div role="group" aria-label="Rates of exchange" className="col-span-2 flex flex-col gap-3">
      <p className="text-sm font-semibold">Rates of exchange</p>
      {rates.map((own, i) => {
        const set = (label: string, next: Partial<ExchangeRate>) => {
          onChange(
            `Rate of ${own.currency}: ${label}`,
            rates.map((r, k) => (k === i ? { ...r, ...next } : r)),
          )
        }
        return (
          <fieldset
            key={own.currency}
            className="grid grid-cols-2 items-start gap-x-4 gap-y-2 border-l-2 border-rule pl-3"
          >
            <legend className="sr-only">Rate of {own.currency}</legend>
            <Field label={`1 ${own.currency} costs, ${currency}`}>
              {(id) => (
                <CommitInput
                  id={id}
                  inputMode="decimal"
                  value={exchangeText(own.rate)}
                  onCommit={(text) => {
                    const rate = readExchange(text)
                    if (rate === undefined)
                      return { problem: 'A number above 0 with up to nine decimals, such as 1.064.' }
                    // A rate that is typed is of today.
                    set(`${exchangeText(rate)} ${currency}`, { rate, on: dayOf(nowIso()) })
                    return undefined
                  }}
                />
              )}
            </Field>
            <Field label="Read on">
              {(id) => (
                <CommitInput
                  id={id}
                  value={own.on}
                  onCommit={(text) => {
                    const on = readDay(text)
                    if (on === undefined) return { problem: 'A day until today, such as 2026-11-20.' }
                    set(`read on ${on}`, { on })
                    return undefined
                  }}
                />
              )}
            </Field>
            <Button
              className="col-span-2 justify-self-end"
              aria-label={`Remove the rate of ${own.currency}`}
              onClick={() => {
                onChange(
                  `No rate of ${own.currency}`,
                  rates.filter((_, k) => k !== i),
                )
              }}
            >
              <Trash2 size={14} aria-hidden="true" /> Remove
            </Button>
          </fieldset>
        )
      })}
      {rates.length < MOST_RATES && (
        <NewRate
          key={rates.length}
          known={known}
          suggested={missing[0]}
          ours={currency}
          onAdd={(rate) => {
            onChange(`Rate of ${rate.currency}: ${exchangeText(rate.rate)} ${currency}`, [...rates, rate])
          }}
        />
      )}
      <p className="text-xs text-soft">
        {missing.length > 0 && `Shops that are known ask in ${missing.join(', ')}: without a rate they are left out. `}A
        shop’s bill is changed at the rate all at once and rounded half up; your bank may use another rate.
      </p>
    </div>
  )
}

/** A rate that is not there yet: it is added once both its currency and its amount are right. */
function NewRate({
  known,
  suggested,
  ours,
  onAdd,
}: {
  known: ReadonlySet<string>
  suggested: string | undefined
  ours: string
  onAdd: (rate: ExchangeRate) => void
}) {
  const [theirs, setTheirs] = useState(suggested ?? '')
  const [text, setText] = useState('')
  const [problem, setProblem] = useState('')
  const add = () => {
    const code = theirs.trim().toUpperCase()
    const rate = readExchange(text)
    const wrong =
      minorDigits(code) === undefined
        ? 'A currency of ISO 4217 is expected, such as CHF.'
        : known.has(code)
          ? code === ours
            ? 'That is the build’s own money.'
            : `${code} has a rate already.`
          : rate === undefined
            ? 'A rate above 0 with up to nine decimals is expected, such as 1.064.'
            : ''
    setProblem(wrong)
    if (wrong === '' && rate !== undefined) onAdd({ currency: currencyOf(code), rate, on: dayOf(nowIso()) })
  }
  return (
    <form
      className="flex flex-col gap-1"
      onSubmit={(event) => {
        event.preventDefault()
        add()
      }}
    >
      <div className="grid grid-cols-2 items-start gap-x-4 gap-y-2">
        <Field label="Another currency">
          {(id) => (
            <TextInput
              id={id}
              value={theirs}
              maxLength={3}
              placeholder="CHF"
              onChange={(event) => {
                setTheirs(event.target.value)
              }}
            />
          )}
        </Field>
        <Field label={`costs, ${ours}`}>
          {(id) => (
            <TextInput
              id={id}
              inputMode="decimal"
              value={text}
              placeholder="1.064"
              onChange={(event) => {
                setText(event.target.value)
              }}
            />
          )}
        </Field>
        <Button type="submit" className="justify-self-start">
          <Plus size={14} aria-hidden="true" /> Add a rate of exchange
        </Button>
      </div>
      {problem !== '' && (
        <p role="alert" className="text-xs text-bad">
          {problem}
        </p>
      )}
    </form>
  )
}
