import { useMemo, useState } from 'react'
import { pieceGroups } from '../../../core/design/piece-list.ts'
import type { ItemKey } from '../../../core/catalogue/item.ts'
import type { Snapshot } from '../../../core/netting/snapshot.ts'
import { compareNames } from '../../../core/units/collate.ts'
import type { ModuleId } from '../../../core/units/ids.ts'
import { useRecords, type RecordsView } from '../../store/records.tsx'
import { Choice, Tick } from '../../ui/fields.tsx'
import { PiecePicture } from '../../pieces/piece-picture.tsx'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import { PrintButton } from '../../ui/print-button.tsx'
import { useGrowing } from '../../ui/use-growing.ts'
import { Swatch } from '../../ui/swatch.tsx'

const ALL = 'all'
const CHOSEN = 'chosen'
const DRAWN = 'drawn'

/** A module or a colourway as a sheet: by what pieces are for, in strips of their families; for screen and paper. */
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
  const groups = useMemo(
    () =>
      [
        ...pieceGroups(design, parts, {
          module: module?.id,
          once,
          colourway: colourway === CHOSEN ? undefined : colourway === DRAWN ? null : colourway,
        }),
      ].map(([id, pieces]) => stripsOf(design.modules.find((m) => m.id === id)?.name ?? '', id, pieces, nameItem)),
    [design, parts, module, once, colourway, nameItem],
  )
  const shown = useGrowing(groups)
  const total = groups.reduce((n, g) => n + g.total, 0)
  const items = useMemo(
    () => new Set(groups.flatMap((g) => g.strips.flatMap((s) => s.pieces.map((p) => p.item)))).size,
    [groups],
  )
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
        <PrintButton />
      </div>
      <h2 className="font-display text-lg font-medium">
        {module?.name ?? build.name}
        {module && once ? ', one of it' : ''}
        {scheme && `, ${scheme.name}`}: {plural(total, 'piece')} of {plural(items, 'item')}
      </h2>
      {groups.length === 0 ? (
        <p className="text-sm text-soft">There are no pieces in it yet.</p>
      ) : (
        shown.map((group) => (
          <section key={group.id} aria-label={`Pieces of ${group.name}`} className="break-inside-avoid">
            <h3 className="flex items-baseline gap-2 border-b-2 border-ink pb-0.5 text-base font-semibold">
              {group.name} <span className="text-sm font-normal text-soft">{plural(group.total, 'piece')}</span>
            </h3>
            {group.strips.map(({ family, pieces }) => (
              <div
                key={family}
                className="grid grid-cols-[7rem_minmax(0,1fr)] items-start gap-3 border-b border-hair py-1"
              >
                <span className="pt-1 text-right text-xs text-soft">{family}</span>
                <ul aria-label={`${family} of ${group.name}`} className="flex flex-wrap gap-x-5 gap-y-1">
                  {pieces.map(({ item, qty, part, colour }) => (
                    <li key={item} className="flex break-inside-avoid items-center gap-1.5">
                      <b className="min-w-7 text-right text-base">{formatNumber(qty)}</b>
                      <PiecePicture shape={part.shape} hex={colour.hex} finish={colour.finish} size={34} />
                      <span className="text-xs leading-tight">
                        {part.name}
                        <span className="flex items-center gap-1 text-soft">
                          <Swatch hex={colour.hex} className="size-2.5" /> {colour.name}
                        </span>
                      </span>
                    </li>
                  ))}
                </ul>
              </div>
            ))}
          </section>
        ))
      )}
    </div>
  )
}

type Named = ReturnType<RecordsView['nameItem']> & { readonly item: ItemKey; readonly qty: number }

/** A module's pieces in strips, one for each family of parts. */
function stripsOf(name: string, id: ModuleId, pieces: ReadonlyMap<ItemKey, number>, nameItem: RecordsView['nameItem']) {
  const byFamily = new Map<string, Named[]>()
  let total = 0
  for (const [item, qty] of pieces) {
    const named = { item, qty, ...nameItem(item) }
    const { family } = named.part.shape
    total += qty
    byFamily.set(family, [...(byFamily.get(family) ?? []), named])
  }
  const strips = [...byFamily]
    .sort(([p], [q]) => compareNames(p, q))
    .map(([family, list]) => ({
      family: family === 'unknown' ? 'other' : family,
      pieces: list.sort((p, q) => compareNames(p.part.name, q.part.name) || compareNames(p.colour.name, q.colour.name)),
    }))
  return { id, name, total, strips }
}
