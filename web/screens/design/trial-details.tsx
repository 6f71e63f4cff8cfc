import { Trash2 } from 'lucide-react'
import { RISK_KINDS, RISK_STATES, type Module, type Risk } from '../../../core/design/design.ts'
import { sizeOf } from '../../../core/design/footprint.ts'
import type { MockUp } from '../../../core/studies/mock-up.ts'
import type { Snapshot } from '../../../core/netting/snapshot.ts'
import { nowIso } from '../../store/database.ts'
import { Button } from '../../ui/button.tsx'
import { Choice, CommitInput } from '../../ui/fields.tsx'
import { ItemName } from '../../pieces/item-name.tsx'
import { plural } from '../../../core/units/numbers.ts'
import { sourceWords } from '../../pieces/source-words.ts'
import type { EditDesign } from './edit-design.ts'

/** One module before money: its size, what may fail, what to fetch for a try. */
export function TrialDetails({
  module,
  edit,
  snapshot,
  mock,
}: {
  module: Module
  edit: EditDesign
  snapshot: Snapshot
  mock: MockUp | undefined
}) {
  const risks = module.risks ?? []
  const setRisks = (label: string, next: readonly Risk[]) => {
    edit.replace(label, { ...module, risks: [...next] })
  }
  const size = module.form && sizeOf(module.form, snapshot.build.rules.form.scale)
  const picks = new Map<string, MockUp['picks'][number][]>()
  for (const pick of mock?.picks ?? []) {
    const where = sourceWords(pick.source, snapshot)
    picks.set(where, [...(picks.get(where) ?? []), pick])
  }
  return (
    <section aria-label={`Trial of ${module.name}`} className="flex flex-col gap-3 text-sm">
      <h2 className="font-display text-lg font-medium">{module.name}</h2>
      {size && (
        <p>
          {size.mm.join(' × ')} mm
          {size.metres ? `, ${size.metres.join(' × ')} m in the real thing` : ''}; {size.figures} figures high.
        </p>
      )}
      <div>
        <h3 className="text-base font-semibold">What may fail</h3>
        {risks.map((risk, i) => (
          <div
            key={i}
            className="grid grid-cols-[minmax(0,1fr)_auto_auto] items-center gap-1 border-b border-hair py-1"
          >
            <span>
              <b className={risk.state === 'open' ? 'text-bad' : ''}>{risk.kind}</b>
              <CommitInput
                aria-label={`Note on ${risk.kind}`}
                placeholder="what, where"
                value={risk.note ?? ''}
                maxLength={500}
                className="mt-0.5 w-full"
                onCommit={(note) => {
                  const { note: _, ...rest } = risk
                  setRisks(
                    'Changed a risk',
                    risks.map((r, n) =>
                      n === i ? { ...rest, ...(note.trim() === '' ? {} : { note: note.trim() }) } : r,
                    ),
                  )
                }}
              />
            </span>
            <Choice
              label={`State of ${risk.kind}`}
              value={risk.state}
              options={RISK_STATES.map((s) => ({ value: s, label: s }))}
              onChange={(state) => {
                setRisks(
                  `${risk.kind}: ${state}`,
                  risks.map((r, n) => (n === i ? { ...r, state } : r)),
                )
              }}
            />
            <Button
              aria-label={`Remove ${risk.kind}`}
              onClick={() => {
                setRisks(
                  'Removed a risk',
                  risks.filter((_, n) => n !== i),
                )
              }}
            >
              <Trash2 size={13} aria-hidden="true" />
            </Button>
          </div>
        ))}
        <span className="mt-2 flex flex-wrap gap-2">
          <Choice
            label="Add a risk"
            value="-"
            options={[
              { value: '-', label: 'add a risk…' },
              ...RISK_KINDS.map((k) => ({ value: k as string, label: k })),
            ]}
            onChange={(kind) => {
              const known = RISK_KINDS.find((k) => k === kind)
              if (known) setRisks(`Noted a risk: ${known}`, [...risks, { kind: known, state: 'open' }])
            }}
          />
          <Button
            onClick={() => {
              if (module.tested) {
                const { tested: _, ...rest } = module
                edit.replace(`${module.name} is not test built`, rest)
              } else
                edit.replace(`Test built ${module.name}`, {
                  ...module,
                  tested: nowIso().slice(0, 10),
                  risks: risks.map((r) => (r.state === 'open' ? { ...r, state: 'test built' } : r)),
                })
            }}
          >
            {module.tested ? 'Not test built after all' : 'It is test built, and holds'}
          </Button>
        </span>
      </div>
      {mock && (
        <div>
          <h3 className="text-base font-semibold">
            {mock.missing.length === 0
              ? 'Can be tried now, in any colour'
              : `Missing for a try: ${plural(mock.need - mock.have, 'piece')}`}
          </h3>
          {mock.missing.slice(0, 12).map((m) => (
            <span key={m.item} className="flex items-center gap-2">
              <b>{m.qty}</b> <ItemName item={m.item} size={24} />
            </span>
          ))}
          {picks.size > 0 && <h4 className="mt-2 font-semibold">Fetch</h4>}
          {[...picks].map(([where, list]) => (
            <div key={where} className="mt-1">
              <span className="text-xs text-soft">{where}</span>
              <ul>
                {list.map((p, i) => (
                  <li key={i} className="flex items-center gap-2">
                    <b className="w-6 text-right">{p.qty}</b> <ItemName item={p.item} size={22} />
                  </li>
                ))}
              </ul>
            </div>
          ))}
          <p className="mt-2 text-xs text-soft">Old plastic can be brittle: press slowly, and never force a part.</p>
        </div>
      )}
    </section>
  )
}
