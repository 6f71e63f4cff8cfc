import { useMemo, useState } from 'react'
import { itemPrices } from '../../../core/build/resale.ts'
import type { Copy, DonorSet } from '../../../core/donors/donor-set.ts'
import { leftovers } from '../../../core/shelf/leftovers.ts'
import type { BuildId } from '../../../core/units/ids.ts'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import { ItemName } from '../../pieces/item-name.tsx'
import { useRecords } from '../../store/records.tsx'
import { useTally } from '../../store/tallies.ts'
import { useGrowing } from '../../ui/use-growing.ts'
import { OwnPrice } from './own-price.tsx'

const NOTHING: readonly ReturnType<typeof leftovers>[number][] = []
const NO_PRICES: ReturnType<typeof itemPrices> = new Map()

/** What the design leaves over of a copy, piece by piece, the most first. */
export function LeavesOver({ copy, set, build: id }: { copy: Copy; set: DonorSet; build: BuildId }) {
  const tally = useTally(id)
  const { nameItem } = useRecords()
  const build = tally?.now.build
  const prices = useMemo(() => (build ? itemPrices(build.rules) : NO_PRICES), [build])
  const counted = tally?.snapshot.copies.find((c) => c.id === copy.id)
  const left = useMemo(
    () =>
      tally && counted && copy.state !== 'to-buy'
        ? leftovers(set, counted, tally.result).sort((p, q) => q.qty - p.qty)
        : [],
    [tally, counted, copy.state, set],
  )
  const [open, setOpen] = useState(false)
  const shown = useGrowing(open ? left : NOTHING)
  if (left.length === 0) return null
  return (
    <details
      className="text-sm"
      onToggle={(e) => {
        setOpen(e.currentTarget.open)
      }}
    >
      <summary className="cursor-pointer font-semibold">
        Leaves over{' '}
        {plural(
          left.reduce((n, p) => n + p.qty, 0),
          'piece',
        )}{' '}
        of {plural(left.length, 'item')}
      </summary>
      <ul aria-label={`Left over of ${copy.label}`}>
        {shown.map(({ item, qty }) => (
          <li key={item} className="flex items-center gap-2">
            <b className="w-10 text-right">{formatNumber(qty)}</b> <ItemName item={item} size={24} />
            {build && (
              <span className="ml-auto shrink-0">
                <OwnPrice
                  build={build}
                  of={{ kind: 'item', item }}
                  name={nameItem(item).name}
                  price={prices.get(item)}
                />
              </span>
            )}
          </li>
        ))}
      </ul>
    </details>
  )
}
