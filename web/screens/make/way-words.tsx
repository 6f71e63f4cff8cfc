import { orderOfPlace } from '../../../core/orders/expected-supply.ts'
import { orderName } from '../../../core/orders/order.ts'
import { NOW, SOME_DAY } from '../../../core/orders/readiness.ts'
import type { WayOut } from '../../../core/making/missing.ts'
import type { PlaceId } from '../../../core/units/ids.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import { ItemName } from '../../pieces/item-name.tsx'
import { STAND_IN_WORDS } from '../../pieces/stand-in-words.ts'
import { useRecords } from '../../store/records.tsx'
import type { MakeView } from './make-view.ts'

/** What a way out gives, and what it costs. */
export function WayWords({ way, view: { tally } }: { way: WayOut; view: MakeView }) {
  const { orders } = useRecords()
  const { snapshot } = tally
  const { currency } = snapshot.build
  switch (way.kind) {
    case 'leftover':
      return (
        <>
          <b>Left over</b>: {plural(way.qty, 'piece')} that nothing wants. Costs nothing.
        </>
      )
    case 'later module': {
      const module = snapshot.design.modules.find((m) => m.id === way.module)?.name ?? 'another module'
      return (
        <>
          <b>{module} can wait</b>: {plural(way.qty, 'piece')} of it; then it lacks them.{' '}
          {way.price === undefined
            ? 'No allowed shop has them.'
            : `To buy for it: ${formatMoney(way.price, currency)}.`}
        </>
      )
    }
    case 'against the rules':
      return (
        <>
          <b>On the shelf</b>, which the house rules leave out: {way.qty} in{' '}
          {snapshot.places.find((p) => p.id === way.holding.place)?.name ?? 'a place'}. Costs nothing.
        </>
      )
    case 'model':
      return (
        <>
          <b>Another model</b>: {snapshot.places.find((p) => p.id === way.place)?.name ?? 'a model'} has {way.qty}, and
          would lack {way.qty === 1 ? 'it' : 'them'}.
        </>
      )
    case 'stand-in':
      return (
        <span className="flex flex-wrap items-center gap-2">
          <b>Stands in</b>
          {way.uses.map((u) => (
            <span key={u.item} className="flex items-center gap-1">
              {u.qty > 1 && `${u.qty} ×`} <ItemName item={u.item} size={26} />
            </span>
          ))}
          <span className="text-soft">
            {way.standIn === 'exact' ? '' : STAND_IN_WORDS[way.standIn]}, {formatNumber(way.points)} points of
            compromise
          </span>
        </span>
      )
    case 'on order': {
      const order = way.from === undefined ? undefined : orderOfPlace(way.from as PlaceId)
      const known = orders.find((o) => o.id === order)
      return (
        <>
          <b>On order</b>
          {known && `, ${orderName(known)}`}: {way.qty} coming{' '}
          {way.likely === NOW || way.likely >= SOME_DAY
            ? 'on a day that is not known'
            : `on ${way.likely}, late ${way.late}`}
          .
        </>
      )
    }
    case 'buy':
      return way.unavailable > 0 ? (
        <>
          <b>Buy</b>: no allowed shop is known to have {way.unavailable === way.qty ? 'any' : 'enough'}.
        </>
      ) : (
        <>
          <b>Buy</b>: {formatMoney(way.price, currency)} for {plural(way.qty, 'piece')}, shipping not counted. It is
          short on the tally then.
        </>
      )
  }
}
