import { Printer } from 'lucide-react'
import { useMemo, useState } from 'react'
import { pieceList } from '../../../core/design/piece-list.ts'
import type { Snapshot } from '../../../core/netting/snapshot.ts'
import { compareNames } from '../../../core/units/collate.ts'
import type { ModuleId } from '../../../core/units/ids.ts'
import { useRecords } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'
import { Choice, Tick } from '../../ui/fields.tsx'
import { PiecePicture } from '../../pieces/piece-picture.tsx'
import { plural } from '../../../core/units/numbers.ts'
import { useGrowing } from '../../ui/use-growing.ts'
import { Swatch } from '../../ui/swatch.tsx'

const ALL = 'all'
const CHOSEN = 'chosen'
const DRAWN = 'drawn'

/** A module or a colourway as a sheet of piece pictures with their counts, for the screen and for paper. */
export function SheetView({
  snapshot,
  asked,
  onModule,
}: {
  snapshot: Snapshot
  asked: ModuleId | undefined
  onModule: (module: ModuleId | undefined) => void
}) {
  const { nameItem } = useRecords()
  const { build, design, parts } = snapshot
  const [colourway, setColourway] = useState(CHOSEN)
  const [once, setOnce] = useState(false)
  const module = design.modules.find((m) => m.id === asked)
  const pieces = useMemo(
    () =>
      [
        ...pieceList(design, parts, {
          module: module?.id,
          once,
          colourway: colourway === CHOSEN ? undefined : colourway === DRAWN ? null : colourway,
        }),
      ]
        .map(([item, qty]) => ({ item, qty, ...nameItem(item) }))
        .sort(
          (p, q) =>
            compareNames(p.part.shape.family, q.part.shape.family) ||
            compareNames(p.part.name, q.part.name) ||
            compareNames(p.colour.name, q.colour.name),
        ),
    [design, parts, module, once, colourway, nameItem],
  )
  const shown = useGrowing(pieces)
  const total = pieces.reduce((n, p) => n + p.qty, 0)
  const scheme = design.colourways?.find((c) => c.id === (colourway === CHOSEN ? design.colourway : colourway))
  return (
    <div className="sheet flex min-h-0 flex-1 flex-col gap-3 overflow-auto">
      <div className="no-print flex flex-wrap items-center gap-3 text-sm">
        <Choice
          label="Module of the sheet"
          value={(module?.id as string | undefined) ?? ALL}
          options={[
            { value: ALL, label: 'the whole design' },
            ...design.modules.map((m) => ({ value: m.id as string, label: m.name })),
          ]}
          onChange={(value) => {
            onModule(value === ALL ? undefined : (value as ModuleId))
          }}
        />
        <Choice
          label="Colourway of the sheet"
          value={colourway}
          options={[
            { value: CHOSEN, label: 'as it is built' },
            { value: DRAWN, label: 'as drawn' },
            ...(design.colourways ?? []).map((c) => ({ value: c.id, label: c.name })),
          ]}
          onChange={setColourway}
        />
        {module && (
          <Tick checked={once} onChange={setOnce}>
            Of one of it
          </Tick>
        )}
        <Button
          onClick={() => {
            window.print()
          }}
        >
          <Printer size={14} aria-hidden="true" /> Print
        </Button>
      </div>
      <h2 className="font-display text-lg font-medium">
        {module?.name ?? build.name}
        {module && once ? ', one of it' : ''}
        {scheme && `, ${scheme.name}`}: {plural(total, 'piece')} of {plural(pieces.length, 'item')}
      </h2>
      {pieces.length === 0 ? (
        <p className="text-sm text-soft">There are no pieces in it yet.</p>
      ) : (
        <ul aria-label="Pieces" className="grid grid-cols-[repeat(auto-fill,minmax(7.5rem,1fr))] gap-px bg-hair">
          {shown.map(({ item, qty, part, colour }) => (
            <li
              key={item}
              className="flex break-inside-avoid flex-col items-center gap-1 bg-sheet px-1 py-2 text-center"
            >
              <PiecePicture shape={part.shape} hex={colour.hex} finish={colour.finish} size={72} />
              <b className="text-base">{qty} ×</b>
              <span className="text-xs leading-tight">{part.name}</span>
              <span className="flex items-center gap-1 text-xs text-soft">
                <Swatch hex={colour.hex} className="size-2.5" /> {colour.name}
              </span>
            </li>
          ))}
        </ul>
      )}
    </div>
  )
}
