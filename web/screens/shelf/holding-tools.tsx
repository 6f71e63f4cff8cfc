import { Sticker, Trash2 } from 'lucide-react'
import { useState } from 'react'
import { splitItemKey } from '../../../core/catalogue/item.ts'
import { isSticker, peel } from '../../../core/shelf/stickers.ts'
import type { Holding } from '../../../core/shelf/holding.ts'
import { add, edit, moveTo, rearrange, remove } from '../../../storage/journal.ts'
import { fresh } from '../../store/database.ts'
import { perform } from '../../store/perform.ts'
import { useRecords } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'
import { Choice, NumberInput } from '../../ui/fields.tsx'
import { plural } from '../../../core/units/numbers.ts'
import { ApplySticker } from './apply-sticker.tsx'

/** What can be done with the chosen holding: move all or part of it, or take it off the shelf. */
export function HoldingTools({ holding }: { holding: Holding }) {
  const { places, holdings, nameItem } = useRecords()
  // All of it, until a number is typed.
  const [chosen, setChosen] = useState<number | null>(null)
  const qty = Math.min(chosen ?? holding.qty, holding.qty)
  const { name, part } = nameItem(holding.item)
  const comesByLength = part.shape.family === 'hose' || part.shape.family === 'string'
  return (
    <span className="flex flex-wrap items-center gap-2">
      <span>Move</span>
      <NumberInput
        aria-label="Pieces to move"
        className="w-16"
        value={qty}
        min={1}
        max={holding.qty}
        onCommit={(n) => {
          if (n !== null) setChosen(n)
        }}
      />
      <span>to</span>
      <Choice
        label="Move to"
        value={holding.place as string}
        options={places.map((p) => ({ value: p.id as string, label: p.name }))}
        onChange={(to) => {
          const target = places.find((p) => p.id === to)
          if (!target) return
          void perform(`Moved ${plural(qty, 'piece')} of ${name} to ${target.name}`, [
            moveTo(target.id, [{ seen: holding, qty }]),
          ])
        }}
        className="w-40"
      />
      {comesByLength && (
        <NumberInput
          aria-label="Length of each, mm"
          className="w-24"
          value={holding.length ?? null}
          min={1}
          max={10_000}
          empty="mm each"
          onCommit={(length) => {
            const { length: _, ...bare } = holding
            void perform(
              length === null ? `${name}: as long as its name says` : `${name}: ${length} mm each`,
              [edit('holdings', holding, length === null ? bare : { ...holding, length })],
              { quiet: true },
            )
          }}
        />
      )}
      {isSticker(splitItemKey(holding.item).decoration) && (
        <Button
          title="Warm it a little and lift a corner; old stickers tear"
          onClick={() => {
            const change = peel(holding, qty, holdings, fresh)
            if (change)
              void perform(`Peeled ${plural(qty, 'sticker')} off ${name}`, [
                add('parts', [change.sticker]),
                ...rearrange(holdings, change),
              ])
          }}
        >
          <Sticker size={14} aria-hidden="true" /> Peel {qty === holding.qty ? '' : qty}
        </Button>
      )}
      {part.shape.family === 'sticker' && <ApplySticker holding={holding} />}
      <Button onClick={() => void perform(`Removed ${name} from the shelf`, [remove('holdings', [holding.id])])}>
        <Trash2 size={14} aria-hidden="true" /> Remove
      </Button>
    </span>
  )
}
