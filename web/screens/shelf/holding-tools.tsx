import { Trash2 } from 'lucide-react'
import { useState } from 'react'
import { move } from '../../../core/shelf/rearrange.ts'
import type { Holding } from '../../../core/shelf/holding.ts'
import { put, remove } from '../../../storage/journal.ts'
import { fresh } from '../../data/database.ts'
import { perform } from '../../data/perform.ts'
import { useRecords } from '../../data/records.tsx'
import { Button } from '../../ui/button.tsx'
import { Choice, NumberInput } from '../../ui/fields.tsx'
import { plural } from '../../ui/screen.tsx'

/** What can be done with the chosen holding: move all or part of it, or take it off the shelf. */
export function HoldingTools({ holding }: { holding: Holding }) {
  const { places, holdings, nameItem } = useRecords()
  // All of it, until a number is typed.
  const [chosen, setChosen] = useState<number | null>(null)
  const qty = Math.min(chosen ?? holding.qty, holding.qty)
  const { name } = nameItem(holding.item)
  return (
    <span className="flex items-center gap-2">
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
          const change = move(holding, qty, target.id, holdings, fresh)
          void perform(`Moved ${plural(qty, 'piece')} of ${name} to ${target.name}`, [
            remove('holdings', change.remove),
            put('holdings', change.put),
          ])
        }}
        className="w-40"
      />
      <Button onClick={() => void perform(`Removed ${name} from the shelf`, [remove('holdings', [holding.id])])}>
        <Trash2 size={14} aria-hidden="true" /> Remove
      </Button>
    </span>
  )
}
