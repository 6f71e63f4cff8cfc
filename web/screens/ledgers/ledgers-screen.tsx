import { useMemo } from 'react'
import { Link } from 'react-router'
import { CATEGORIES, isIncome } from '../../../core/settling/entry.ts'
import { whoServesWhom } from '../../../core/settling/across.ts'
import { ledgerOf, type Ledger } from '../../../core/settling/ledger.ts'
import { postingsOf } from '../../../core/settling/postings.ts'
import { surplusOf } from '../../../core/settling/surplus.ts'
import type { Build } from '../../../core/build/build.ts'
import { decimal, formatMoney } from '../../../core/units/money.ts'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import { ItemName } from '../../pieces/item-name.tsx'
import { LookoutNote } from '../../pieces/lookout-note.tsx'
import { useRecords } from '../../store/records.tsx'
import { useTallies, type BuildTally } from '../../store/tallies.ts'
import { Figure, Screen } from '../../ui/screen.tsx'

type Row = { readonly build: Build; readonly ledger: Ledger }

/** What all builds cost together, which surplus would serve which build, and what lookouts have met. */
export function LedgersScreen() {
  const { builds, designs, orders, copies, sales, entries } = useRecords()
  const tallies = useTallies()
  const rows = useMemo(
    () =>
      builds.map((build): Row => {
        const { modules } = designs.find((d) => d.id === build.id) ?? { modules: [] }
        return { build, ledger: ledgerOf(postingsOf(build, modules, { orders, copies, sales, entries }).postings) }
      }),
    [builds, designs, orders, copies, sales, entries],
  )
  const currencies = [...new Set(rows.map((r) => r.build.currency))]
  const netOf = (currency: string) => rows.reduce((n, r) => n + (r.build.currency === currency ? r.ledger.net : 0), 0)
  return (
    <Screen
      title="All ledgers"
      headline={
        rows.length === 0 ? (
          'No build, no cost.'
        ) : (
          <>
            {plural(rows.length, 'build')} cost{rows.length === 1 ? 's' : ''}{' '}
            {currencies.map((c, i) => (
              <span key={c}>
                {i > 0 && ' and '}
                <Figure>{formatMoney(netOf(c), c)}</Figure>
              </span>
            ))}{' '}
            so far.
          </>
        )
      }
    >
      <div className="flex min-h-0 flex-1 flex-col gap-6 overflow-auto text-sm">
        {currencies.map((currency) => (
          <Spending key={currency} rows={rows.filter((r) => r.build.currency === currency)} currency={currency} />
        ))}
        <Served tallies={tallies} />
        <Lookouts tallies={tallies} />
      </div>
    </Screen>
  )
}

/** Paid by category and build, in one currency. */
function Spending({ rows, currency }: { rows: readonly Row[]; currency: string }) {
  const shown = CATEGORIES.filter((c) =>
    rows.some((r) => r.ledger.rows.some((l) => l.category === c && l.paid - l.back !== 0)),
  )
  const cell = (minor: number) => (minor === 0 ? '–' : decimal(minor, currency))
  const of = ({ rows: list }: Ledger, category: string): number => {
    const row = list.find((l) => l.category === category)
    return row ? row.paid - row.back : 0
  }
  return (
    <section aria-label={`Spent, ${currency}`}>
      <h2 className="font-display text-base font-medium">Paid by category, {currency}</h2>
      <div className="overflow-x-auto">
        <table className="w-full">
          <thead>
            <tr className="border-b border-rule text-left text-xs text-soft">
              <th className="py-1 pr-3 font-semibold">Build</th>
              {shown.map((c) => (
                <th key={c} className="pl-3 text-right font-semibold first-letter:uppercase">
                  {isIncome(c) ? `${c}, came in` : c}
                </th>
              ))}
              <th className="pl-3 text-right font-semibold">Cost</th>
            </tr>
          </thead>
          <tbody>
            {rows.map(({ build, ledger }) => (
              <tr key={build.id} className="border-b border-hair">
                <th scope="row" className="py-1 pr-3 text-left font-normal">
                  <Link className="underline" to={`/build/${encodeURIComponent(build.id)}/ledger`}>
                    {build.name}
                  </Link>
                  {build.archived && ', set aside'}
                </th>
                {shown.map((c) => (
                  <td key={c} className="pl-3 text-right">
                    {cell(of(ledger, c))}
                  </td>
                ))}
                <td className="pl-3 text-right font-semibold">{decimal(ledger.net, currency)}</td>
              </tr>
            ))}
            <tr className="font-bold">
              <th scope="row" className="py-1 text-left">
                In all
              </th>
              {shown.map((c) => (
                <td key={c} className="pl-3 text-right">
                  {cell(rows.reduce((n, r) => n + of(r.ledger, c), 0))}
                </td>
              ))}
              <td className="pl-3 text-right">
                {decimal(
                  rows.reduce((n, r) => n + r.ledger.net, 0),
                  currency,
                )}
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <p className="text-xs text-soft">
        Paid, less what sellers paid back; donors whole with the build they serve. Categories with nothing in them are
        left out.
      </p>
    </section>
  )
}

