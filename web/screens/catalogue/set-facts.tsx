import { ArrowDown, ArrowUp, Plus, Trash2 } from 'lucide-react'
import type { DonorSet } from '../../../core/donors/donor-set.ts'
import { currency, decimal, parseMinor } from '../../../core/units/money.ts'
import { fresh } from '../../store/database.ts'
import { Button } from '../../ui/button.tsx'
import { CommitInput, Field, NumberInput } from '../../ui/fields.tsx'

type SetFactsProps = { readonly set: DonorSet; readonly onSave: (label: string, next: DonorSet) => void }

/** Name, year, price, end of production, note and stages of a set. */
export function SetFacts({ set, onSave }: SetFactsProps) {
  const code = set.retail?.currency ?? currency('EUR')
  const without = <K extends keyof DonorSet>(key: K) => {
    const { [key]: _, ...rest } = set
    return rest as DonorSet
  }
  return (
    <section aria-label="About the set" className="flex min-h-0 flex-col gap-3 overflow-auto pr-1">
      <Field label="Name">
        {(id) => (
          <CommitInput
            id={id}
            value={set.name}
            maxLength={200}
            onCommit={(name) => {
              if (name.trim() !== '') onSave(`Renamed ${set.name} to ${name.trim()}`, { ...set, name: name.trim() })
            }}
          />
        )}
      </Field>
      <div className="grid grid-cols-2 gap-3">
        <Field label="Year">
          {(id) => (
            <NumberInput
              id={id}
              value={set.year ?? null}
              min={1930}
              max={2100}
              empty="not noted"
              onCommit={(year) => {
                onSave(`Changed the year of ${set.name}`, year === null ? without('year') : { ...set, year })
              }}
            />
          )}
        </Field>
        <Field label={`Retail price, ${code}`}>
          {(id) => (
            <CommitInput
              id={id}
              value={set.retail ? decimal(set.retail.minor, set.retail.currency) : ''}
              placeholder="not noted"
              onCommit={(text) => {
                const minor = parseMinor(text, code)
                if (text.trim() === '') onSave(`Took the price from ${set.name}`, without('retail'))
                else if (minor !== undefined && minor >= 0)
                  onSave(`Changed the price of ${set.name}`, { ...set, retail: { minor, currency: code } })
              }}
            />
          )}
        </Field>
      </div>
      <Field label="Made until" hint="After that it gets dearer and harder to find.">
        {(id) => (
          <CommitInput
            id={id}
            type="date"
            value={set.retires ?? ''}
            onCommit={(date) => {
              onSave(
                `Changed until when ${set.name} is made`,
                /^\d{4}-\d{2}-\d{2}$/.test(date) ? { ...set, retires: date } : without('retires'),
              )
            }}
          />
        )}
      </Field>
      <Field label="Note">
        {(id) => (
          <CommitInput
            id={id}
            value={set.note ?? ''}
            maxLength={2000}
            onCommit={(note) => {
              onSave(`Changed the note of ${set.name}`, note.trim() === '' ? without('note') : { ...set, note })
            }}
          />
        )}
      </Field>
      <Stages set={set} onSave={onSave} />
    </section>
  )
}

/** The stages of a set in their order; one that has lines stays. */
function Stages({ set, onSave }: SetFactsProps) {
  const swap = (at: number, by: number) => {
    const stages = [...set.stages]
    const [moved] = stages.splice(at, 1)
    if (!moved) return
    stages.splice(at + by, 0, moved)
    onSave(`Moved stage ${moved.name}`, { ...set, stages })
  }
  return (
    <>
      <h2 className="text-sm font-semibold">Stages</h2>
      <ol className="flex flex-col gap-1.5">
        {set.stages.map((stage, i) => {
          const used = set.lines.some((l) => l.stage === stage.id)
          return (
            <li key={stage.id} className="flex items-center gap-1">
              <CommitInput
                aria-label={`Stage ${i + 1}`}
                className="min-w-0 flex-1"
                value={stage.name}
                maxLength={200}
                onCommit={(name) => {
                  if (name.trim() !== '')
                    onSave(`Renamed stage ${stage.name}`, {
                      ...set,
                      stages: set.stages.map((s) => (s.id === stage.id ? { ...s, name: name.trim() } : s)),
                    })
                }}
              />
              <Button
                className="px-1.5"
                aria-label={`Move ${stage.name} up`}
                disabled={i === 0}
                onClick={() => {
                  swap(i, -1)
                }}
              >
                <ArrowUp size={14} aria-hidden="true" />
              </Button>
              <Button
                className="px-1.5"
                aria-label={`Move ${stage.name} down`}
                disabled={i === set.stages.length - 1}
                onClick={() => {
                  swap(i, 1)
                }}
              >
                <ArrowDown size={14} aria-hidden="true" />
              </Button>
              <Button
                className="px-1.5"
                aria-label={`Remove ${stage.name}`}
                disabled={used || set.stages.length === 1}
                title={used ? 'It has lines: move them first' : ''}
                onClick={() => {
                  onSave(`Removed stage ${stage.name}`, {
                    ...set,
                    stages: set.stages.filter((s) => s.id !== stage.id),
                  })
                }}
              >
                <Trash2 size={14} aria-hidden="true" />
              </Button>
            </li>
          )
        })}
      </ol>
      <div>
        <Button
          onClick={() => {
            const name = `Stage ${set.stages.length + 1}`
            onSave(`Added ${name}`, { ...set, stages: [...set.stages, { id: fresh(), name }] })
          }}
        >
          <Plus size={14} aria-hidden="true" /> Add a stage
        </Button>
      </div>
    </>
  )
}
