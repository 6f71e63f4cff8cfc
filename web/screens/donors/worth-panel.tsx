import { useMutation } from '@tanstack/react-query'
import { madeUntil } from '../../../core/donors/made-until.ts'
import { nowIso } from '../../store/database.ts'
import { RefreshCw } from 'lucide-react'
import { useMemo, useState } from 'react'
import { toast } from 'sonner'
import type { DonorSet } from '../../../core/donors/donor-set.ts'
import { copiesCurve, copyValue, type CopyValue } from '../../../core/studies/donor-worth.ts'
import { loosePrices } from '../../../core/offers/loose-prices.ts'
import { goodsPricer } from '../../../core/offers/goods-cost.ts'
import { changingInto } from '../../../core/build/exchange-rates.ts'
import { exchanged } from '../../../core/units/exchange.ts'
import { usableOffers } from '../../../core/offers/market.ts'
import type { Snapshot } from '../../../core/netting/snapshot.ts'
import type { Tally } from '../../../core/netting/tally.ts'
import type { Build } from '../../../core/build/build.ts'
import { figurePrice } from '../../../core/build/resale.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { fetchOffers } from '../../store/market-client.ts'
import { useRecords } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'
import { DataGrid, type Column } from '../../ui/data-grid.tsx'
import { plural } from '../../../core/units/numbers.ts'
import { CopiesCurve } from './copies-curve.tsx'
import { FiguresSold, OwnPrice } from './own-price.tsx'

type Row = { readonly set: DonorSet; readonly price: number | undefined; readonly value: CopyValue }

/** Every known set as a donor for this design: what the next copy of it would be worth. */
export function WorthPanel({ snapshot, result }: { snapshot: Snapshot; result: Tally }) {
  const records = useRecords()
  const { sets, offers, shops } = records
  const { build, copies } = snapshot
  const [selected, setSelected] = useState<string | undefined>()
  const ask = useMutation({
    networkMode: 'always',
    mutationFn: () =>
      fetchOffers(
        [...new Set([...result.shortfall.keys(), ...sets.flatMap((s) => s.lines.map((l) => l.item))])],
        records,
      ),
    onSuccess: (answer) => {
      if (answer.ok) toast.success(`${plural(answer.value.offers, 'offer')} from ${plural(answer.value.shops, 'shop')}`)
      else toast.error(answer.error.message, { duration: 15_000 })
    },
  })
  const market = useMemo(() => {
    return {
      prices: loosePrices(usableOffers({ offers, shops }, build.currency, build.rules)),
      priceOf: goodsPricer(offers, shops, build.currency, build.rules),
    }
  }, [offers, shops, build])
  const { prices } = market
  const rows = useMemo(() => {
    const changing = changingInto(build.currency, build.rules.rates)
    /** A price in the build's money; undefined without one, or without a rate for it. */
    const atRates = (price: DonorSet['retail']) => {
      const rate = price && changing(price.currency)
      return price && rate !== undefined ? exchanged(price.minor, rate) : undefined
    }
    return sets
      .map((set): Row => {
        const asked = copies.flatMap((c) =>
          c.setId === set.id && c.state === 'to-buy' ? (atRates(c.askingPrice) ?? []) : [],
        )
        const price = asked.length > 0 ? Math.min(...asked) : atRates(set.retail)
        return { set, price, value: copyValue(set, result.shortfall, market, price, build.rules) }
      })
      .sort((p, q) => (q.value.saves ?? -Infinity) - (p.value.saves ?? -Infinity) || q.value.covers - p.value.covers)
  }, [sets, copies, build, result, market])
  const current = rows.find((r) => r.set.id === selected) ?? rows[0]
  const money = (minor: number) => formatMoney(minor, build.currency)
  const columns = worthColumns(money, prices.size > 0)
  return (
    <div className="flex min-h-0 flex-1 flex-col gap-4">
      <div className="flex flex-wrap items-center gap-3 text-sm">
        <span>
          {prices.size === 0
            ? 'No loose prices are known: ask the market about what the sets hold.'
            : `Goods only, at the offers known for ${plural(prices.size, 'item')}; leftovers resell at ${build.rules.resalePercent}%${build.rules.resalePrices.length > 0 ? ` or your own ${plural(build.rules.resalePrices.length, 'price')}` : ''}.`}
        </span>
        <Button
          look={prices.size === 0 ? 'primary' : 'plain'}
          disabled={ask.isPending || sets.length === 0}
          onClick={() => {
            ask.mutate()
          }}
        >
          <RefreshCw size={14} aria-hidden="true" /> {ask.isPending ? 'Asking the market…' : 'Price what the sets hold'}
        </Button>
        {ask.data && !ask.data.ok && (
          <span role="alert" className="text-bad">
            {ask.data.error.message}
          </span>
        )}
      </div>
      <DataGrid
        label="Sets as donors"
        columns={columns}
        rows={rows}
        rowKey={(r) => r.set.id}
        selected={current?.set.id}
        onSelect={(r) => {
          setSelected(r.set.id)
        }}
        rowHeight={38}
        empty="No set is known yet. Import an inventory first."
      />
      {current && (
        <div className="grid shrink-0 grid-cols-[minmax(0,1.3fr)_minmax(0,1fr)] gap-8 max-[960px]:grid-cols-1">
          <CopiesCurve
            name={current.set.name}
            steps={copiesCurve(current.set, result.shortfall, market, current.price, build.rules, 5)}
            priced={prices.size > 0}
            currency={build.currency}
          />
          <FiguresLeft row={current} money={money} priced={prices.size > 0} build={snapshot.build} />
        </div>
      )}
    </div>
  )
}

