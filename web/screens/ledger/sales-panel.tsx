import { useState } from 'react'
import type { Build } from '../../../core/build/build.ts'
import { changingInto } from '../../../core/build/exchange-rates.ts'
import { saleMoves } from '../../../core/settling/leave.ts'
import { piecesOfSale, saleState, type Sale, type SaleState } from '../../../core/settling/sale.ts'
import { decimal, formatMoney, MOST_AMOUNT, parseMinor } from '../../../core/units/money.ts'
import { plural } from '../../../core/units/numbers.ts'
import { useRecords } from '../../store/records.tsx'
import { moveSaleTo, SALE_WORDS } from '../../store/selling.ts'
import { Button } from '../../ui/button.tsx'
import { TextInput } from '../../ui/fields.tsx'

/** What is for sale, sold, given away or withdrawn; what may become of it next. */
export function SalesPanel({ build, today }: { build: Build; today: string }) {
  const { sales: all } = useRecords()
  const sales = all
    .filter((s) => s.build === build.id)
    .sort((p, q) => ((p.history.at(-1)?.on ?? '') < (q.history.at(-1)?.on ?? '') ? 1 : -1))
  if (sales.length === 0) return null
  const likely = sales.reduce((n, s) => n + (saleState(s) === 'listed' ? (s.likely ?? 0) : 0), 0)
  const hoped = sales.reduce((n, s) => n + (saleState(s) === 'listed' ? (s.hoped ?? 0) : 0), 0)
  return (
    <section aria-label="Sales" className="max-h-64 shrink-0 overflow-auto text-sm">
      <h2 className="font-display text-base font-medium">
        For sale, sold, given away
        {hoped > 0 && (
          <span className="ml-2 font-sans text-sm font-normal text-soft">
            on offer: nothing, {formatMoney(likely, build.currency)} likely, {formatMoney(hoped, build.currency)} hoped
          </span>
        )}
      </h2>
      <ul className="divide-y divide-hair border-y border-hair">
        {sales.map((sale) => (
          <SaleRow key={sale.id} sale={sale} build={build} today={today} />
        ))}
      </ul>
    </section>
  )
}

const MOVES: Readonly<Record<SaleState, string>> = {
  listed: 'List it again',
  sold: 'Sold',
  sent: 'Sent',
  withdrawn: 'Withdraw it',
}

function SaleRow({ sale, build, today }: { sale: Sale; build: Build; today: string }) {
  const records = useRecords()
  const [got, setGot] = useState('')
  const [costs, setCosts] = useState('')
  const [problem, setProblem] = useState('')
  const state = saleState(sale)
  const money = (minor: number) => formatMoney(minor, sale.currency)
  const move = (to: SaleState) => {
    setProblem('')
    if (to !== 'sold') {
      void moveSaleTo(sale, to, today, undefined, records)
      return
    }
    const sums = [got, costs.trim() === '' ? '0' : costs].map((t) => parseMinor(t, sale.currency))
    const [paid, taken] = sums
    if (paid === undefined || taken === undefined || Math.min(paid, taken) < 0 || Math.max(paid, taken) > MOST_AMOUNT) {
      setProblem(`Say what was paid, such as ${decimal(1250, sale.currency)}.`)
      return
    }
    const rate =
      sale.currency === build.currency ? undefined : changingInto(build.currency, build.rules.rates)(sale.currency)
    void moveSaleTo(sale, 'sold', today, { got: paid, costs: taken, ...(rate !== undefined && { rate }) }, records)
  }
  const range =
    sale.way === 'gift'
      ? 'to give away'
      : sale.way === 'auction'
        ? `bids from ${money(sale.ask ?? 0)}, ${sale.hoped === undefined ? 'what they come to is not known' : `${money(sale.likely ?? 0)} to ${money(sale.hoped)} expected`}`
        : `${sale.ask === undefined ? 'no price named' : `asks ${money(sale.ask)}`}${sale.likely === undefined ? '' : `, ${money(sale.likely)} likely`}`
  return (
    <li className="flex flex-wrap items-center gap-2 py-1" aria-label={sale.title}>
      <span className="min-w-0 flex-1 basis-72">
        <b>{sale.title}</b>, {plural(piecesOfSale(sale), 'piece')};{' '}
        {state === 'sold' || (state === 'sent' && sale.way !== 'gift')
          ? `sold for ${money(sale.got ?? 0)}${sale.costs ? `, less ${money(sale.costs)}` : ''}`
          : range}
        <span className="text-soft">
          ; {sale.way === 'gift' && state === 'sent' ? 'given away' : SALE_WORDS[state]} {sale.history.at(-1)?.on}
        </span>
      </span>
      {saleMoves(sale).includes('sold') && (
        <>
          <TextInput
            aria-label={`What was paid for ${sale.title}, ${sale.currency}`}
            className="w-24 text-right"
            placeholder={decimal(sale.ask ?? 0, sale.currency)}
            inputMode="decimal"
            value={got}
            onChange={(e) => {
              setGot(e.target.value)
            }}
          />
          <TextInput
            aria-label={`What selling and sending took, ${sale.currency}`}
            className="w-24 text-right"
            placeholder="less costs"
            inputMode="decimal"
            value={costs}
            onChange={(e) => {
              setCosts(e.target.value)
            }}
          />
        </>
      )}
      {saleMoves(sale).map((to) => (
        <Button
          key={to}
          onClick={() => {
            move(to)
          }}
        >
          {sale.way === 'gift' && to === 'sent' ? 'Given away' : MOVES[to]}
        </Button>
      ))}
      {problem && (
        <p role="alert" className="w-full text-bad">
          {problem}
        </p>
      )}
    </li>
  )
}
