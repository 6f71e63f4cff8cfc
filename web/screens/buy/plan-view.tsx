import { ClipboardCopy, Download } from 'lucide-react'
import { Link } from 'react-router'
import { toast } from 'sonner'
import { basketText, basketsCsv } from '../../../core/formats/baskets-csv.ts'
import { billTotal } from '../../../core/costs/order-cost.ts'
import { arrivalOf } from '../../../core/sourcing/arrival.ts'
import { printsBought, type Basket } from '../../../core/sourcing/baskets.ts'
import type { Build } from '../../../core/build/build.ts'
import type { GoodsCost } from '../../../core/offers/goods-cost.ts'
import type { Copy } from '../../../core/donors/donor-set.ts'
import { decimal, formatMoney } from '../../../core/units/money.ts'
import { minorRate, unitRateText } from '../../../core/units/exchange.ts'
import { slug } from '../../../core/units/ids.ts'
import { download } from '../../store/download.ts'
import type { Purchase } from '../../store/purchases.ts'
import { useRecords } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'
import { ItemName } from '../../pieces/item-name.tsx'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import { CopiesBought } from './copies-bought.tsx'
import { CostStack } from './cost-stack.tsx'
import { Baselines } from './baselines.tsx'
import { PlanStandIns } from './plan-stand-ins.tsx'

/** The plan in hand: what it costs and why that is least, then the baskets. */
export function PlanView({
  purchase: { kept, orders, landed, ownProof, shippingKnown },
  build,
  copies,
  old,
  ordered,
  loose,
}: {
  purchase: Purchase
  build: Build
  copies: readonly Copy[]
  /** It answers an earlier state of the build or of the offers. */
  old: boolean
  /** It was ordered since: what follows is as it was planned. */
  ordered: boolean
  /** All that is short at the cheapest offers, goods alone, as other screens tell it. */
  loose: GoodsCost | undefined
}) {
  const records = useRecords()
  const { plan } = kept
  if (!plan.cost || plan.total === null || landed === undefined) return null
  const weighed =
    plan.cost.penalties > 0
      ? `, points of compromise worth ${formatMoney(plan.cost.penalties, build.currency)} included`
      : ''
  const withoutShipping = orders.filter((o) => o.shop.shippingUnknown)
  return (
    <div className="flex flex-col gap-5">
      {ordered && (
        <p className="text-sm text-soft">
          What follows is as it was planned; what has become of its orders is on Parcels.
        </p>
      )}
      {old && !ordered && (
        <p className="border-l-4 border-warn bg-raised px-3 py-2 text-sm">
          This plan answers an earlier state of the build or of the offers: its money, baskets and proof are of then.
          Find the cheapest again.
        </p>
      )}
      {withoutShipping.length > 0 && (
        <p className="border-l-4 border-warn bg-raised px-3 py-2 text-sm">
          What{' '}
          {withoutShipping
            .slice(0, 4)
            .map((o) => o.shop.name)
            .join(', ')}
          {withoutShipping.length > 4 && ` and ${withoutShipping.length - 4} more`} ask for shipping is not known: these
          sums are without it, and other shops may cost less.{' '}
          <Link className="text-accent underline" to="/shops">
            Say it on Shops
          </Link>
        </p>
      )}
      <div className="grid grid-cols-2 gap-8 max-[960px]:grid-cols-1">
        <CostStack
          cost={plan.cost}
          prints={printsBought(kept) * build.rules.printPrice}
          currency={build.currency}
          loose={old ? undefined : loose}
        />
        {ownProof && (
          <Baselines
            paid={plan.total - plan.cost.penalties}
            shops={orders.length}
            habits={kept.habits}
            maxShops={kept.problem.maxShops}
            shippingKnown={shippingKnown}
            nameOf={(id) =>
              records.shops.find((s) => s.id === id)?.name ?? copies.find((c) => c.id === id)?.label ?? id
            }
            beside={landed - (plan.total - plan.cost.penalties)}
            currency={build.currency}
          />
        )}
      </div>
      <p className="text-sm text-soft">
        {ownProof === undefined
          ? ''
          : !ownProof
            ? 'The plan came from a file or an earlier version of the app: its costs are counted again from the offers in it, but what its file says of a proof, of other ways to buy and of the build it answers is not believed.'
            : plan.status === 'optimal'
              ? `${withoutShipping.length > 0 ? 'As far as shipping is known, optimal' : 'Optimal'}: the proven bound equals the total, ${formatMoney(plan.bound ?? plan.total, build.currency)}${weighed}.`
              : plan.bound === null
                ? 'No bound was proven in the time given.'
                : `Proven bound ${formatMoney(plan.bound, build.currency)}${weighed}; more time may close the gap of ${formatMoney(plan.total - plan.bound, build.currency)}.`}{' '}
        {ownProof && `Found in ${plan.seconds.toFixed(1)} s and checked by an independent count.`}
        {(plan.cost.levies ?? 0) > 0 &&
          ' Duty and tax use your own rates; what is due is for the customs authority to say.'}
      </p>
      <ArrivalNote orders={orders} />
      <PlanStandIns kept={kept} currency={build.currency} />
      <CopiesBought kept={kept} build={build} copies={copies} sets={records.sets} />
      <section aria-label="Baskets">
        <div className="mb-2 flex items-center justify-between gap-3">
          <h2 className="text-base font-semibold">{plural(orders.length, 'basket')}</h2>
          <Button
            onClick={() => {
              download('baskets.csv', basketsCsv(orders, records.nameItem), 'text/csv')
            }}
          >
            <Download size={14} aria-hidden="true" /> All baskets as CSV
          </Button>
        </div>
        <div className="flex flex-col divide-y divide-rule border-y border-rule">
          {orders.map((basket) => (
            <BasketView key={basket.shop.id} basket={basket} build={build} />
          ))}
        </div>
      </section>
    </div>
  )
}

