import { isIncome } from '../../../core/settling/entry.ts'
import type { Build } from '../../../core/build/build.ts'
import { STAGES } from '../../../core/settling/postings.ts'
import { decimal, formatMoney, parseMinor } from '../../../core/units/money.ts'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import { edit } from '../../../storage/journal.ts'
import { useSurplusWorth } from '../../store/surplus.ts'
import { perform } from '../../store/perform.ts'
import { Choice, CommitInput, Field } from '../../ui/fields.tsx'
import type { LedgerView } from './ledger-view.ts'
import { OutlayChart } from './outlay-chart.tsx'

const STAGE_HEADS = { planned: 'Planned', ordered: 'Ordered', paid: 'Paid', back: 'Paid back' } as const

/** What the build cost by category, when, for whom, and by module. */
export function CostView(view: LedgerView) {
  return (
    <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1.15fr)_minmax(0,1fr)] content-start gap-x-8 gap-y-5 overflow-auto text-sm max-[960px]:grid-cols-1">
      <div className="flex min-w-0 flex-col gap-5">
        <Categories {...view} />
        <ThreeCostsTable {...view} />
      </div>
      <div className="flex min-w-0 flex-col gap-5">
        <Completion {...view} />
        <OutlayPanel {...view} />
        <ByModule {...view} />
      </div>
    </div>
  )
}

const Heading = ({ children }: { children: string }) => (
  <h2 className="font-display text-base font-medium">{children}</h2>
)

