import { formatNumber } from '../../../core/units/numbers.ts'
import { splitItemKey } from '../../../core/catalogue/item.ts'
import type { Build } from '../../../core/build/build.ts'
import type { ColourId } from '../../../core/units/ids.ts'
import { useRecords } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'

/** The colours that may stand in for one another: those of the design, and any already chosen. */
export function PaletteChoice({ build, onChange }: { build: Build; onChange: (palette: ColourId[]) => void }) {
  const { designs, colourById } = useRecords()
  const { palette } = build.rules
  const counts = new Map<ColourId, number>(palette.map((c) => [c, 0]))
  for (const module of designs.find((d) => d.id === build.id)?.modules ?? [])
    for (const line of module.lines) {
      const { colour } = splitItemKey(line.item)
      counts.set(colour, (counts.get(colour) ?? 0) + line.qty * module.repeats)
    }
  const colours = [...counts].sort((p, q) => q[1] - p[1])
  return (
    <div role="group" aria-label="Palette" className="col-span-2 flex flex-wrap gap-1.5">
      {colours.map(([id, qty]) => {
        const colour = colourById.get(id)
        const chosen = palette.includes(id)
        return (
          <Button
            key={id}
            aria-pressed={chosen}
            className={chosen ? 'border-accent bg-mark px-2 font-semibold' : 'px-2'}
            onClick={() => {
              onChange(chosen ? palette.filter((c) => c !== id) : [...palette, id])
            }}
          >
            <span
              aria-hidden="true"
              className="inline-block size-3 border border-soft"
              style={{ background: colour?.hex ?? '#9a9a9a' }}
            />
            {colour?.name ?? id.slice(2)} <span className="text-xs font-normal text-soft">{formatNumber(qty)}</span>
          </Button>
        )
      })}
      {colours.length === 0 && <p className="text-sm text-soft">The design has no colours yet.</p>}
    </div>
  )
}
