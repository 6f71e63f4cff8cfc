import { Download, PackagePlus } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import type { Build } from '../../../core/build/build.ts'
import { sharedBasketsCsv } from '../../../core/formats/baskets-csv.ts'
import type { SharedOrder, SharedPurchase } from '../../../core/sourcing/joint-shares.ts'
import type { JointAccount } from '../../../core/sourcing/joint-answer.ts'
import { currency, decimal, formatMoney } from '../../../core/units/money.ts'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import { pieceWanted } from '../../../core/sourcing/plan-pieces.ts'
import type { SourcingPlan } from '../../../core/sourcing/plan.ts'
import { ItemName } from '../../pieces/item-name.tsx'
import { download } from '../../store/download.ts'
import { isShippingKnown } from '../../store/purchases.ts'
import { makeSharedOrders } from '../../store/orders.ts'
import { useRecords } from '../../store/records.tsx'
import { useToday } from '../../store/today.ts'
import type { TogetherAnswer } from '../../store/together.ts'
import { Button } from '../../ui/button.tsx'

/** What builds cost together and apart, what each bears, and the baskets with whose each piece is. */
export function TogetherResult({
  answer: { together, alone },
  account: { shared, apart, twice, shops: weighed, leftOut },
  builds,
  money,
}: {
  answer: TogetherAnswer
  account: JointAccount
  builds: readonly Build[]
  money: (minor: number) => string
}) {
  const { shops } = useRecords()
  if (!shared)
    return (
      <p className="border-l-4 border-bad bg-bad-wash px-3 py-2 text-sm">
        {together.plan.status === 'infeasible'
          ? `No purchase for all of them fits the rules: ${together.plan.unreachable[0]?.detail ?? 'they stand in each other’s way'}. Allow more orders.`
          : 'No purchase for all of them was found in time. Allow more time, or more orders.'}
      </p>
    )
  const sumApart = apart.every((a) => a !== undefined) ? apart.reduce((n, a) => n + a.total, 0) : undefined
  const ordersApart = apart.reduce((n, a) => n + (a?.orders ?? 0), 0)
  const ordered = new Set(shared.orders.map((o) => o.shop))
  const unknown = shops.filter((s) => s.shippingUnknown === true && ordered.has(s.id))
  const shippingKnown = isShippingKnown(shops, new Set(weighed))
  // What is proven of all together only makes it save more.
  const sure = alone.every((a) => a.plan.status === 'optimal')
  return (
    <>
      <section aria-label="Together and apart">
        <h2 className="text-base font-semibold">Together and apart</h2>
        {unknown.length > 0 && (
          <p className="border-l-4 border-warn bg-raised px-3 py-2 text-sm">
            What {unknown.map((o) => o.name).join(', ')} ask for shipping is not known: these sums are without it, and
            nothing is proven.{' '}
            <Link className="text-accent underline" to="/shops">
              Say it on Shops
            </Link>
          </p>
        )}
        {sumApart !== undefined && shippingKnown && (
          <p className="text-sm">
            {savedWords(sumApart - shared.total, ordersApart - shared.orders.length, sure, money)}
          </p>
        )}
        {twice > 0 && (
          <p className="text-sm text-warn">
            Apart, {plural(twice, 'offer')} would be wanted by several builds beyond what there is in stock: the plans
            made apart cannot all be kept.
          </p>
        )}
        <p className="text-sm text-soft">
          {shippingKnown && proofOf(together.plan)} Apart:{' '}
          {alone.map((a, i) => `${builds[i]?.name ?? ''} ${gapWords(a.plan)}`).join('; ')}.
        </p>
        <ShareTable
          builds={builds}
          shared={shared}
          apart={apart}
          sumApart={sumApart}
          currency={builds[0]?.currency ?? 'EUR'}
        />
        <p className="text-xs text-soft">
          Beside the goods are shipping, fees, duty and tax, and pieces that no build needs: shared order by order, by
          the largest remainder, so that the shares add up to the bill. Resale is what leftovers of copies likely bring.
        </p>
      </section>
      <LeftOut of={leftOut} builds={builds} />
      <MakeShared shared={shared} together={together.plan} builds={builds} />
      <Baskets shared={shared} builds={builds} />
    </>
  )
}

/** What buying together saves, or does not. */
function savedWords(saved: number, orders: number, sure: boolean, money: (minor: number) => string): string {
  const fewer =
    orders > 0 ? ` and ${plural(orders, 'order')}` : orders < 0 ? `, with ${plural(-orders, 'order')} more` : ''
  const found = sure ? '' : ', by the plans found: apart they may cost a little less'
  if (saved > 0) return `Buying together saves ${money(saved)}${fewer}${found}.`
  if (saved === 0) return 'Together costs what apart costs.'
  return `Together costs ${money(-saved)} more than apart: the limit on orders in all, or what is in stock, asks for it.`
}

