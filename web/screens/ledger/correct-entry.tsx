import { useState } from 'react'
import type { Build } from '../../../core/build/build.ts'
import type { Posting } from '../../../core/settling/postings.ts'
import { correctedSum, correctionOf } from '../../../core/settling/typed-entry.ts'
import type { EntryId } from '../../../core/units/ids.ts'
import { decimal, formatMoney, parseMinor } from '../../../core/units/money.ts'
import { add } from '../../../storage/journal.ts'
import { fresh } from '../../store/database.ts'
import { perform } from '../../store/perform.ts'
import { Button } from '../../ui/button.tsx'
import { Field, TextInput } from '../../ui/fields.tsx'

/** What an entry should say: the difference becomes an entry of its own. */
export function CorrectEntry({
  posting,
  postings,
  build,
  today,
}: {
  posting: Posting
  postings: readonly Posting[]
  build: Build
  today: string
}) {
  const [amount, setAmount] = useState('')
  const [why, setWhy] = useState('')
  const [problem, setProblem] = useState('')
  const before = correctedSum(posting, postings)
  const correct = async () => {
    const right = parseMinor(amount, build.currency)
    if (right === undefined || right < 0) {
      setProblem(`An amount such as ${decimal(1250, build.currency)} is expected, 0 to take all of it back.`)
      return
    }
    const entry = correctionOf(posting, before, right, why, {
      ...{ id: `e-${fresh()}` as EntryId, build: build.id, home: build.currency, today },
    })
    if (!entry) {
      setProblem('That is what it says already.')
      return
    }
    const done = await perform(`Corrected ${posting.text} to ${formatMoney(right, build.currency)}`, [
      add('entries', [entry]),
    ])
    if (!done) return
    setAmount('')
    setWhy('')
    setProblem('')
  }
  return (
    <form
      className="mt-2 flex flex-col gap-2 border-t border-hair pt-2"
      aria-label="Correct it"
      onSubmit={(e) => {
        e.preventDefault()
        void correct()
      }}
    >
      <Field label={`It should say, ${build.currency}`}>
        {(id) => (
          <TextInput
            id={id}
            inputMode="decimal"
            value={amount}
            placeholder={decimal(before, build.currency)}
            onChange={(e) => {
              setAmount(e.target.value)
            }}
          />
        )}
      </Field>
      <Field label="Why">
        {(id) => (
          <TextInput
            id={id}
            value={why}
            maxLength={150}
            onChange={(e) => {
              setWhy(e.target.value)
            }}
          />
        )}
      </Field>
      {problem && (
        <p role="alert" className="text-bad">
          {problem}
        </p>
      )}
      <div>
        <Button type="submit" disabled={amount.trim() === ''}>
          Correct it
        </Button>
      </div>
    </form>
  )
}
