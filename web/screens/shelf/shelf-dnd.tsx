import {
  closestCenter,
  DndContext,
  DragOverlay,
  KeyboardSensor,
  PointerSensor,
  pointerWithin,
  useSensor,
  useSensors,
  type Active,
  type Announcements,
  type CollisionDetection,
  type Over,
  type DragEndEvent,
  type KeyboardCoordinateGetter,
} from '@dnd-kit/core'
import { useState, type ReactNode } from 'react'
import { mayStandIn } from '../../../core/shelf/place-state.ts'
import { edit, moveTo } from '../../../storage/journal.ts'
import { perform } from '../../store/perform.ts'
import { useRecords } from '../../store/records.tsx'
import { plural } from '../../../core/units/numbers.ts'
import type { Dragged, DropOn } from './place-list.tsx'

/** Enter opens a place, so M takes it up; then arrows choose, Enter or space puts it there, Escape leaves it. */
const KEYS = { start: ['KeyM'], cancel: ['Escape'], end: ['Enter', 'Space'] }
const MOVE_HINT = 'M takes a place up, arrows choose where it goes, Enter puts it there, Escape leaves it.'

/** Where the pointer is; by the keyboard, the place that is nearest. */
const underHand: CollisionDetection = (args) => (args.pointerCoordinates ? pointerWithin(args) : closestCenter(args))

/** The place above or below the one that is chosen by the keyboard. */
const nextPlace: KeyboardCoordinateGetter = (event, { currentCoordinates, context: { droppableRects, over } }) => {
  const by = event.code === 'ArrowDown' ? 1 : event.code === 'ArrowUp' ? -1 : 0
  if (by === 0) return undefined
  event.preventDefault()
  const places = [...droppableRects].sort(([, p], [, q]) => p.top - q.top)
  const at = places.findIndex(([id]) => id === over?.id)
  // Until it is known where one is, a key leads nowhere.
  if (at < 0) return undefined
  const rect = places[Math.max(0, Math.min(places.length - 1, at + by))]?.[1]
  return rect ? { x: currentCoordinates.x, y: rect.top } : undefined
}

/** What is said while something is moved, by the names of what is meant. */
const announcementsOf = (nameOf: (what: Active | Over) => string): Announcements => ({
  onDragStart: ({ active }) => `${nameOf(active)} is taken up.`,
  onDragOver: ({ active, over }) =>
    over ? `${nameOf(active)} is over ${nameOf(over)}.` : `${nameOf(active)} is over nothing.`,
  onDragEnd: ({ active, over }) =>
    over ? `${nameOf(active)} is put down on ${nameOf(over)}.` : `${nameOf(active)} is put back.`,
  onDragCancel: ({ active }) => `${nameOf(active)} is put back.`,
})

/**
 * Dragging on the shelf: a holding to a place, a place into another. It stands around the screen, so that typing in the
 * screen does not draw every place anew.
 */
export function ShelfDnd({ children }: { children: ReactNode }) {
  const { places, holdings, nameItem } = useRecords()
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, { keyboardCodes: KEYS, coordinateGetter: nextPlace }),
  )
  const [dragged, setDragged] = useState<Dragged | null>(null)
  const drop = ({ active, over }: DragEndEvent) => {
    setDragged(null)
    const what = active.data.current as Dragged | undefined
    const onto = over?.data.current as DropOn | undefined
    if (!what || !onto) return
    const target = places.find((p) => p.id === onto.place)
    if ('holding' in what) {
      const holding = holdings.find((h) => h.id === what.holding)
      if (!holding || !target || target.id === holding.place) return
      void perform(`Moved ${plural(holding.qty, 'piece')} of ${nameItem(holding.item).name} to ${target.name}`, [
        moveTo(target.id, [{ seen: holding, qty: holding.qty }]),
      ])
    } else {
      const moved = places.find((p) => p.id === what.place)
      const parent = target?.id ?? null
      if (moved && moved.parent !== parent && mayStandIn(moved.id, parent, places))
        void perform(`${moved.name} stands in ${target?.name ?? 'nothing'}`, [
          edit('places', moved, { ...moved, parent }),
        ])
    }
  }
  const held = dragged && 'holding' in dragged ? holdings.find((h) => h.id === dragged.holding) : undefined
  const place = dragged && 'place' in dragged ? places.find((p) => p.id === dragged.place) : undefined
  const nameOf = ({ data }: Active | Over): string => {
    const about = data.current as Dragged | DropOn | undefined
    if (about && 'holding' in about) {
      const holding = holdings.find((h) => h.id === about.holding)
      return holding ? nameItem(holding.item).name : 'nothing'
    }
    return places.find((p) => p.id === about?.place)?.name ?? 'Everywhere'
  }
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={underHand}
      accessibility={{ screenReaderInstructions: { draggable: MOVE_HINT }, announcements: announcementsOf(nameOf) }}
      onDragStart={({ active }) => {
        setDragged(active.data.current as Dragged)
      }}
      onDragCancel={() => {
        setDragged(null)
      }}
      onDragEnd={drop}
    >
      {children}
      <DragOverlay dropAnimation={null}>
        {(held ?? place) && (
          <span className="inline-block border border-accent bg-sheet px-2 py-1 text-sm shadow-lg">
            {held ? nameItem(held.item).name : place?.name}
          </span>
        )}
      </DragOverlay>
    </DndContext>
  )
}