const gapWords = ({ status, gap, total }: SourcingPlan): string =>
  total === null
    ? 'no plan found'
    : status === 'optimal'
      ? 'proven'
      : gap === null
        ? 'not proven'
        : `at most ${(gap * 100).toFixed(2)}% too dear`

const proofOf = (plan: SourcingPlan): string =>
  plan.status === 'optimal'
    ? 'Proven: nothing within the rules costs less for all together.'
    : `For all together: ${gapWords(plan)}.`

/** The purchase becomes orders in one act, each piece for its build. */
function MakeShared({
  shared,
  together,
  builds,
}: {
  shared: SharedPurchase
  together: SourcingPlan
  builds: readonly Build[]
}) {
  const records = useRecords()
  const today = useToday()
  const [made, setMade] = useState<SharedPurchase | undefined>()
  const [first] = builds
  if (!first) return null
  if (made === shared)
    return (
      <p className="border-l-4 border-accent bg-mark px-3 py-2 text-sm">
        Its orders are made:{' '}
        <Link className="text-accent underline" to="/parcels">
          see all parcels
        </Link>
        .
      </p>
    )
  const make = async () => {
    if (await makeSharedOrders(shared, together, builds, records, today)) setMade(shared)
  }
  return (
    <p className="flex flex-wrap items-center gap-3 text-sm">
      <Button look="primary" onClick={() => void make()}>
        <PackagePlus size={16} aria-hidden="true" /> Make the orders
      </Button>
      <span className="text-soft">One for each shop and donor copy; each piece stays its build’s.</span>
    </p>
  )
}

type Bears = SharedPurchase['builds'][number]

function ShareTable({
  builds,
  shared,
  apart,
  sumApart,
  currency: of,
}: {
  builds: readonly Build[]
  shared: SharedPurchase
  apart: readonly ({ readonly total: number } | undefined)[]
  sumApart: number | undefined
  currency: string
}) {
  const cell = (minor: number) => (minor === 0 ? '–' : decimal(minor, of))
  const sum = (part: (b: Bears) => number) => shared.builds.reduce((n, b) => n + part(b), 0)
  const rows = [
    { label: 'Pieces', part: (b: Bears) => b.pieces, show: formatNumber },
    { label: 'Goods', part: (b: Bears) => b.goods, show: cell },
    { label: 'Beside the goods', part: (b: Bears) => b.beside, show: cell },
    { label: 'Donor copies', part: (b: Bears) => b.copies, show: cell },
    { label: 'Prints', part: (b: Bears) => b.prints, show: cell },
    { label: 'Resale', part: (b: Bears) => -b.credit, show: cell },
  ].filter((r) => r.label === 'Pieces' || shared.builds.some((b) => r.part(b) !== 0))
  return (
    <table className="my-2 w-full text-sm" aria-label="What each build bears">
      <thead>
        <tr className="border-b border-rule text-left align-bottom text-xs text-soft">
          <th scope="col" className="py-1 font-semibold">
            {of}
          </th>
          {builds.map((b) => (
            <th key={b.id} scope="col" className="pl-3 text-right font-semibold">
              {b.name}
            </th>
          ))}
          <th scope="col" className="pl-3 text-right font-semibold">
            All
          </th>
        </tr>
      </thead>
      <tbody>
        {rows.map(({ label, part, show }) => (
          <tr key={label} className="border-b border-hair">
            <th scope="row" className="py-1 text-left font-normal">
              {label}
            </th>
            {shared.builds.map((b, i) => (
              <td key={builds[i]?.id} className="pl-3 text-right">
                {show(part(b))}
              </td>
            ))}
            <td className="pl-3 text-right">{show(sum(part))}</td>
          </tr>
        ))}
        <tr className="border-b border-rule font-bold">
          <th scope="row" className="py-1 text-left">
            At the door
          </th>
          {shared.builds.map((b, i) => (
            <td key={builds[i]?.id} className="pl-3 text-right">
              {decimal(b.total, of)}
            </td>
          ))}
          <td className="pl-3 text-right">{decimal(shared.total, of)}</td>
        </tr>
        <tr className="text-soft">
          <th scope="row" className="py-1 text-left font-normal">
            By itself
          </th>
          {apart.map((a, i) => (
            <td key={builds[i]?.id} className="pl-3 text-right">
              {a ? decimal(a.total, of) : 'no plan'}
            </td>
          ))}
          <td className="pl-3 text-right">{sumApart === undefined ? '' : decimal(sumApart, of)}</td>
        </tr>
      </tbody>
    </table>
  )
}

