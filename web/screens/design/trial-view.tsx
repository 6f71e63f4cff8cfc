import { Trash2 } from 'lucide-react'
import { useMemo, useState } from 'react'
import { RISK_KINDS, RISK_STATES, type Module, type Risk } from '../../../core/design/design.ts'
import { FIGURE_SCALE, footprint, sizeOf } from '../../../core/design/footprint.ts'
import type { MockUp } from '../../../core/planning/mock-up.ts'
import type { Snapshot } from '../../../core/planning/snapshot.ts'
import { nowIso } from '../../data/database.ts'
import { useRecords } from '../../data/records.tsx'
import { useStudy } from '../../data/use-study.ts'
import { Button } from '../../ui/button.tsx'
import { Choice, CommitInput, NumberInput, Tick } from '../../ui/fields.tsx'
import { ItemName } from '../../ui/item-name.tsx'
import { plural } from '../../ui/screen.tsx'
import { StudyNote } from '../../ui/study-note.tsx'
import type { EditDesign } from './edit-design.ts'

/** Before money is spent: what can be tried now in any colour, what may fail, and whether it fits its space. */
export function TrialView({ edit, snapshot }: { edit: EditDesign; snapshot: Snapshot }) {
  const modules = useMemo(() => edit.design.modules.filter((m) => !m.figure), [edit.design])
  const ids = useMemo(() => modules.map((m) => m.id), [modules])
  const study = useStudy('mockUps', snapshot, ids)
  const mocks = new Map(
    study.value && study.value.length === ids.length ? ids.map((id, i) => [id, study.value?.[i]]) : [],
  )
  const [shown, setShown] = useState<string | undefined>()
  const module = modules.find((m) => m.id === shown) ?? modules[0]
  const { form } = snapshot.build.rules
  const total = footprint(edit.design, form)
  const space = [form.width, form.depth].every((s) => s !== null)
    ? `${form.width} × ${form.depth} studs`
    : 'no ground given'
  return (
    <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_22rem] gap-6 overflow-auto max-[960px]:grid-cols-1">
      <div className="flex min-w-0 flex-col gap-3">
        <p className="text-sm">
          <b>{total.area.toLocaleString('en').replace(/,/g, '\u202f')}</b> square studs on the ground,{' '}
          <b>{total.height}</b> plates at the highest; the brief has {space}
          {form.height === null ? '' : `, ${form.height} plates`}.
          {total.open.length > 0 && ` ${plural(total.open.length, 'module has', 'modules have')} no size yet.`}
        </p>
        {total.faults.map((fault) => (
          <p key={fault} role="alert" className="border-l-4 border-warn bg-raised px-3 py-1 text-sm">
            {fault}
          </p>
        ))}
        <StudyNote study={study} />
        <table className="w-full text-sm">
          <caption className="sr-only">Modules with their sizes and what can be tried now</caption>
          <thead>
            <tr className="border-b border-ink text-xs text-soft">
              <th className="py-1 text-left font-semibold">Module</th>
              <th className="font-semibold">Width</th>
              <th className="font-semibold">Depth</th>
              <th className="font-semibold">Height</th>
              <th className="font-semibold">On the one before</th>
              <th className="text-right font-semibold">Try now, any colour</th>
              <th className="pl-4 text-right font-semibold">Risks</th>
            </tr>
          </thead>
          <tbody>
            {modules.map((m) => (
              <SizeRow
                key={m.id}
                module={m}
                edit={edit}
                mock={mocks.get(m.id)}
                chosen={m.id === module?.id}
                onChoose={() => {
                  setShown(m.id)
                }}
              />
            ))}
          </tbody>
        </table>
        <p className="text-xs text-soft">
          Width and depth in studs, height in plates, of one repeat. A figure of 40 mm stands for a person at a scale of
          about 1 to {FIGURE_SCALE} (common practice).
        </p>
      </div>
      {module && (
        <TrialDetails key={module.id} module={module} edit={edit} snapshot={snapshot} mock={mocks.get(module.id)} />
      )}
    </div>
  )
}

function SizeRow({
  module,
  edit,
  mock,
  chosen,
  onChoose,
}: {
  module: Module
  edit: EditDesign
  mock: MockUp | undefined
  chosen: boolean
  onChoose: () => void
}) {
  const form = module.form ?? { width: 1, depth: 1, height: 1, stacked: false }
  const side = (key: 'width' | 'depth' | 'height', label: string) => (
    <td className="px-1 text-center">
      <NumberInput
        aria-label={`${label} of ${module.name}`}
        min={1}
        max={10_000}
        empty="–"
        className="w-14 text-center"
        value={module.form ? form[key] : null}
        onCommit={(n) => {
          if (n === null) {
            const { form: _, ...rest } = module
            edit.replace(`${module.name} has no size`, rest)
          } else edit.replace(`Changed the size of ${module.name}`, { ...module, form: { ...form, [key]: n } })
        }}
      />
    </td>
  )
  const open = (module.risks ?? []).filter((r) => r.state === 'open').length
  return (
    <tr className={`border-b border-hair ${chosen ? 'bg-mark' : ''}`}>
      <th scope="row" className="py-1 text-left font-normal">
        <button
          type="button"
          aria-pressed={chosen}
          className="text-left font-semibold hover:underline"
          onClick={onChoose}
        >
          {module.name}
        </button>
        {module.tested && <span className="block text-xs text-good">test built {module.tested}</span>}
      </th>
      {side('width', 'Width')}
      {side('depth', 'Depth')}
      {side('height', 'Height')}
      <td className="text-center align-middle">
        <span className="inline-flex align-middle">
          <Tick
            checked={form.stacked}
            onChange={(stacked) => {
              edit.replace(`Changed where ${module.name} stands`, { ...module, form: { ...form, stacked } })
            }}
          >
            <span className="sr-only">{module.name} stands on the one before</span>
          </Tick>
        </span>
      </td>
      <td className="text-right">
        {mock === undefined ? (
          '…'
        ) : mock.have === mock.need ? (
          <span className="text-good">all {mock.need} pieces</span>
        ) : (
          `${mock.have} of ${mock.need}`
        )}
      </td>
      <td className={`pl-4 text-right ${open > 0 && !module.tested ? 'font-semibold text-bad' : ''}`}>
        {open > 0 ? `${open} open` : (module.risks ?? []).length > 0 ? 'cleared' : 'none'}
      </td>
    </tr>
  )
}

function TrialDetails({
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
  const { places } = useRecords()
  const risks = module.risks ?? []
  const setRisks = (label: string, next: readonly Risk[]) => {
    edit.replace(label, { ...module, risks: [...next] })
  }
  const size = module.form && sizeOf(module.form, snapshot.build.rules.form.scale)
  const whereOf = (source: MockUp['picks'][number]['source']) => {
    if (source.kind === 'copy') {
      const copy = snapshot.copies.find((c) => c.id === source.copy)
      const set = snapshot.sets.find((s) => s.id === copy?.setId)
      return `${copy?.label ?? 'a copy'}, ${set?.stages.find((s) => s.id === source.stage)?.name ?? source.stage}`
    }
    return source.kind === 'shelf' ? (places.find((p) => p.id === source.place)?.name ?? 'the shelf') : 'a model'
  }
  const picks = new Map<string, MockUp['picks'][number][]>()
  for (const pick of mock?.picks ?? []) {
    const where = whereOf(pick.source)
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
