import { splitItemKey, type ItemKey } from '../../core/catalogue/item.ts'
import { useRecords } from '../store/records.tsx'
import { PiecePicture } from './piece-picture.tsx'

/** An item wherever it is named: its picture, its part and its colour. */
export function ItemName({ item, size = 34 }: { item: ItemKey; size?: number }) {
  const { part, colour } = useRecords().nameItem(item)
  const { decoration } = splitItemKey(item)
  return (
    <span className="flex min-w-0 items-center gap-2">
      <PiecePicture shape={part.shape} hex={colour.hex} finish={colour.finish} size={size} />
      <span className="min-w-0 leading-tight">
        <span className="block truncate" title={part.name}>
          {part.name}
        </span>
        <span className="flex items-center gap-1 text-xs text-soft">
          <span
            aria-hidden="true"
            className="inline-block size-2.5 border border-soft"
            style={{ background: colour.hex }}
          />
          <span className="truncate">{colour.name}</span>
          {decoration && <span className="truncate">· {decoration}</span>}
          {part.shape.family === 'unknown' && <span className="text-warn">· unknown shape</span>}
        </span>
      </span>
    </span>
  )
}