function LeftOut({ of, builds }: { of: JointAccount['leftOut']; builds: readonly Build[] }) {
  if (of.length === 0) return null
  return (
    <section aria-label="Not to be had">
      <h2 className="text-base font-semibold">Not to be had</h2>
      <ul className="text-sm">
        {of.slice(0, 30).map(({ line: u, build }) => (
          <li key={u.line} className="flex flex-wrap items-center gap-x-2">
            {u.short} × <ItemName item={pieceWanted(u)} size={24} />{' '}
            <span className="text-soft">
              for {builds[build]?.name ?? ''}: {u.detail}
            </span>
          </li>
        ))}
      </ul>
    </section>
  )
}

function Baskets({ shared, builds }: { shared: SharedPurchase; builds: readonly Build[] }) {
  const { shops, nameItem } = useRecords()
  const shopOf = (id: string) =>
    shops.find((s) => s.id === id) ?? { name: id, country: '', currency: builds[0]?.currency ?? currency('EUR') }
  const save = () => {
    const names = builds.map((b) => b.name)
    download('baskets-together.csv', sharedBasketsCsv(shared.orders, names, shopOf, nameItem), 'text/csv')
  }
  return (
    <section aria-label="Baskets">
      <div className="mb-2 flex items-center justify-between gap-3">
        <h2 className="text-base font-semibold">{plural(shared.orders.length, 'basket')}</h2>
        <Button onClick={save}>
          <Download size={14} aria-hidden="true" /> All baskets as CSV
        </Button>
      </div>
      <div className="flex flex-col divide-y divide-rule border-y border-rule">
        {shared.orders.map((order) => (
          <Basket
            key={order.shop}
            order={order}
            builds={builds}
            name={shopOf(order.shop).name}
            money={(minor) => decimal(minor, builds[0]?.currency ?? 'EUR')}
            theirs={(minor) => formatMoney(minor, shopOf(order.shop).currency)}
          />
        ))}
      </div>
    </section>
  )
}

function Basket({
  order: { lines, cost, total, shares },
  builds,
  name,
  money,
  theirs,
}: {
  order: SharedOrder
  builds: readonly Build[]
  name: string
  /** An amount of the builds' money, and one of the shop's. */
  money: (minor: number) => string
  theirs: (minor: number) => string
}) {
  return (
    <details>
      <summary className="grid cursor-pointer grid-cols-[minmax(0,1fr)_minmax(0,2fr)_6rem] items-baseline gap-3 py-2 text-sm hover:bg-raised">
        <b>{name}</b>
        <span className="text-soft">
          {builds.flatMap((b, p) => ((shares[p] ?? 0) > 0 ? [`${b.name} ${money(shares[p] ?? 0)}`] : [])).join(', ')}
        </span>
        <b className="text-right">{money(total)}</b>
      </summary>
      <table className="mb-3 w-full text-sm">
        <thead>
          <tr className="border-b border-rule text-left text-xs text-soft">
            <th className="py-1 font-semibold">Piece</th>
            {builds.map((b) => (
              <th key={b.id} className="pl-3 text-right font-semibold">
                {b.name}
              </th>
            ))}
            <th className="pl-3 text-right font-semibold">Nobody’s</th>
            <th className="pl-3 text-right font-semibold">Each</th>
            <th className="pl-3 text-right font-semibold">Cost</th>
          </tr>
        </thead>
        <tbody>
          {lines.map((line, i) => (
            <tr key={i} className="border-b border-hair">
              <td className="py-1">
                <ItemName item={line.item} size={28} />
              </td>
              {builds.map((b, p) => (
                <td key={b.id} className="pl-3 text-right">
                  {(line.dealt[p] ?? 0) > 0 ? formatNumber(line.dealt[p] ?? 0) : '–'}
                </td>
              ))}
              <td className="pl-3 text-right">{line.over > 0 ? formatNumber(line.over) : '–'}</td>
              <td className="pl-3 text-right">{theirs(line.price)}</td>
              <td className="pl-3 text-right">{theirs(line.price * line.pieces)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="pb-3 text-xs text-soft">
        Goods {money(cost.goods)}, shipping {money(cost.shipping)}
        {cost.handling + cost.lineFees + cost.service > 0 &&
          `, fees ${money(cost.handling + cost.lineFees + cost.service)}`}
        {cost.levies > 0 &&
          `, duty and tax ${money(cost.levies)} at your rates; what is due is for the customs authority to say`}
        .{' '}
        {builds.length > 0 && (
          <Link className="text-accent underline" to="/shops">
            Terms of the shop
          </Link>
        )}
      </p>
    </details>
  )
}
