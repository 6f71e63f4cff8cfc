import { useMemo } from 'react'
import { lookAlikes } from '../../../core/studies/recolouring.ts'
import type { Snapshot } from '../../../core/netting/snapshot.ts'
import type { SourceGroup } from '../../../core/netting/groups.ts'
import { useRecords } from '../../store/records.tsx'
import { ItemName } from '../../pieces/item-name.tsx'
import { LookAlikeNote } from '../../pieces/look-alike-note.tsx'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import { sourceWords } from '../../pieces/source-words.ts'
import { PrintButton } from '../../ui/print-button.tsx'

/** What to fetch from one source, with a warning where pieces of it are easily mixed up. */
export function SourceInspector({ group, snapshot }: { group: SourceGroup; snapshot: Snapshot }) {
  const { colourById } = useRecords()
  const alike = useMemo(() => {
    const { source } = group
    // What lies there besides is what a hand may take by mistake.
    const beside =
      source.kind === 'shelf'
        ? snapshot.holdings.filter((h) => h.place === source.place).map((h) => h.item)
        : source.kind === 'copy'
          ? (snapshot.sets.find((s) => s.id === snapshot.copies.find((c) => c.id === source.copy)?.setId)?.lines ?? [])
              .filter((l) => l.stage === source.stage)
              .map((l) => l.item)
          : []
    const picked = new Set(group.picks.map((p) => p.item))
    return lookAlikes(new Set([...picked, ...beside]), colourById)
  }, [group, snapshot, colourById])
  return (
    <aside
      aria-label="Source"
      className="print-area flex min-h-0 flex-col gap-3 overflow-auto border-l border-rule pl-5 text-sm max-[960px]:overflow-visible max-[960px]:border-l-0 max-[960px]:pl-0"
    >
      <div className="flex items-start justify-between gap-2">
        <h2 className="text-base leading-tight font-semibold">
          {sourceWords(group.source, snapshot)}
          <span className="hidden font-normal print:inline"> · {snapshot.build.name}</span>
        </h2>
        <PrintButton label="Print this list" />
      </div>
      <p>
        Fetch <b>{plural(group.qty, 'piece')}</b> of {plural(group.picks.length, 'item')}.
        {group.estimate && <span className="text-warn"> Counts there rest on an estimate.</span>}
        {group.uncounted > 0 && (
          <span className="text-warn">
            {' '}
            {formatNumber(group.uncounted)} of them came with a parcel and were not counted.
          </span>
        )}
      </p>
      <ul className="divide-y divide-hair border-y border-hair">
        {group.picks.map(({ item, qty }) => (
          <li key={item} className="py-1.5">
            <span className="flex items-center justify-between gap-3">
              <ItemName item={item} size={28} />
              <b>{formatNumber(qty)}</b>
            </span>
            <LookAlikeNote item={item} alike={alike} />
          </li>
        ))}
      </ul>
    </aside>
  )
}
