import { useMemo, useState } from 'react'
import type { Module } from '../../../core/design/design.ts'
import { FIGURE_SCALE, footprint } from '../../../core/design/footprint.ts'
import type { MockUp } from '../../../core/studies/mock-up.ts'
import type { Snapshot } from '../../../core/netting/snapshot.ts'
import { useStudy } from '../../store/use-study.ts'
import { NumberInput, Tick } from '../../ui/fields.tsx'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import { StudyNote } from '../../pieces/study-note.tsx'
import type { EditDesign } from './edit-design.ts'
import { TrialDetails } from './trial-details.tsx'

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
          <b>{formatNumber(total.area)}</b> square studs on the ground, <b>{total.height}</b> plates at the highest; the
          brief has {space}
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
          <span className="text-good">
            {mock.need === 1 ? 'the one piece' : `all ${formatNumber(mock.need)} pieces`}
          </span>
        ) : (
          `${formatNumber(mock.have)} of ${formatNumber(mock.need)}`
        )}
      </td>
      <td className={`pl-4 text-right ${open > 0 && !module.tested ? 'font-semibold text-bad' : ''}`}>
        {open > 0 ? `${open} open` : (module.risks ?? []).length > 0 ? 'cleared' : 'none'}
      </td>
    </tr>
  )
}
