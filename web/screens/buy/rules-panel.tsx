import { useMemo } from 'react'
import { loosenings, tightenings, type RuleChange } from '../../../core/sourcing/rule-prices.ts'
import type { WhatIfRow } from '../../../core/sourcing/what-if.ts'
import { minuteOf } from '../../../core/units/instants.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { plural } from '../../../core/units/numbers.ts'
import type { Patience } from '../../../workers/sourcing.worker.ts'
import { isShippingKnown, type Purchase } from '../../store/purchases.ts'
import { useRecords } from '../../store/records.tsx'
import type { BuildTally } from '../../store/tallies.ts'
import { keepWhatIf, runWhatIfs, useWhatIfs, WHAT_IFS } from '../../store/what-ifs.ts'
import { Button } from '../../ui/button.tsx'
import { AskBar } from './ask-bar.tsx'
import { netMore, otherDifferences, shortOf } from './difference-words.ts'
import { noPlan, shortProof } from './proof-words.ts'

/** What each rule of the build costs: each changed by one step, in money and pieces, as a purchase of its own. */
export function RulesPanel({
  tally,
  purchase: { kept },
  patience,
}: {
  tally: BuildTally
  purchase: Purchase
  /** Time for the question. */
  patience: Patience
}) {
  const { snapshot, now, count, stale } = tally
  const { build, decisions } = snapshot
  const { versions, shops, nameItem } = useRecords()
  const all = useMemo(
    () => [...loosenings(build, decisions ?? [], kept.problem), ...tightenings(build, kept)],
    [build, decisions, kept],
  )
  const { last } = WHAT_IFS.rules.useAnswer(build.id)
  const asked = last ? all : undefined
  const { rows, base, keptMore, study, news, answers } = useWhatIfs('rules', tally, asked, kept)
  // While shipping is not known nothing can be said of other ways to buy.
  if (!isShippingKnown(shops, new Set(kept.problem.shops.map((s) => s.id)))) return null
  const words = (change: RuleChange) =>
    ruleWords(
      change,
      (id) => shops.find((s) => s.id === id)?.name ?? id,
      (item) => nameItem(item).name,
    )
  const priced = all.flatMap((rule) => {
    const row = rows.get(rule.id)
    const more = base && row?.plan ? netMore(base, row) : undefined
    return row?.plan ? [{ rule, row, more }] : []
  })
  const dated = all.some((rule) => rows.get(rule.id)?.old === true)
  const asking = news?.findLast((n) => 'asking' in n)?.asking
  const askingRule = all.find((rule) => rule.id === asking)
  const saving = priced
    .filter((p) => p.rule.looser && ((p.more ?? 0) < 0 || (base && fewerMissing(base, p.row))))
    .sort((p, q) => (p.more ?? 0) - (q.more ?? 0))
  const idle = priced.filter((p) => p.rule.looser && !saving.includes(p))
  const costing = priced.filter((p) => !p.rule.looser).sort((p, q) => (p.more ?? Infinity) - (q.more ?? Infinity))
  return (
    <section
      aria-label="What the rules cost"
      aria-busy={news !== undefined || study.busy}
      className="flex flex-col gap-2"
    >
      <h2 className="text-base font-semibold">What the rules cost</h2>
      <AskBar
        ask="What does each rule cost?"
        limits={`${plural(all.length, 'change')} of one rule, each a purchase of its own; at most ${patience.timeLimit} s in all`}
        running={
          news &&
          (askingRule === undefined
            ? 'Loading the solver…'
            : `Trying: ${words(askingRule.change)}; ${plural(news.filter((n) => 'answer' in n).length, 'rule')} of ${all.length} done.`)
        }
        onAsk={() => void runWhatIfs('rules', count, all, versions, { ...patience, bases: false }, kept, answers)}
        onStop={() => {
          WHAT_IFS.rules.cancel(build.id)
        }}
      />
      {study.problem !== undefined && (
        <p role="alert" className="text-sm text-bad">
          {study.problem}
        </p>
      )}
      {last && !news && dated && (
        <p className="border-l-4 border-warn bg-raised px-3 py-2 text-sm">
          {priced.length === 0 ? 'This was asked' : 'Some of this was asked'} on {minuteOf(last.at)}, for another state
          of the build or of the offers. Ask again.
        </p>
      )}
      {!news && base && priced.length > 0 && (
        <>
          {keptMore > 0 && (
            <p className="flex items-center justify-between gap-3 border-l-4 border-warn bg-raised px-3 py-2 text-sm">
              <span>
                Without any change a plan was found that costs <b>{formatMoney(keptMore, build.currency)} less</b> than
                the kept one, {base.plan && shortProof(base.plan)}. What follows is compared with it.
              </span>
              <Button
                disabled={stale}
                onClick={() => void keepWhatIf(count, now.build, {}, base, versions, 'Kept a cheaper purchase plan')}
              >
                Keep it
              </Button>
            </p>
          )}
          <h3 className="text-sm font-semibold">Looser</h3>
          <ul className="flex flex-col divide-y divide-hair text-sm">
            {saving.map(({ rule, row, more = 0 }) => (
              <RuleItem
                key={rule.id}
                words={words(rule.change)}
                money={
                  more < 0
                    ? `saves ${formatMoney(-more, build.currency)}`
                    : `costs ${formatMoney(more, build.currency)} more`
                }
                base={base}
                row={row}
                disabled={stale}
                onApply={(label) => void keepWhatIf(count, now.build, rule.changes, row, versions, label)}
              />
            ))}
            {idle.length > 0 && (
              <li className="py-1 text-soft">
                {saving.length === 0
                  ? 'Nothing cheaper was found with any of them'
                  : 'Nothing cheaper was found with the others'}
                : {idle.map(({ rule }) => words(rule.change).toLowerCase()).join('; ')}.
              </li>
            )}
          </ul>
          {costing.length > 0 && (
            <>
              <h3 className="text-sm font-semibold">Stricter</h3>
              <ul className="flex flex-col divide-y divide-hair text-sm">
                {costing.map(({ rule, row, more }) => (
                  <RuleItem
                    key={rule.id}
                    words={words(rule.change)}
                    money={
                      more === undefined
                        ? row.plan
                          ? noPlan(row.plan)
                          : ''
                        : more === 0
                          ? 'costs nothing'
                          : `${more > 0 ? 'costs' : 'saves'} ${formatMoney(Math.abs(more), build.currency)}`
                    }
                    base={base}
                    row={row}
                    disabled={stale || more === undefined}
                    onApply={(label) => void keepWhatIf(count, now.build, rule.changes, row, versions, label)}
                  />
                ))}
              </ul>
            </>
          )}
        </>
      )}
    </section>
  )
}

