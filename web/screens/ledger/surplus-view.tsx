import { PersonStanding } from 'lucide-react'
import { useMemo, useState } from 'react'
import {
  bareOfStickers,
  completedBy,
  ideasNeed,
  mayBring,
  piecesLeft,
  takersOf,
  type Left,
} from '../../../core/settling/surplus.ts'
import { decimal, formatMoney } from '../../../core/units/money.ts'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import { AskMarket } from '../../pieces/ask-market.tsx'
import { ItemName } from '../../pieces/item-name.tsx'
import { useLooseMarket } from '../../store/ledger.ts'
import { useRecords } from '../../store/records.tsx'
import { useSurplus } from '../../store/surplus.ts'
import { useTallies } from '../../store/tallies.ts'
import { DataGrid, type Column } from '../../ui/data-grid.tsx'
import type { LedgerView } from './ledger-view.ts'
import { SalesPanel } from './sales-panel.tsx'
import { SurplusActs } from './surplus-acts.tsx'
import type { SurplusRow } from './surplus-row.ts'

const NO_SHORTFALL: ReadonlyMap<Left['pieces'][number]['item'], number> = new Map()
const TAKE_WORDS = { short: 'is short of', lookout: 'looks out for', idea: 'has an idea that needs' } as const

type NameItem = (item: Left['pieces'][number]['item']) => { readonly name: string }

/** What donors, parcels and design leave over, and where it goes. */
export function SurplusView({ tally, today }: LedgerView) {
  const { nameItem, places, builds, makings } = useRecords()
  const { build } = tally.now
  const left = useSurplus(tally)
  const market = useLooseMarket(build)
  const tallies = useTallies()
  const takers = useMemo(
    () =>
      takersOf(
        tallies.map(({ now, result }) => ({
          build: now.build.id,
          // What the build itself is short of its leftovers cannot cover: they would not be left over.
          ...(now.build.id === build.id
            ? { shortfall: NO_SHORTFALL, lookout: [] }
            : { shortfall: result.shortfall, lookout: now.design.lookout ?? [] }),
          ideas: ideasNeed(now.design, now.parts),
        })),
      ),
    [tallies, build.id],
  )
  const bare = useMemo(() => bareOfStickers(makings.find((m) => m.id === build.id)), [makings, build.id])
  const rows = useMemo(() => {
    const placeOf = new Map(places.map((p) => [p.id, p.name]))
    const bring = mayBring(market, build.rules)
    return left
      .map((l): SurplusRow => ({
        left: l,
        name: l.figure ? `Figure ${l.figure.name}` : nameItem(l.pieces[0]?.item ?? ('' as never)).name,
        where:
          l.from.kind === 'copy' ? l.from.copy.label : (placeOf.get(l.from.holding.place) ?? 'a place that is gone'),
        may: bring(l),
        bare: l.figure === undefined && l.pieces.some((p) => bare.has(p.item)),
        completed: completedBy(l, market),
        takers: takers(l.pieces),
      }))
      .sort(
        (p, q) =>
          Number(q.left.figure !== undefined) - Number(p.left.figure !== undefined) ||
          q.may.likely - p.may.likely ||
          piecesLeft(q.left) - piecesLeft(p.left),
      )
  }, [left, places, nameItem, market, build.rules, takers, bare])
  const [chosen, setChosen] = useState<readonly SurplusRow[]>([])
  const [current, setCurrent] = useState<string | undefined>()
  const nameOf = useMemo(() => new Map(builds.map((b) => [b.id, b.name])), [builds])
  const columns = useMemo(() => surplusColumns(build.currency, nameOf, nameItem), [build.currency, nameOf, nameItem])
  const single = rows.find((r) => r.left.key === current)
  // What was chosen and is gone by now is acted on no more.
  const keys = new Set(chosen.map((r) => r.left.key))
  const several = keys.size > 0 ? rows.filter((r) => keys.has(r.left.key)) : []
  const acted = several.length > 0 ? several : single ? [single] : []
  const likely = rows.reduce((n, r) => n + r.may.likely, 0)
  const hoped = rows.reduce((n, r) => n + r.may.hoped, 0)
  const unpriced = rows.reduce((n, r) => n + r.may.unpriced, 0)
  const pieces = rows.reduce((n, r) => n + piecesLeft(r.left), 0)
  return (
    <div className="flex min-h-0 flex-1 flex-col gap-3">
      <p className="text-sm">
        <b>{plural(pieces, 'piece')}</b> left over of donors, parcels and the design.{' '}
        {hoped > 0 ? (
          <>
            They may bring nothing, <b>{formatMoney(likely, build.currency)}</b> as is likely,{' '}
            <b>{formatMoney(hoped, build.currency)}</b> as is hoped: nothing is certain until it is sold.
            {unpriced > 0 && ` No price of ${plural(unpriced, 'piece')} is known.`}
          </>
        ) : (
          'What they may bring is not known.'
        )}
      </p>
      {unpriced > 0 && (
        <div>
          <AskMarket items={[...new Set(left.flatMap((l) => l.pieces.map((p) => p.item)))]}>
            Ask the market what they sell for
          </AskMarket>
        </div>
      )}
      <SurplusActs key={acted.map((r) => r.left.key).join(' ')} rows={acted} tally={tally} today={today} />
      <DataGrid
        label="Surplus"
        columns={columns}
        rows={rows}
        rowKey={(r) => r.left.key}
        selected={current}
        onSelect={(r) => {
          setCurrent(r.left.key)
        }}
        onChoose={setChosen}
        rowHeight={38}
        empty="Nothing is left over: every piece that was bought for this build is used, or lies elsewhere by now."
      />
      <SalesPanel build={build} today={today} />
    </div>
  )
}