/** Rows of pieces shown of each. */
const MOST_ITEMS = 4

function Served({ tallies }: { tallies: readonly BuildTally[] }) {
  const { builds } = useRecords()
  const nameOf = new Map(builds.map((b) => [b.id, b.name]))
  const served = useMemo(() => {
    // What lies in the surplus of parcels is left over once.
    const seen = new Set<string>()
    return whoServesWhom(
      tallies.map(({ snapshot, result, now }) => {
        const left = surplusOf(now.build.id, snapshot, result).filter((l) => !seen.has(l.key))
        for (const l of left) seen.add(l.key)
        return {
          build: now.build.id,
          left: left.flatMap((l) => l.pieces),
          shortfall: result.shortfall,
          lookout: now.design.lookout ?? [],
        }
      }),
    )
  }, [tallies])
  return (
    <section aria-label="Surplus that serves">
      <h2 className="font-display text-base font-medium">Surplus that would serve another build</h2>
      {served.length === 0 ? (
        <p className="text-soft">No build is short of anything that another leaves over.</p>
      ) : (
        <ul className="divide-y divide-hair border-y border-hair">
          {served.map((s) => (
            <li key={`${s.from} ${s.to} ${s.looksOut}`} className="flex flex-wrap items-center gap-x-4 gap-y-1 py-1">
              <span className="min-w-0 flex-1 basis-80">
                <Link className="underline" to={`/build/${encodeURIComponent(s.from)}/ledger?view=surplus`}>
                  {nameOf.get(s.from)}
                </Link>{' '}
                leaves over{' '}
                <b>
                  {plural(
                    s.pieces.reduce((n, p) => n + p.qty, 0),
                    'piece',
                  )}
                </b>{' '}
                that {nameOf.get(s.to)} {s.looksOut ? 'looks out for' : 'is short of'}
              </span>
              {s.pieces.slice(0, MOST_ITEMS).map((p) => (
                <span key={p.item} className="flex items-center gap-1">
                  {formatNumber(p.qty)} × <ItemName item={p.item} size={22} />
                </span>
              ))}
              {s.pieces.length > MOST_ITEMS && <span>and {plural(s.pieces.length - MOST_ITEMS, 'item')} more</span>}
            </li>
          ))}
        </ul>
      )}
    </section>
  )
}

function Lookouts({ tallies }: { tallies: readonly BuildTally[] }) {
  const looking = tallies.filter((t) => (t.now.design.lookout ?? []).length > 0)
  return (
    <section aria-label="Lookouts">
      <h2 className="font-display text-base font-medium">Lookouts</h2>
      {looking.length === 0 && <p className="text-soft">No build looks out for anything.</p>}
      {looking.map((t) => (
        <div key={t.now.build.id}>
          <h3 className="font-semibold">{t.now.build.name}</h3>
          <LookoutNote snapshot={t.snapshot} />
        </div>
      ))}
    </section>
  )
}
