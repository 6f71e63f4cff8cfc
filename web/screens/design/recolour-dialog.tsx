import { withModule } from '../../../core/design/arrange-modules.ts'
import { useMemo, useState } from 'react'
import { splitItemKey } from '../../../core/catalogue/item.ts'
import type { ColourSwap, Design, Module } from '../../../core/design/design.ts'
import { ownPieces } from '../../../core/design/explode.ts'
import { exchanged, recolour, recolourLines } from '../../../core/design/recolour.ts'
import { sumItems } from '../../../core/design/sum-items.ts'
import type { Snapshot } from '../../../core/netting/snapshot.ts'
import type { ColourId } from '../../../core/units/ids.ts'
import { useRecords } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'
import { ColourChoice } from '../../pieces/colour-choice.tsx'
import { Dialog } from '../../ui/dialog.tsx'
import { PiecePicture } from '../../pieces/piece-picture.tsx'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import type { EditDesign } from './edit-design.ts'
import { StandingMark, WhatWouldDo } from './standing.tsx'
import { useKnown } from './use-known.ts'

/** A module in other colours: chosen colour by colour, shown piece by piece with what is known of each. */
export function RecolourDialog(props: {
  module: Module
  edit: EditDesign
  snapshot: Snapshot
  open: boolean
  onOpenChange: (open: boolean) => void
}) {
  const { module, open, onOpenChange } = props
  return (
    <Dialog
      open={open}
      onOpenChange={onOpenChange}
      wide
      title={`Recolour ${module.name}`}
      description="Choose what each colour becomes. Locked lines keep theirs."
    >
      {open && <Recolour {...props} />}
    </Dialog>
  )
}

function Recolour({
  module,
  edit,
  snapshot,
  onOpenChange,
}: {
  module: Module
  edit: EditDesign
  snapshot: Snapshot
  onOpenChange: (open: boolean) => void
}) {
  const records = useRecords()
  const known = useKnown(snapshot.build.currency)
  const [swaps, setSwaps] = useState<readonly ColourSwap[]>([])
  const pieces = useMemo(
    () => ownPieces(edit.design, module.id, snapshot.parts),
    [edit.design, module.id, snapshot.parts],
  )
  const colours = useMemo(() => {
    const counts = new Map<ColourId, number>()
    for (const { item, qty, source } of pieces) {
      const { colour } = splitItemKey(item)
      if (!source.locked) counts.set(colour, (counts.get(colour) ?? 0) + qty)
    }
    return [...counts].sort((p, q) => q[1] - p[1])
  }, [pieces])
  const preview = useMemo(
    () =>
      [...sumItems(pieces.map((p) => ({ item: p.source.locked ? p.item : recolour(p.item, [swaps]), qty: p.qty })))]
        .map(([item, qty]) => ({ item, qty, standing: known.standingOf(item) }))
        .sort((p, q) => Number(q.standing.kind === 'never seen') - Number(p.standing.kind === 'never seen')),
    [pieces, swaps, known],
  )
  const never = preview.filter((p) => p.standing.kind === 'never seen')
  const inner = edit.design.modules.filter((m) => m.within === module.id || m.id === module.like).length
  const finish = (label: string, next: Design) => {
    edit.save(label, next, [], false)
    onOpenChange(false)
  }
  return (
    <div className="grid min-h-0 flex-1 grid-cols-[18rem_minmax(0,1fr)] gap-6">
      <div className="flex min-h-0 flex-col gap-3 overflow-auto pr-1 text-sm">
        {colours.map(([from, qty]) => (
          <div key={from} className="flex flex-col gap-1 border-b border-hair pb-2">
            <span className="flex items-center gap-2">
              <span
                aria-hidden="true"
                className="inline-block size-4 border border-soft"
                style={{ background: records.colourById.get(from)?.hex ?? '#9a9a9a' }}
              />
              <b>{records.colourById.get(from)?.name ?? from}</b> <span className="text-soft">{formatNumber(qty)}</span>
            </span>
            <ColourChoice
              label={`${records.colourById.get(from)?.name ?? from} becomes`}
              value={swaps.find((s) => s.from === from)?.to}
              none="stays"
              onChange={(to) => {
                setSwaps((list) => [...list.filter((s) => s.from !== from), ...(to ? [{ from, to }] : [])])
              }}
            />
          </div>
        ))}
        <Button
          look="primary"
          disabled={swaps.length === 0}
          onClick={() => {
            finish(`Recoloured ${module.name}`, exchanged(edit.design, module.id, swaps))
          }}
        >
          Exchange them in this module
        </Button>
        {inner === 0 && (
          <Button
            disabled={swaps.length === 0 || (module.colours?.length ?? 0) > 0}
            onClick={() => {
              finish(`Wrote new colours into ${module.name}`, withModule(edit.design, recolourLines(module, swaps)))
            }}
          >
            Write them into its lines
          </Button>
        )}
        {(module.colours?.length ?? 0) > 0 && (
          <Button
            onClick={() => {
              const { colours: _, ...rest } = module
              finish(`${module.name} as drawn`, withModule(edit.design, rest))
            }}
          >
            Back to the drawn colours
          </Button>
        )}
      </div>
      <div className="flex min-h-0 flex-col gap-2">
        <p className="text-sm">
          {never.length === 0 ? (
            'Every piece is known in its colour.'
          ) : (
            <>
              <b>{plural(never.length, 'item')}</b> of {formatNumber(preview.length)} not known in that colour.
            </>
          )}
        </p>
        <ul
          aria-label="Pieces in their new colours"
          className="grid min-h-0 flex-1 auto-rows-min grid-cols-[repeat(auto-fill,minmax(11rem,1fr))] gap-x-4 gap-y-2 overflow-auto border border-rule bg-sheet p-3 text-sm"
        >
          {preview.slice(0, 200).map(({ item, qty, standing }) => {
            const { part, colour } = records.nameItem(item)
            return (
              <li key={item} className="flex items-start gap-2">
                <PiecePicture shape={part.shape} hex={colour.hex} finish={colour.finish} size={44} />
                <span className="min-w-0 leading-tight">
                  <span className="block truncate" title={part.name}>
                    {formatNumber(qty)} × {part.name}
                  </span>
                  <span className="block truncate text-xs text-soft">{colour.name}</span>
                  <span className="block text-xs">
                    <StandingMark standing={standing} currency={snapshot.build.currency} />
                  </span>
                  {standing.kind === 'never seen' && <WhatWouldDo item={item} known={known} />}
                </span>
              </li>
            )
          })}
        </ul>
      </div>
    </div>
  )
}
