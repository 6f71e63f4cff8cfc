import { splitItemKey } from '../../../core/catalogue/item.ts'
import type { ColourId } from '../../../core/units/ids.ts'
import { useRecords } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'
import type { EditDesign } from './edit-design.ts'
import type { LinePartProps } from './line-part-props.ts'

/** The colours a line may take; the house palette counts until one is chosen here. */
export function LinePalette({ line, edit, set, without }: LinePartProps & { edit: EditDesign }) {
  const { colourById } = useRecords()
  const chosen = line.palette ?? []
  const drawn = edit.design.modules.flatMap((m) => m.lines.map((l) => splitItemKey(l.item).colour))
  const colours = [...new Set([...chosen, ...drawn])]
  const put = (next: readonly ColourId[]) => {
    set(
      `The palette has ${next.length} colours`,
      next.length > 0 ? { ...line, palette: [...next] } : without('palette'),
    )
  }
  return (
    <div role="group" aria-label="Palette of the line" className="flex flex-wrap gap-1">
      {colours.map((id) => {
        const on = chosen.includes(id)
        const name = colourById.get(id)?.name ?? id.slice(2)
        return (
          <Button
            key={id}
            aria-pressed={on}
            look={on ? 'primary' : 'plain'}
            className="px-1.5 text-xs"
            onClick={() => {
              put(on ? chosen.filter((c) => c !== id) : [...chosen, id])
            }}
          >
            <span
              aria-hidden="true"
              className="inline-block size-3 border border-soft"
              style={{ background: colourById.get(id)?.hex ?? '#9a9a9a' }}
            />
            {name}
          </Button>
        )
      })}
      {chosen.length === 0 && <p className="text-xs text-soft">None chosen here: the house palette counts.</p>}
    </div>
  )
}
