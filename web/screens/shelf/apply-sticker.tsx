import { Sticker } from 'lucide-react'
import { useState } from 'react'
import { splitItemKey } from '../../../core/catalogue/item.ts'
import { searchKey } from '../../../core/colours/colour.ts'
import type { Holding } from '../../../core/shelf/holding.ts'
import { applySticker } from '../../../core/shelf/stickers.ts'
import { rearrange } from '../../../storage/journal.ts'
import { fresh } from '../../store/database.ts'
import { perform } from '../../store/perform.ts'
import { useRecords } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'
import { Dialog } from '../../ui/dialog.tsx'
import { SearchInput } from '../../ui/fields.tsx'
import { ItemName } from '../../pieces/item-name.tsx'
import { plural } from '../../../core/units/numbers.ts'

/** Applies loose stickers to plain pieces found by name: one sticker a piece. */
export function ApplySticker({ holding }: { holding: Holding }) {
  const { holdings, places, nameItem } = useRecords()
  const [open, setOpen] = useState(false)
  const [find, setFind] = useState('')
  const { part } = nameItem(holding.item)
  const words = searchKey(find)
    .split(' ')
    .filter((w) => w !== '')
  const targets = !open
    ? []
    : holdings
        .filter((h) => {
          if (h.id === holding.id || splitItemKey(h.item).decoration !== '') return false
          const named = nameItem(h.item)
          return named.part.shape.family !== 'sticker' && words.every((w) => searchKey(named.name).includes(w))
        })
        .slice(0, 8)
  const apply = async (plain: Holding) => {
    const qty = Math.min(holding.qty, plain.qty)
    const change = applySticker({ holding, part }, plain, qty, holdings, fresh)
    if (!change) return
    const done = await perform(`Applied ${plural(qty, 'sticker')}: ${part.name} on ${nameItem(plain.item).name}`, [
      ...rearrange(holdings, change),
    ])
    if (done) setOpen(false)
  }
  return (
    <>
      <Button
        onClick={() => {
          setOpen(true)
        }}
      >
        <Sticker size={14} aria-hidden="true" /> Apply it…
      </Button>
      <Dialog
        open={open}
        onOpenChange={setOpen}
        title={`Apply ${part.name}`}
        description={`${plural(holding.qty, 'loose sticker')}. Each goes on one plain piece; it can be undone.`}
      >
        <SearchInput
          aria-label="Find the plain piece"
          className="w-full"
          placeholder="tile 2x2 chalk"
          value={find}
          onChange={(e) => {
            setFind(e.target.value)
          }}
        />
        <ul aria-label="Plain pieces" className="divide-y divide-hair border-y border-hair">
          {targets.map((h) => (
            <li key={h.id}>
              <button
                type="button"
                className="flex w-full items-center justify-between gap-3 px-2 py-1 text-left text-sm hover:bg-mark"
                onClick={() => void apply(h)}
              >
                <ItemName item={h.item} size={28} />
                <span className="shrink-0 text-xs text-soft">
                  {h.qty} in {places.find((p) => p.id === h.place)?.name ?? 'no place'}
                </span>
              </button>
            </li>
          ))}
        </ul>
      </Dialog>
    </>
  )
}
