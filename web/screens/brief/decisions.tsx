import { useState } from 'react'
import { partFromName } from '../../../core/catalogue/part.ts'
import type { Decision } from '../../../core/build/decision.ts'
import type { Build } from '../../../core/build/build.ts'
import type { PartId } from '../../../core/units/ids.ts'
import { decide, takeBack } from '../../store/decide.ts'
import { useRecords, type RecordsView } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'
import { Choice, Field, NumberInput, TextInput } from '../../ui/fields.tsx'

/** The user's own rules ("one A is made of two B"), and all decisions by hand that hold here; each can be taken back. */
export function Decisions({ build }: { build: Build }) {
  const records = useRecords()
  const mine = records.decisions.filter((d) => d.build === null || d.build === build.id)
  const rules = mine.filter((d) => d.what.kind === 'own')
  const others = mine.filter((d) => d.what.kind !== 'own')
  return (
    <>
      <h2 className="text-lg font-semibold">Own rules</h2>
      <DecisionList decisions={rules} records={records} empty="None yet: say below what one part may be made of." />
      <OwnRuleForm build={build} />
      {others.length > 0 && (
        <>
          <h2 className="text-lg font-semibold">Decisions by hand</h2>
          <DecisionList decisions={others} records={records} empty="" />
        </>
      )}
    </>
  )
}

function DecisionList({
  decisions,
  records,
  empty,
}: {
  decisions: readonly Decision[]
  records: RecordsView
  empty: string
}) {
  if (decisions.length === 0) return empty === '' ? null : <p className="text-sm text-soft">{empty}</p>
  return (
    <ul className="divide-y divide-hair border-y border-hair text-sm">
      {decisions.map((d) => (
        <li key={d.id} className="flex items-center justify-between gap-3 py-1">
          <span>
            {decisionWords(d, records)}
            {d.build === null && <span className="text-soft">, in every build</span>}
          </span>
          <Button
            className="px-2"
            aria-label={`Take back: ${decisionWords(d, records)}`}
            onClick={() => {
              void takeBack('Took a decision back', [d])
            }}
          >
            Take back
          </Button>
        </li>
      ))}
    </ul>
  )
}

function decisionWords({ what }: Decision, { nameItem, partById }: RecordsView): string {
  const partName = (id: PartId) => partById.get(id)?.name ?? id.slice(2).replace(/-/g, ' ')
  switch (what.kind) {
    case 'own':
      return `One ${partName(what.part)} = ${what.uses.map((u) => `${u.qty} × ${partName(u.part)}`).join(' + ')}`
    case 'pin':
      return `Pinned ${what.qty} × ${nameItem(what.source.item).name}`
    case 'forbid':
      return `${what.uses.map((u) => nameItem(u.item).name).join(' + ')} never for ${nameItem(what.item).name}${what.line ? ' on a line' : ''}`
    case 'accept':
      return `${what.uses.map((u) => nameItem(u.item).name).join(' + ')} is as good as ${nameItem(what.item).name} on a line`
  }
}

/** One part for several of another: both named in plain words, in this build or in all. */
function OwnRuleForm({ build }: { build: Build }) {
  const { partByAlias, partById } = useRecords()
  const [one, setOne] = useState('')
  const [qty, setQty] = useState(2)
  const [other, setOther] = useState('')
  const [scope, setScope] = useState<'build' | 'always'>('build')
  const [problem, setProblem] = useState<string | undefined>()
  const find = (text: string): PartId | undefined => {
    const { id } = partFromName(text)
    return partByAlias.get(id) ?? (partById.has(id) ? id : undefined)
  }
  const add = () => {
    const [part, use] = [find(one), find(other)]
    if (!part || !use) {
      setProblem(`“${!part ? one : other}” is no part of the catalogue. Write its name as it stands there.`)
      return
    }
    if (part === use) {
      setProblem('A part cannot be made of itself.')
      return
    }
    setProblem(undefined)
    void decide(`One ${one.trim()} = ${qty} × ${other.trim()}`, scope === 'always' ? null : build.id, [
      { kind: 'own', part, uses: [{ part: use, qty }], points: 1 },
    ])
    setOne('')
    setOther('')
  }
  return (
    <form
      className="grid grid-cols-[minmax(0,1fr)_4.5rem_minmax(0,1fr)] gap-x-3 gap-y-2"
      onSubmit={(e) => {
        e.preventDefault()
        add()
      }}
    >
      <Field label="One">
        {(id) => (
          <TextInput
            id={id}
            value={one}
            placeholder="panel 1x6"
            onChange={(e) => {
              setOne(e.target.value)
            }}
          />
        )}
      </Field>
      <Field label="is">
        {(id) => (
          <NumberInput
            id={id}
            value={qty}
            min={1}
            max={100}
            onCommit={(n) => {
              if (n !== null) setQty(n)
            }}
          />
        )}
      </Field>
      <Field label="times">
        {(id) => (
          <TextInput
            id={id}
            value={other}
            placeholder="panel 1x3"
            onChange={(e) => {
              setOther(e.target.value)
            }}
          />
        )}
      </Field>
      {problem && (
        <p role="alert" className="col-span-3 text-sm text-bad">
          {problem}
        </p>
      )}
      <div className="col-span-3 flex items-center gap-3">
        <Choice
          label="Where the rule holds"
          value={scope}
          options={[
            { value: 'build', label: 'in this build' },
            { value: 'always', label: 'in every build' },
          ]}
          onChange={setScope}
        />
        <Button type="submit" disabled={one.trim() === '' || other.trim() === ''}>
          Add the rule
        </Button>
      </div>
    </form>
  )
}
