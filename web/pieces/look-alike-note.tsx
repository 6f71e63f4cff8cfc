import { splitItemKey, type ItemKey } from '../../core/catalogue/item.ts'
import type { LookAlike } from '../../core/studies/recolouring.ts'
import { useRecords } from '../store/records.tsx'

/** Warns, beside a piece to be picked, of the colours it is mixed up with at the table. */
export function LookAlikeNote({ item, alike }: { item: ItemKey; alike: readonly LookAlike[] }) {
  const { colourById } = useRecords()
  const { part, colour } = splitItemKey(item)
  const others = alike
    .filter((a) => a.parts.includes(part) && a.colours.includes(colour))
    .flatMap((a) => a.colours.filter((c) => c !== colour))
  if (others.length === 0) return null
  return (
    <span className="block text-xs text-warn">
      Looks like {others.map((c) => colourById.get(c)?.name ?? c.slice(2)).join(', ')}: compare by daylight.
    </span>
  )
}
