import { useMemo } from 'react'
import { sumItems } from '../../../core/design/sum-items.ts'
import { compareSymmetry, lacksMirror, mirrorPairs } from '../../../core/design/mirror.ts'
import type { Module } from '../../../core/design/design.ts'
import type { Snapshot } from '../../../core/netting/snapshot.ts'
import type { Tally } from '../../../core/netting/tally.ts'
import type { ModuleId } from '../../../core/units/ids.ts'
import { useRecords } from '../../store/records.tsx'
import { ItemName } from '../../pieces/item-name.tsx'
import { plural } from '../../../core/units/numbers.ts'

/** Handed parts that a mirrored module keeps although nothing mirrors them. */
export function MirrorNotes({ module, snapshot, result }: { module: Module; snapshot: Snapshot; result: Tally }) {
  const missing = useMemo(() => {
    const pairs = mirrorPairs(snapshot.parts.values())
    return [
      ...new Set(
        result.lines
          .filter((l) => l.path.includes(module.id) && lacksMirror(l.item, snapshot.parts, pairs))
          .map((l) => l.item),
      ),
    ]
  }, [module, snapshot, result])
  if (!module.mirrored || missing.length === 0) return null
  return (
    <div className="border-l-4 border-warn bg-raised px-3 py-2">
      <h2 className="font-semibold">No counterpart is known</h2>
      <p>These stay as drawn. Add the other hand to the catalogue, or name what will do instead on their lines.</p>
      {missing.slice(0, 8).map((item) => (
        <ItemName key={item} item={item} size={24} />
      ))}
    </div>
  )
}

/** Whether a module and the one it is symmetric with really are. */
export function Symmetry({ module, snapshot, result }: { module: Module; snapshot: Snapshot; result: Tally }) {
  const { nameItem } = useRecords()
  const other = snapshot.design.modules.find((m) => m.id === module.pair)
  const found = useMemo(() => {
    const pairs = mirrorPairs(snapshot.parts.values())
    const of = (id: ModuleId | undefined) =>
      sumItems(
        result.lines.filter((l) => id !== undefined && l.path.includes(id)).map((l) => ({ item: l.item, qty: l.need })),
      )
    return compareSymmetry(of(module.id), of(module.pair), pairs)
  }, [module, snapshot, result])
  if (!other) return null
  if (found.length === 0) return <p className="text-good">The two are each other&rsquo;s mirror image.</p>
  return (
    <div className="border-l-4 border-warn bg-raised px-3 py-2">
      <h2 className="font-semibold">Not symmetric in {plural(found.length, 'item')}</h2>
      <ul>
        {found.slice(0, 6).map((d) => (
          <li key={d.item}>
            {module.name} has {d.here} {nameItem(d.item).name}; {other.name} has {d.there} {nameItem(d.mirrored).name}.
          </li>
        ))}
      </ul>
    </div>
  )
}