const fewerMissing = (base: WhatIfRow, row: WhatIfRow) => shortOf(row) < shortOf(base)

function RuleItem({
  words,
  money,
  base,
  row,
  disabled,
  onApply,
}: {
  words: string
  money: string
  base: WhatIfRow
  row: WhatIfRow
  disabled: boolean
  onApply: (label: string) => void
}) {
  return (
    <li className="flex items-center justify-between gap-3 py-1">
      <span>
        {words}: <b>{money}</b>
        <span className="block text-xs text-soft">
          {[...otherDifferences(base, row), sureWords(base, row)].join('; ')}
        </span>
      </span>
      <Button
        aria-label={`Apply: ${words}`}
        disabled={disabled}
        onClick={() => {
          onApply(`Changed a rule: ${words}`)
        }}
      >
        Apply
      </Button>
    </li>
  )
}

/** What is proven of a difference. */
function sureWords({ plan: from }: WhatIfRow, { plan: to }: WhatIfRow): string {
  const open = [
    ...(from && from.status !== 'optimal' ? [`without the change ${shortProof(from)}`] : []),
    ...(to && to.status !== 'optimal' ? [`with it ${shortProof(to)}`] : []),
  ]
  return open.length === 0 ? 'proven' : `by the plans found: ${open.join(', ')}`
}

function ruleWords(
  change: RuleChange,
  shopName: (shop: string) => string,
  itemName: (item: Extract<RuleChange, { kind: 'stand-in' }>['decision']['item']) => string,
): string {
  switch (change.kind) {
    case 'rule':
      return change.label
    case 'shop':
      return change.was === 'free'
        ? `Nothing from ${shopName(change.shop)}`
        : change.was === 'excluded'
          ? `Ordering from ${shopName(change.shop)} allowed`
          : `${shopName(change.shop)} not insisted on`
    case 'stand-in':
      return `${change.decision.uses.map((u) => (u.qty === 1 ? itemName(u.item) : `${u.qty} × ${itemName(u.item)}`)).join(' and ')} may stand in for ${itemName(change.decision.item)} again`
    case 'limit':
      return change.rule === 'maxShops'
        ? `At most ${change.to ?? 'any number of'} orders`
        : change.rule === 'deadlineDays'
          ? `Within ${plural(change.to ?? 0, 'day')}`
          : 'Any number of loose pieces'
  }
}
