import { moduleTree, moveModule } from '../../../core/design/arrange-modules.ts'
import { ArrowDown, ArrowUp, FlipHorizontal2, TriangleAlert } from 'lucide-react'
import { useMemo } from 'react'
import type { Module } from '../../../core/design/design.ts'
import type { DesignFault } from '../../../core/design/faults.ts'
import { NO_COVERAGE } from '../../../core/netting/coverage.ts'
import type { Tally } from '../../../core/netting/tally.ts'
import type { ModuleId } from '../../../core/units/ids.ts'
import { Button } from '../../ui/button.tsx'
import { CoverageStrip } from '../../pieces/coverage-strip.tsx'
import type { EditDesign } from './edit-design.ts'

/** The modules as they nest, each with its strip and its marks; the chosen one can be moved among its neighbours. */
export function ModuleList({
  edit,
  result,
  faults,
  chosen,
  onChoose,
}: {
  edit: EditDesign
  result: Tally
  faults: readonly DesignFault[]
  chosen: Module | undefined
  onChoose: (id: ModuleId) => void
}) {
  const rows = useMemo(() => moduleTree(edit.design), [edit.design])
  const faulty = new Set(faults.map((f) => f.module))
  const move = (by: -1 | 1) => {
    if (chosen) edit.save(`Moved ${chosen.name}`, moveModule(edit.design, chosen.id, by))
  }
  return (
    <div className="flex min-h-0 flex-col gap-2">
      <ul aria-label="Modules" className="narrow-list min-h-0 flex-1 overflow-auto border border-rule bg-sheet">
        {rows.map(({ module: m, depth }) => (
          <li key={m.id}>
            <button
              type="button"
              aria-current={m.id === chosen?.id}
              className={`w-full border-b border-hair py-2 pr-3 text-left text-sm ${m.id === chosen?.id ? 'bg-mark' : 'hover:bg-raised'}`}
              style={{ paddingLeft: 10 + depth * 14 }}
              onClick={() => {
                onChoose(m.id)
              }}
            >
              <span className="flex items-center justify-between gap-2">
                <span className={`flex min-w-0 items-center gap-1 ${m.later ? 'text-soft italic' : 'font-semibold'}`}>
                  {faulty.has(m.id) && <TriangleAlert size={14} aria-label="needs attention" className="text-bad" />}
                  {m.mirrored && <FlipHorizontal2 size={13} aria-label="mirrored" />}
                  <span className="truncate">{m.name}</span>
                </span>
                <span className="shrink-0 text-xs text-soft">
                  {m.later ? 'later' : m.repeats === 1 ? '' : `× ${m.repeats}`}
                </span>
              </span>
              <span className="mt-1 block">
                <CoverageStrip coverage={result.byModule.get(m.id) ?? NO_COVERAGE} height={7} />
              </span>
            </button>
          </li>
        ))}
      </ul>
      <div className="flex flex-wrap gap-2">
        <Button
          aria-label="Move the module up"
          disabled={!chosen}
          onClick={() => {
            move(-1)
          }}
        >
          <ArrowUp size={14} aria-hidden="true" />
        </Button>
        <Button
          aria-label="Move the module down"
          disabled={!chosen}
          onClick={() => {
            move(1)
          }}
        >
          <ArrowDown size={14} aria-hidden="true" />
        </Button>
      </div>
    </div>
  )
}
