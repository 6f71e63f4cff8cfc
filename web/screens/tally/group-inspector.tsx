import type { TallyGroup } from '../../../core/netting/groups.ts'
import type { TallyLine } from '../../../core/netting/tally.ts'
import { Button } from '../../ui/button.tsx'
import { CoverageLegend, CoverageStrip } from '../../pieces/coverage-strip.tsx'
import { ItemName } from '../../pieces/item-name.tsx'
import { plural } from '../../../core/units/numbers.ts'

const MOST_SHOWN = 200

/** The lines behind a sum, those that are most short first; each opens as a line. */
export function GroupInspector({
  title,
  group,
  moduleOf,
  onOpen,
}: {
  title: string
  group: TallyGroup<unknown>
  moduleOf: (line: TallyLine) => string
  onOpen: (line: TallyLine) => void
}) {
  const lines = [...group.lines].sort((p, q) => q.coverage.short - p.coverage.short)
  return (
    <aside
      aria-label="Sum"
      className="flex min-h-0 flex-col gap-3 overflow-auto border-l border-rule pl-5 text-sm max-[960px]:overflow-visible max-[960px]:border-l-0 max-[960px]:pl-0"
    >
      <h2 className="text-base leading-tight font-semibold">{title}</h2>
      <p>
        <b>{group.need} needed</b> in {plural(group.lines.length, 'line')}.
      </p>
      <CoverageStrip coverage={group.coverage} height={16} />
      <CoverageLegend coverage={group.coverage} />
      {group.estimate && <p className="text-warn">Counts rest on an estimate.</p>}
      <ul className="divide-y divide-hair border-y border-hair">
        {lines.slice(0, MOST_SHOWN).map((line) => (
          <li key={line.id} className="flex items-center justify-between gap-2 py-1.5">
            <span className="min-w-0">
              <ItemName item={line.item} size={28} />
              <span className="block truncate text-xs text-soft">
                {moduleOf(line)}: {line.need} needed, {line.coverage.short} short
              </span>
            </span>
            <Button
              className="px-2"
              onClick={() => {
                onOpen(line)
              }}
            >
              Open
            </Button>
          </li>
        ))}
      </ul>
      {lines.length > MOST_SHOWN && <p className="text-soft">and {lines.length - MOST_SHOWN} more.</p>}
    </aside>
  )
}
