import { formatNumber } from '../../../core/units/numbers.ts'
import { useDraggable, useDroppable } from '@dnd-kit/core'
import { HandHeart, Mail, Package } from 'lucide-react'
import { memo, useEffect, useRef } from 'react'
import type { PlaceRow } from '../../../core/shelf/place-tree.ts'
import type { PlaceId } from '../../../core/units/ids.ts'

/** What is dragged on the shelf, and what it may be dropped on. */
export type Dragged = { readonly holding: string } | { readonly place: PlaceId }
export type DropOn = { readonly place: PlaceId | null }

/** The places as a tree; each takes what is dropped on it. By the keyboard M takes a place up, or the tools below the list move it. */
export const PlaceList = memo(function PlaceList({
  tree,
  pieces,
  selected,
  onSelect,
}: {
  tree: readonly PlaceRow[]
  pieces: number
  selected: string | null
  onSelect: (place: PlaceId | null) => void
}) {
  return (
    <ul aria-label="Places" className="narrow-list min-h-0 flex-1 overflow-auto border border-rule bg-sheet text-sm">
      <PlaceItem
        label="Everywhere"
        depth={0}
        count={pieces}
        place={null}
        active={selected === null}
        onSelect={onSelect}
      />
      {tree.map(({ place, depth, count }) => (
        <PlaceItem
          key={place.id}
          label={place.name}
          depth={depth}
          count={count}
          place={place.id}
          kind={place.kind}
          active={place.id === selected}
          onSelect={onSelect}
        />
      ))}
    </ul>
  )
})

function PlaceItem({
  label,
  depth,
  count,
  place,
  kind,
  active,
  onSelect,
}: {
  label: string
  depth: number
  count: number
  place: PlaceId | null
  kind?: string
  active: boolean
  onSelect: (place: PlaceId | null) => void
}) {
  const { setNodeRef: setDrop, isOver } = useDroppable({
    id: `drop-${place ?? 'everywhere'}`,
    data: { place } satisfies DropOn,
  })
  const { setNodeRef: setDrag, listeners } = useDraggable({
    id: `place-${place ?? 'everywhere'}`,
    data: place === null ? {} : ({ place } satisfies Dragged),
    disabled: place === null,
  })
  const item = useRef<HTMLLIElement>(null)
  useEffect(() => {
    if (active) item.current?.scrollIntoView({ block: 'nearest' })
  }, [active])
  return (
    <li
      ref={(node) => {
        setDrop(node)
        item.current = node
      }}
    >
      <button
        ref={setDrag}
        type="button"
        aria-current={active}
        aria-keyshortcuts={place === null ? undefined : 'M'}
        onClick={() => {
          onSelect(place)
        }}
        {...listeners}
        style={{ paddingLeft: 10 + depth * 14 }}
        className={`flex w-full items-center justify-between gap-2 border-b border-hair py-1 pr-2 text-left ${active ? 'bg-mark font-semibold' : 'hover:bg-raised'} ${isOver ? 'outline-2 -outline-offset-2 outline-accent' : ''}`}
      >
        <span className="flex min-w-0 items-center gap-1.5">
          {kind === 'model' && <Package size={13} aria-label="finished model" className="shrink-0 text-soft" />}
          {kind === 'promise' && <HandHeart size={13} aria-label="promised" className="shrink-0 text-soft" />}
          {kind === 'post' && <Mail size={13} aria-label="in the post" className="shrink-0 text-soft" />}
          <span className="truncate">{label}</span>
        </span>
        <span className="text-soft">{formatNumber(count)}</span>
      </button>
    </li>
  )
}
