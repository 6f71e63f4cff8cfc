import { formatNumber } from '../../../core/units/numbers.ts'
import type { ItemKey } from '../../../core/catalogue/item.ts'
import { nearestColours, otherParts, type KnownItems, type Standing } from '../../../core/catalogue/availability.ts'
import { formatMoney, type Currency } from '../../../core/units/money.ts'
import { useRecords } from '../../store/records.tsx'

/** What is known of an item, in words. */
export function StandingMark({ standing, currency }: { standing: Standing; currency: Currency }) {
  switch (standing.kind) {
    case 'held':
      return <span className="text-good">held, {formatNumber(standing.qty)}</span>
    case 'offered':
      return <span>offered from {formatMoney(standing.from, currency)}</span>
    case 'seen':
      return <span className="text-warn">seen in {standing.set}</span>
    case 'never seen':
      return <b className="text-bad">not known in this colour</b>
  }
}

/** What would do for an item that is known nowhere: near colours of the part, and other parts of the shape. */
export function WhatWouldDo({ item, known }: { item: ItemKey; known: KnownItems }) {
  const { colourById, partById, nameItem } = useRecords()
  const near = nearestColours(item, known, colourById).slice(0, 3)
  const others = otherParts(item, known, partById).slice(0, 3)
  return (
    <span className="block text-xs text-soft">
      {near.length === 0
        ? 'This part is known in no colour at all.'
        : `Known in ${near.map((n) => `${colourById.get(n.colour)?.name ?? n.colour} (${n.distance.toFixed(1)} away${n.sameFinish ? '' : ', another finish'})`).join(', ')}.`}
      {others.length > 0 &&
        ` In this colour: ${others.map((o) => `${o.qty > 1 ? `${o.qty} × ` : ''}${nameItem(o.item).part.name}`).join(', ')}.`}
    </span>
  )
}
