import type { Shop } from '../../../core/offers/shop.ts'
import { sellerRecordOf, type SellerRecord } from '../../../core/orders/seller-record.ts'
import { plural } from '../../../core/units/numbers.ts'
import { edit } from '../../../storage/journal.ts'
import { useSellerRecords } from '../../store/orders.ts'
import { perform } from '../../store/perform.ts'
import { Button } from '../../ui/button.tsx'

/** Orders that must have ended before what became of them is offered as the shop's days and reliability. */
const ENOUGH = 1

/** What the user's own orders from a shop came to, to be taken over as its days and reliability. */
export function ShopRecord({ shop, own }: { shop: Shop; own: boolean }) {
  const records = useSellerRecords()
  const record = sellerRecordOf(records, shop)
  if (!record || record.orders + record.days.length === 0) return null
  const { typical, reliability } = record
  const next: Shop = {
    ...shop,
    ...(typical !== undefined && { leadDays: typical }),
    ...(reliability !== undefined && { reliability: reliability / 1000 }),
  }
  const same =
    next.leadDays === shop.leadDays && next.reliability === shop.reliability && (own || shop.experienced === true)
  return (
    <section aria-label="Your orders there" className="border-t border-hair pt-3">
      <h3 className="font-semibold">Your orders there</h3>
      <p>{recordWords(record)}</p>
      {record.orders >= ENOUGH && typical !== undefined && reliability !== undefined && (
        <p className="mt-1 flex flex-wrap items-center gap-2">
          By that it takes {plural(typical, 'day')}, and {Math.round(reliability / 10)} % of its orders come whole.
          <Button
            disabled={same}
            onClick={() =>
              void perform(`Took over what orders from ${shop.name} came to`, [
                edit('shops', shop, own ? next : { ...next, experienced: true }),
              ])
            }
          >
            {same ? 'In use' : 'Use these for the next purchase'}
          </Button>
          {shop.experienced === true && (
            <Button
              onClick={() => {
                const { experienced: _, ...told } = shop
                void perform(`${shop.name} is as the market says, once that is asked`, [edit('shops', shop, told)])
              }}
            >
              Back to the market’s, when it is asked
            </Button>
          )}
        </p>
      )}
    </section>
  )
}

/** What a seller did, in words. */
function recordWords({
  orders,
  days,
  complete,
  lost,
  lines,
  shortLines,
  damagedLines,
  wrongLines,
  claims,
}: SellerRecord) {
  const amiss = [
    shortLines > 0 && `${shortLines} short`,
    damagedLines > 0 && `${damagedLines} damaged`,
    wrongLines > 0 && `${wrongLines} with other pieces`,
  ].filter(Boolean)
  const ended = [
    claims.refunded > 0 && `${claims.refunded} paid back`,
    claims['sent again'] > 0 && `${claims['sent again']} sent again`,
    claims.refused > 0 && `${claims.refused} refused`,
    claims.open + claims.promised > 0 && `${claims.open + claims.promised} open`,
  ].filter(Boolean)
  const [first, last] = [days[0], days.at(-1)]
  return [
    `${plural(orders, 'order')} ended, ${complete} of them whole${lost > 0 ? `, ${lost} lost` : ''}.`,
    ...(first !== undefined && last !== undefined
      ? [`They took ${first === last ? plural(first, 'day') : `${first} to ${last} days`}.`]
      : []),
    ...(amiss.length > 0 ? [`Of ${plural(lines, 'line')}: ${amiss.join(', ')}.`] : []),
    ...(ended.length > 0 ? [`Claims: ${ended.join(', ')}.`] : []),
  ].join(' ')
}