/** When all orders have come, if nothing goes wrong and as it is to be expected. */
function ArrivalNote({ orders }: { orders: readonly Basket[] }) {
  const arrival = arrivalOf(orders.map((o) => o.shop))
  if (!arrival || orders.length === 0) return null
  const { onTime, chance, mostly, expected } = arrival
  return (
    <section aria-label="When it comes" className="text-sm">
      <h2 className="text-base font-semibold">When it comes</h2>
      <p>
        All has come after {plural(onTime, 'day')} if nothing goes wrong: a chance of {Math.floor(chance * 100)}%. Nine
        times in ten it takes {plural(mostly, 'day')} at most; the last parcel is to be expected after{' '}
        {plural(Math.ceil(expected), 'day')}.
      </p>
      <p className="text-xs text-soft">
        By each shop’s days and the share of its orders that come complete; what does not is taken to be ordered again
        there. Estimates, weighed nowhere.
      </p>
    </section>
  )
}

/** Of which day the rate of a basket is, as far as it is still the build's. */
function rateDay({ rates }: Build['rules'], { currency: theirs, rate }: Basket['shop'], ours: string): string {
  const own = rates.find((r) => r.currency === theirs)
  return own && minorRate(own.rate, theirs, ours) === rate ? `, your rate of ${own.on}` : ', the rate of then'
}

