import { Check, Minus, Plus, TriangleAlert, Undo2 } from 'lucide-react'
import { useState } from 'react'
import { splitItemKey } from '../../../core/catalogue/item.ts'
import type { Snapshot } from '../../../core/netting/snapshot.ts'
import { isOnOrder } from '../../../core/netting/supplies.ts'
import { usedOf } from '../../../core/making/exchange.ts'
import { sourceWords } from '../../pieces/source-words.ts'
import { ItemName } from '../../pieces/item-name.tsx'
import { useRecords } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'
import type { LineAt } from '../../../core/making/at-work.ts'
import { tick, untick } from './line-acts.ts'
import { lineState } from '../../../core/making/at-work.ts'
import type { InTurn } from './use-in-turn.ts'

/** A line of a repeat, large enough for a thumb: what goes in, from where, ticked as it does. */
export function LineRow({
  row,
  finished,
  snapshot,
  inTurn,
  onAmiss,
}: {
  row: LineAt
  inTurn: InTurn
  finished: boolean
  snapshot: Snapshot
  onAmiss: () => void
}) {
  const records = useRecords()
  const { line } = row
  const now = lineState(row)
  const { need, leftOut } = now
  // What was pressed shows at once, and is as it was again where it could not be written.
  const [pressed, setPressed] = useState<{ readonly put: number; readonly then: number } | undefined>()
  const put = pressed?.put === now.put ? pressed.then : now.put
  const open = Math.max(0, need - put - leftOut)
  const name = records.nameItem(line.item).name
  const unit = row.at.unitAt(row.work, row.repeat)
  const used = usedOf(unit, line.line, line.item)
  const others = [...new Set(unit.put.filter((p) => p.line === line.line && p.item !== line.item).map((p) => p.item))]
  const isFlipped = row.work.mirrored && splitItemKey(line.item).part !== splitItemKey(line.drawn).part
  const { moment, note, use } = line.source
  const putIn = (qty: number) => {
    setPressed({ put: now.put, then: now.put + qty })
    let none = false
    void inTurn(async (at) => {
      const done = await tick({ ...row, at }, qty, records)
      none = done === 'none'
      return done === true
    }).then(() => {
      setPressed(undefined)
      if (none) onAmiss()
    })
  }
  const takeOut = (qty: number | undefined) => {
    setPressed({ put: now.put, then: qty === undefined ? 0 : now.put - qty })
    void inTurn((at) => untick({ ...row, at }, qty, records)).then(() => {
      setPressed(undefined)
    })
  }
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-1 py-1.5">
      <div className="min-w-52 flex-1 basis-52">
        <ItemName item={line.item} size={48} />
      </div>
      <div className="min-w-40 flex-1 basis-40 text-xs text-soft">
        {moment && <p className="font-semibold text-warn">{moment}</p>}
        {note !== undefined && note !== '' && <p>{note}</p>}
        {use === 'applied' && <p>sticker applied</p>}
        {isFlipped && <p>drawn as {records.nameItem(line.drawn).part.name}</p>}
        {used.other > 0 && (
          <p className="text-warn">
            {used.other} in as {others.map((i) => records.nameItem(i).name).join(', ')}
          </p>
        )}
        {leftOut > 0 && <p>{leftOut} left out</p>}
        {open > 0 && !finished && <p>{whence(row, snapshot, records.nameItem)}</p>}
      </div>
      <p
        className="w-16 text-right font-display text-lg font-semibold tabular-nums"
        aria-label={`${put} of ${need} in`}
      >
        {put}
        <span className="text-sm font-normal text-soft"> / {need}</span>
      </p>
      <div className="flex min-w-66 items-center justify-end gap-1.5">
        {need > 1 && (
          <>
            <Button
              aria-label={`One ${name} out`}
              disabled={finished || put === 0}
              onClick={() => {
                takeOut(1)
              }}
            >
              <Minus size={16} aria-hidden="true" />
            </Button>
            <Button
              aria-label={`One more ${name} in`}
              disabled={finished || open === 0}
              onClick={() => {
                putIn(1)
              }}
            >
              <Plus size={16} aria-hidden="true" />
            </Button>
          </>
        )}
        <Button
          data-tick=""
          look={open > 0 ? 'primary' : 'plain'}
          className="w-28 justify-center"
          disabled={finished}
          aria-label={open > 0 ? `Put in ${open} ${name}` : `Take ${name} out`}
          onClick={() => {
            if (open > 0) putIn(open)
            else takeOut(undefined)
          }}
        >
          {open > 0 ? (
            <>
              <Check size={16} aria-hidden="true" /> Put in {open}
            </>
          ) : (
            <>
              <Undo2 size={16} aria-hidden="true" /> {put > 0 ? 'In' : 'Left out'}
            </>
          )}
        </Button>
        <Button aria-label={`Something is amiss with ${name}`} disabled={finished} onClick={onAmiss}>
          <TriangleAlert size={16} aria-hidden="true" />
        </Button>
      </div>
    </div>
  )
}

/** Where the count has the pieces, the first of them, in words; what it lacks. */
function whence({ at, line }: LineAt, snapshot: Snapshot, nameItem: ReturnType<typeof useRecords>['nameItem']): string {
  const pegs = at.pegsOf(line.id).filter((p) => p.source.kind !== 'built')
  const here = pegs.filter((p) => !isOnOrder(p.source))
  const [first] = here
  if (!first) return pegs.length > 0 ? 'on order, not here yet' : 'the count has none of it'
  const more = here.length > 1 ? ' and elsewhere' : ''
  const instead = first.standIn === undefined ? '' : `${nameItem(first.item).name}, `
  return `${instead}${sourceWords(first.source, snapshot)}${more}`
}