function surplusColumns(
  currency: string,
  nameOf: ReadonlyMap<string, string>,
  nameItem: NameItem,
): Column<SurplusRow>[] {
  const money = (minor: number) => decimal(minor, currency)
  return [
    {
      id: 'what',
      header: 'What',
      width: 'minmax(0, 2fr)',
      sort: (r) => r.name,
      text: (r) => r.name,
      cell: (r) =>
        r.left.figure ? (
          <span className="flex min-w-0 items-center gap-2">
            <PersonStanding size={28} className="shrink-0 text-soft" aria-hidden="true" />
            <b className="truncate">{r.name}</b>
            <span className="text-xs text-soft">{r.left.figure.lacks.length === 0 ? 'complete' : 'incomplete'}</span>
          </span>
        ) : (
          r.left.pieces[0] && <ItemName item={r.left.pieces[0].item} size={28} />
        ),
    },
    {
      id: 'qty',
      header: 'Pieces',
      width: '64px',
      align: 'right',
      sort: (r) => piecesLeft(r.left),
      cell: (r) => formatNumber(piecesLeft(r.left)),
    },
    {
      id: 'where',
      header: 'From',
      width: 'minmax(0, 1fr)',
      sort: (r) => r.where,
      cell: (r) => (
        <span className="truncate" title={r.where}>
          {r.where}
        </span>
      ),
      text: (r) => r.where,
    },
    {
      id: 'likely',
      header: 'Likely',
      width: '76px',
      align: 'right',
      sort: (r) => r.may.likely,
      cell: (r) => (r.may.likely === 0 ? '–' : money(r.may.likely)),
    },
    {
      id: 'hoped',
      header: 'Hoped',
      width: '76px',
      align: 'right',
      sort: (r) => r.may.hoped,
      cell: (r) => (r.may.hoped === 0 ? '–' : money(r.may.hoped)),
    },
    {
      id: 'use',
      header: 'What helps',
      width: 'minmax(0, 1.6fr)',
      sort: (r) => r.takers.reduce((n, t) => n + t.pieces, 0),
      text: (r) => helps(r, nameOf, nameItem, currency),
      cell: (r) => (
        <span className="truncate" title={helps(r, nameOf, nameItem, currency)}>
          {helps(r, nameOf, nameItem, currency)}
        </span>
      ),
    },
  ]
}

/** What would make more of it. */
function helps(
  { completed, takers, bare }: SurplusRow,
  nameOf: ReadonlyMap<string, string>,
  nameItem: NameItem,
  currency: string,
): string {
  const words = takers.map((t) => `${nameOf.get(t.build) ?? 'a build'} ${TAKE_WORDS[t.why]} ${formatNumber(t.pieces)}`)
  if (completed)
    words.unshift(
      `${nameItem(completed.item).name} would complete it${completed.cost === undefined ? ', on no offer known' : `, from ${formatMoney(completed.cost, currency)}`}`,
    )
  if (bare) words.unshift('bought for its sticker')
  return words.join('; ')
}
