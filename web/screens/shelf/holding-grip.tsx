import { useDraggable } from '@dnd-kit/core'
import { GripVertical } from 'lucide-react'
import type { Holding } from '../../../core/shelf/holding.ts'
import type { Dragged } from './place-list.tsx'

/** The handle by which the mouse takes a holding to a place; the keyboard moves it by the tools above the table. */
export function HoldingGrip({ holding }: { holding: Holding }) {
  const { setNodeRef, listeners } = useDraggable({
    id: holding.id,
    data: { holding: holding.id } satisfies Dragged,
  })
  return (
    <span
      ref={setNodeRef}
      {...listeners}
      aria-hidden="true"
      className="no-print -ml-1 cursor-grab touch-none text-soft"
    >
      <GripVertical size={15} />
    </span>
  )
}