function BasketView({ basket, build: { currency, rules } }: { basket: Basket; build: Build }) {
  const records = useRecords()
  const { shop, cost } = basket
  const money = (minor: number) => formatMoney(minor, currency)
  const theirs = (minor: number) => formatMoney(minor, shop.currency)
  const fees = cost.handling + cost.lineFees + cost.service
  return (
    <details className="group">
      <summary className="grid cursor-pointer grid-cols-[minmax(0,1.3fr)_minmax(0,0.8fr)_minmax(0,1.6fr)_6rem] items-center gap-3 py-2 text-sm hover:bg-raised">
        <span className="leading-tight">
          <span className="block font-semibold">{shop.name}</span>
          <span className="text-xs text-soft">
            {shop.country}
            {shop.kind === 'counter' ? ', gathers leftovers of the works once a month' : ''}, about {shop.leadDays} days
          </span>
        </span>
        <span>
          {plural(basket.pieces, 'piece')}, {(basket.mass / 1000).toFixed(0)} g
        </span>
        <span className="text-right text-soft">
          {decimal(cost.goods, currency)}
          {cost.shipping > 0 && ` + ${decimal(cost.shipping, currency)} shipping`}
          {fees > 0 && ` + ${decimal(fees, currency)} fees`}
          {cost.levies > 0 && ` + ${decimal(cost.levies, currency)} duty and tax`}
        </span>
        <b className="text-right">{money(basket.total)}</b>
      </summary>
      <div className="flex flex-col gap-2 pb-3 pl-4">
        <div className="flex flex-wrap gap-2">
          <Button
            onClick={() => {
              void navigator.clipboard.writeText(basketText(basket, records.nameItem)).then(
                () => toast.success(`Copied the basket of ${shop.name}`),
                () => toast.error('The browser does not allow copying here. Download the file instead.'),
              )
            }}
          >
            <ClipboardCopy size={14} aria-hidden="true" /> Copy as text
          </Button>
          <Button
            onClick={() => {
              download(`basket-${slug(shop.name)}.csv`, basketsCsv([basket], records.nameItem), 'text/csv')
            }}
          >
            <Download size={14} aria-hidden="true" /> CSV
          </Button>
        </div>
        <table className="w-full text-sm">
          <thead>
            <tr className="border-b border-rule text-left text-xs text-soft">
              <th className="py-1 font-semibold">Piece</th>
              <th className="text-right font-semibold">Pieces</th>
              <th className="text-right font-semibold">Condition</th>
              <th className="text-right font-semibold">Each</th>
              <th className="text-right font-semibold">Cost</th>
            </tr>
          </thead>
          <tbody>
            {basket.lines.map((line) => (
              <tr key={line.offer.id} className="border-b border-hair">
                <td className="py-1">
                  <ItemName item={line.item} size={28} />
                </td>
                <td className="text-right">
                  {formatNumber(line.pieces)}
                  {line.offer.pack > 1 && (
                    <span className="text-soft">
                      {' '}
                      ({plural(line.packs, 'pack')} of {line.offer.pack})
                    </span>
                  )}
                </td>
                <td className="text-right">{line.offer.condition}</td>
                <td className="text-right">{theirs(line.offer.price)}</td>
                <td className="text-right">{theirs(line.cost)}</td>
              </tr>
            ))}
          </tbody>
        </table>
        {shop.rate !== undefined && (
          <p className="text-xs text-soft">
            The shop asks {theirs(cost.billed.goods)} for goods
            {cost.billed.shipping > 0 && `, ${theirs(cost.billed.shipping)} for shipping`}
            {billTotal(cost.billed) > cost.billed.goods + cost.billed.shipping &&
              `, ${theirs(billTotal(cost.billed) - cost.billed.goods - cost.billed.shipping)} in fees`}
            : <b>{theirs(billTotal(cost.billed))}</b> in all, {money(billTotal(cost))} at 1 {shop.currency} ={' '}
            {unitRateText(shop.rate, shop.currency, currency)} {currency}
            {rateDay(rules, shop, currency)}. The bill is changed all at once and rounded half up to {money(1)}; your
            bank may use another rate.
          </p>
        )}
        <p className="text-xs text-soft">
          Shipping {money(cost.shipping)}
          {cost.handling > 0 && `, handling ${money(cost.handling)}`}
          {cost.lineFees > 0 && `, line fees ${money(cost.lineFees)}`}
          {cost.service > 0 && `, service fee ${money(cost.service)}`}
          {cost.levies > 0 && `, duty and tax ${money(cost.levies)} at your rates`}.
        </p>
      </div>
    </details>
  )
}
