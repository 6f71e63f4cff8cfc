import type { Decision } from '../../../core/build/decision.ts'
import type { Build } from '../../../core/build/build.ts'
import type { PartId } from '../../../core/units/ids.ts'
import { takeBack } from '../../store/decide.ts'
import { useRecords, type RecordsView } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'
import { OwnRuleForm } from './own-rule-form.tsx'

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