const worthColumns = (money: (minor: number) => string, priced: boolean): Column<Row>[] => [
  {
    id: 'set',
    header: 'One more copy of',
    width: 'minmax(0, 1.6fr)',
    sort: (r) => r.set.name,
    cell: (r) => (
      <span className="min-w-0 leading-tight">
        <span className="block truncate font-semibold">{r.set.name}</span>
        <span className="block truncate text-xs text-soft">{madeUntil(r.set, nowIso()) ?? ''}</span>
      </span>
    ),
  },
  {
    id: 'price',
    header: 'Price',
    width: '104px',
    align: 'right',
    sort: (r) => r.price ?? Infinity,
    cell: (r) => (r.price === undefined ? 'unknown' : money(r.price)),
  },
  {
    id: 'covers',
    header: 'Newly covers',
    width: '104px',
    align: 'right',
    sort: (r) => r.value.covers,
    cell: (r) => r.value.covers,
  },
  {
    id: 'loose',
    header: 'Loose, at best',
    width: '116px',
    align: 'right',
    sort: (r) => r.value.looseBest,
    cell: (r) => (priced ? money(r.value.looseBest) : <span className="text-soft">no price yet</span>),
  },
  {
    id: 'left',
    header: 'Left over',
    width: '86px',
    align: 'right',
    sort: (r) => r.value.leftOver,
    cell: (r) => r.value.leftOver,
  },
  {
    id: 'each',
    header: 'Net per piece used',
    width: '140px',
    align: 'right',
    sort: (r) => (r.value.net === undefined || r.value.covers === 0 ? Infinity : r.value.net / r.value.covers),
    cell: (r) =>
      r.value.net === undefined || r.value.covers === 0 ? '–' : money(Math.round(r.value.net / r.value.covers)),
  },
  {
    id: 'saves',
    header: 'Against loose',
    width: '132px',
    align: 'right',
    sort: (r) => r.value.saves ?? -Infinity,
    cell: (r) =>
      r.value.saves === undefined || !priced ? (
        '–'
      ) : (
        <b className={r.value.saves >= 0 ? 'text-good' : 'text-bad'}>
          {r.value.saves >= 0 ? 'saves ' : 'costs '}
          {money(Math.abs(r.value.saves))}
        </b>
      ),
  },
]

/** Whole figures that a copy would leave over, and what all its leftovers may bring. */
function FiguresLeft({
  row: { set, value },
  money,
  priced,
  build: { id },
}: {
  row: Row
  money: (minor: number) => string
  priced: boolean
  build: Build
}) {
  const { nameItem, builds } = useRecords()
  const build = builds.find((b) => b.id === id)
  const { figures } = value
  return (
    <div className="text-sm">
      <h2 className="mb-1 text-base font-semibold">{set.name}: figures left over</h2>
      {figures.length === 0 && <p className="text-soft">The inventory names no figures.</p>}
      <ul className="divide-y divide-hair border-y border-hair">
        {figures.map((f) => (
          <li key={f.name} className="flex justify-between gap-3 py-1">
            <span>
              {f.name},{' '}
              {f.lacks.length === 0
                ? f.price === undefined
                  ? 'complete: sells best as a figure'
                  : 'complete: at your own price'
                : f.lacks.length === 1 && f.lacks[0]
                  ? `incomplete: ${nameItem(f.lacks[0]).name} would complete it`
                  : `incomplete: the design uses ${f.lacks.length} of its pieces`}
            </span>
            <span className="flex items-center gap-2">
              <b>{priced ? money(f.worth) : 'no price yet'}</b>
              {build && (
                <OwnPrice
                  build={build}
                  of={{ kind: 'figure', name: f.name }}
                  name={f.name}
                  price={figurePrice(f.name, build.rules)}
                />
              )}
              {build && figurePrice(f.name, build.rules) !== undefined && <FiguresSold build={build} name={f.name} />}
            </span>
          </li>
        ))}
      </ul>
      <p className="mt-2 text-soft">
        {priced
          ? `Loose at the median the newly covered pieces cost ${money(value.looseMedian)}${value.unpriced > 0 ? `; ${plural(value.unpriced, 'of them has', 'of them have')} no offer` : ''}. Leftovers may bring ${money(value.resale)}.`
          : 'What leftovers may bring is told when prices are known.'}{' '}
        Shipping is not counted here; Buy weighs it all together.
      </p>
    </div>
  )
}