function Categories({ settlement: { ledger, unchanged }, tally }: LedgerView) {
  const { currency } = tally.now.build
  const cell = (minor: number) => (minor === 0 ? '–' : decimal(minor, currency))
  const spending = ledger.rows.filter((r) => !isIncome(r.category))
  const income = ledger.rows.filter((r) => isIncome(r.category))
  return (
    <section aria-label="By category">
      <Heading>Planned against paid</Heading>
      <table className="w-full">
        <thead>
          <tr className="border-b border-rule text-left text-xs text-soft">
            <th className="py-1 font-semibold">{currency}</th>
            {STAGES.map((stage) => (
              <th key={stage} className="pl-3 text-right font-semibold whitespace-nowrap">
                {STAGE_HEADS[stage]}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {spending.map((row) => (
            <tr key={row.category} className="border-b border-hair">
              <th scope="row" className="py-0.5 text-left font-normal first-letter:uppercase">
                {row.category}
              </th>
              {STAGES.map((stage) => (
                <td key={stage} className="pl-3 text-right">
                  {cell(row[stage])}
                </td>
              ))}
            </tr>
          ))}
          <tr className="border-b border-rule font-bold">
            <th scope="row" className="py-1 text-left">
              Spent
            </th>
            {STAGES.map((stage) => (
              <td key={stage} className="pl-3 text-right">
                {decimal(ledger.total[stage], currency)}
              </td>
            ))}
          </tr>
          {income.map((row) => (
            <tr key={row.category} className="border-b border-hair">
              <th scope="row" className="py-0.5 text-left font-normal first-letter:uppercase">
                {row.category}, came in
              </th>
              <td className="text-right">–</td>
              <td className="text-right">–</td>
              <td className="text-right">{cell(row.paid)}</td>
              <td className="text-right">–</td>
            </tr>
          ))}
          <tr className="font-bold">
            <th scope="row" className="py-1 text-left" colSpan={3}>
              Cost so far: paid, less what was paid back and came in
            </th>
            <td className="text-right">{decimal(ledger.net, currency)}</td>
            <td />
          </tr>
        </tbody>
      </table>
      <p className="text-xs text-soft">
        Orders as charged where that is noted, else as planned, shared between builds by the value of each one’s pieces;
        in the rates of their day. What is a draft is planned, and what is placed is ordered.
      </p>
      {unchanged.length > 0 && (
        <p role="note" className="mt-1 text-warn">
          In no sum, as the build has no rate for the money: {unchanged.slice(0, 3).join('; ')}
          {unchanged.length > 3 && `; ${unchanged.length - 3} more`}. Note the rate on Brief.
        </p>
      )}
    </section>
  )
}

const REST_WORDS = {
  nothing: 'Still to buy',
  plan: 'Still to buy, by the plan kept on Buy',
  goods: 'Still to buy: goods at the cheapest offers known, and prints',
} as const

function Completion({ settlement: { completion }, tally }: LedgerView) {
  const { build } = tally.now
  const { soFar, due, drafts, rest, total, perPiece, overBudget, overReplaced } = completion
  const money = (minor: number) => formatMoney(minor, build.currency)
  const rows = [
    ['Cost so far', soFar],
    ['Ordered and not paid', due],
    ['Drafts of orders', drafts],
    [REST_WORDS[rest.basis], rest.minor],
  ] as const
  return (
    <section aria-label="At completion">
      <Heading>At completion</Heading>
      <dl className="grid grid-cols-[minmax(0,1fr)_auto]">
        {rows.map(([label, minor]) => (
          <div key={label} className="contents">
            <dt>{label}</dt>
            <dd className="text-right">{minor === 0 ? '–' : money(minor)}</dd>
          </div>
        ))}
        <dt className="border-t border-rule font-bold">
          {rest.unpriced > 0 ? 'In all, as far as prices are known' : 'In all'}
        </dt>
        <dd className="border-t border-rule text-right font-bold">{money(total)}</dd>
        {perPiece !== undefined && rest.unpriced === 0 && (
          <>
            <dt>A piece, of {formatNumber(tally.result.need)}</dt>
            <dd className="text-right">{money(perPiece)}</dd>
          </>
        )}
        {overBudget !== undefined && (
          <>
            <dt>
              {overBudget > 0 ? 'Over the budget' : 'Below the budget'}
              {rest.unpriced > 0 && overBudget <= 0 && ', so far'}
            </dt>
            <dd className={`text-right ${overBudget > 0 ? 'font-bold text-bad' : ''}`}>
              {money(Math.abs(overBudget))}
            </dd>
          </>
        )}
        {overReplaced !== undefined && build.replaces && (
          <>
            <dt>
              {overReplaced > 0 ? 'More' : 'Less'} than {build.replaces.name} new (
              {formatMoney(build.replaces.price.minor, build.replaces.price.currency)})
              {rest.unpriced > 0 && overReplaced < 0 && ', so far'}
            </dt>
            <dd className="text-right">{money(Math.abs(overReplaced))}</dd>
          </>
        )}
      </dl>
      {rest.unpriced > 0 && (
        <p className="text-warn">
          {plural(rest.unpriced, 'short piece')} of no known price {rest.unpriced === 1 ? 'is' : 'are'} in no sum: get
          offers on Buy, and it comes to more.
        </p>
      )}
      <BuildFields build={build} />
    </section>
  )
}

const SHARES = [
  { value: 'whole', label: 'All of it to this build' },
  { value: 'by pieces', label: 'By pieces used' },
] as const

/** How donors are shared, and what the build is compared with. */
function BuildFields({ build }: { build: Build }) {
  const { replaces } = build
  const save = (label: string, next: Build) => void perform(label, [edit('builds', build, next)], { quiet: true })
  return (
    <div className="mt-2 grid grid-cols-2 gap-3 max-[960px]:grid-cols-1">
      <Field label="Donors’ price">
        {(id) => (
          <Choice
            id={id}
            value={build.donorShare ?? 'whole'}
            options={SHARES}
            onChange={(share) => {
              const { donorShare: _, ...bare } = build
              save(`Donors’ price: ${share}`, share === 'whole' ? bare : { ...bare, donorShare: share })
            }}
          />
        )}
      </Field>
      <Field label="Built in place of the set">
        {(id) => (
          <CommitInput
            id={id}
            value={replaces?.name ?? ''}
            placeholder="none"
            maxLength={200}
            onCommit={(text) => {
              const name = text.trim()
              const { replaces: _, ...bare } = build
              if (name === '') save('Compared with no set', bare)
              else {
                const price = replaces?.price ?? { minor: 0, currency: build.currency }
                save(`Compared with ${name}`, { ...bare, replaces: { name, price } })
              }
            }}
          />
        )}
      </Field>
      {replaces && (
        <Field label={`What ${replaces.name} costs new, ${replaces.price.currency}`}>
          {(id) => (
            <CommitInput
              id={id}
              inputMode="decimal"
              value={decimal(replaces.price.minor, replaces.price.currency)}
              onCommit={(text) => {
                const minor = parseMinor(text, replaces.price.currency)
                if (minor === undefined || minor < 0) return { problem: 'An amount such as 24.90.' }
                save('Noted the price of the set', {
                  ...build,
                  replaces: { ...replaces, price: { ...replaces.price, minor } },
                })
                return undefined
              }}
            />
          )}
        </Field>
      )}
    </div>
  )
}

function ThreeCostsTable({ settlement: { costs, completion, ledger }, tally }: LedgerView) {
  const { currency } = tally.now.build
  const { likely, hoped, unpriced } = useSurplusWorth(tally)
  const money = (minor: number) => formatMoney(minor, currency)
  const { shelf } = costs
  return (
    <section aria-label="Three costs">
      <Heading>What it costs whom, at completion</Heading>
      <table className="w-full">
        <tbody>
          <tr className="border-b border-hair">
            <th scope="row" className="w-32 py-1 text-left font-semibold">
              Mine
            </th>
            <td className="text-soft">gifts and what I had before at what I paid</td>
            <td className="text-right font-bold whitespace-nowrap">{money(costs.mine)}</td>
          </tr>
          <tr className="border-b border-hair">
            <th scope="row" className="py-1 text-left font-semibold">
              A donor owner’s
            </th>
            <td className="text-soft">
              no donors to buy
              {shelf.pieces > shelf.unpriced &&
                `; ${plural(shelf.pieces - shelf.unpriced, 'piece')} of my shelf at the median offer, ${money(shelf.minor)}`}
              {shelf.unpriced > 0 && `; ${plural(shelf.unpriced, 'piece')} of my shelf of no known price in no sum`}
            </td>
            <td className="text-right font-bold whitespace-nowrap">{money(costs.owner)}</td>
          </tr>
          <tr className="border-b border-hair">
            <th scope="row" className="py-1 text-left font-semibold">
              From nothing
            </th>
            <td className="text-soft">
              the donors too, whole, at what they cost today
              {costs.unknownDonors > 0 &&
                `; ${plural(costs.unknownDonors, 'copy', 'copies')} of no known price in no sum`}
            </td>
            <td className="text-right font-bold whitespace-nowrap">{money(costs.nothing)}</td>
          </tr>
        </tbody>
      </table>
      <p className="mt-1">
        {hoped > 0 ? (
          <>
            Leftovers may bring nothing, <b>{money(likely)}</b> as is likely or <b>{money(hoped)}</b> as is hoped: mine
            then comes to {money(completion.total)}, {money(completion.total - likely)} or{' '}
            {money(completion.total - hoped)}.
          </>
        ) : (
          'Nothing is known of what leftovers may bring.'
        )}
        {ledger.income > 0 && ` ${money(ledger.income)} has come in already and is taken off mine.`}
        {hoped > 0 && unpriced > 0 && ` ${plural(unpriced, 'piece')} of no known price may bring something too.`}
      </p>
    </section>
  )
}

function OutlayPanel({ settlement: { outlay, completion }, tally, today }: LedgerView) {
  const { currency } = tally.now.build
  const { points, peak } = outlay
  if (points.length === 0) return null
  return (
    <section aria-label="Outlay over time">
      <Heading>Outlay over time</Heading>
      <p>
        At its most <b>{formatMoney(peak.minor, currency)}</b>
        {peak.on === undefined ? ', from the beginning' : `, on ${peak.on}`}.
      </p>
      <OutlayChart outlay={outlay} total={completion.total} currency={currency} today={today} />
    </section>
  )
}

function ByModule({ settlement: { byModule }, tally }: LedgerView) {
  const { design, build } = tally.now
  if (byModule.length === 0) return null
  const nameOf = new Map(design.modules.map((m) => [m.id, m.name]))
  const rows = [...byModule].sort((p, q) => q.minor - p.minor)
  return (
    <section aria-label="By module">
      <Heading>By module, at completion</Heading>
      <table className="w-full">
        <thead>
          <tr className="border-b border-rule text-left text-xs text-soft">
            <th className="py-1 font-semibold">Module</th>
            <th className="text-right font-semibold">Pieces</th>
            <th className="text-right font-semibold">{build.currency}</th>
            <th className="text-right font-semibold">A piece</th>
          </tr>
        </thead>
        <tbody>
          {rows.slice(0, 200).map((m) => (
            <tr key={m.module} className="border-b border-hair">
              <th scope="row" className="py-0.5 text-left font-normal">
                {nameOf.get(m.module) ?? m.module}
              </th>
              <td className="text-right">{formatNumber(m.pieces)}</td>
              <td className="text-right">{decimal(m.minor, build.currency)}</td>
              <td className="text-right">
                {m.pieces === 0 ? '–' : decimal(Math.round(m.minor / m.pieces), build.currency)}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="text-xs text-soft">
        A donor’s price by the pieces used of it; orders with their shipping and duty by what the pieces cost; a plan is
        its module’s own.
      </p>
    </section>
  )
}
