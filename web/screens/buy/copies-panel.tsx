import { useQuery } from '@tanstack/react-query'
import { dequal } from 'dequal'
import { useMemo } from 'react'
import type { Build } from '../../../core/build/build.ts'
import type { Copy } from '../../../core/donors/donor-set.ts'
import { lastChance } from '../../../core/donors/made-until.ts'
import type { Snapshot } from '../../../core/netting/snapshot.ts'
import type { Tally } from '../../../core/netting/tally.ts'
import {
  bestMix,
  modulesDone,
  type CopyMix,
  type MixOutcome,
  type SummedMix,
} from '../../../core/sourcing/copy-mixes.ts'
import { netOf, type PurchaseSums } from '../../../core/sourcing/purchase-sums.ts'
import { minuteOf } from '../../../core/units/instants.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import type { TaskSummary } from '../../../workers/tally.worker.ts'
import type { Count } from '../../store/count-store.ts'
import {
  buyAnyNumber,
  keepMix,
  MIXES,
  mixesFrom,
  MORE_COPIES,
  runMixes,
  useMixes,
  type WantedCopies,
} from '../../store/mixes-run.ts'
import { isShippingKnown, problemOf, type Purchase } from '../../store/purchases.ts'
import type { Patience } from '../../../workers/sourcing.worker.ts'
import { nowIso } from '../../store/database.ts'
import { useRecords } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'
import type { ModuleId } from '../../../core/units/ids.ts'
import { AskBar, KeepCell } from './ask-bar.tsx'
import { lastChanceWords } from './copies-bought.tsx'
import { shortProof } from './proof-words.ts'

/** What each number of donor copies comes to, each at its best; any of them can be kept. */
export function CopiesPanel({
  task,
  purchase,
  build,
  snapshot,
  result,
  count,
  patience,
}: {
  task: TaskSummary
  purchase: Purchase | undefined
  build: Build
  snapshot: Snapshot
  result: Tally
  count: Count
  /** Time for the question. */
  patience: Patience
}) {
  const { shops } = useRecords()
  const { last, news } = useMixes(build.id)
  const current = last !== undefined && last.key === task.anyCopiesKey
  const anyCopies = useQuery({
    queryKey: ['any copies', task.anyCopiesKey],
    queryFn: async () => (await problemOf(count)).anyCopies,
    enabled: current,
    staleTime: Infinity,
  })
  const sets = task.copies.flatMap(({ id, maxCopies }): WantedCopies[] => {
    const first = snapshot.copies.find((c) => c.id === id)
    return first ? [{ first, wanted: maxCopies }] : []
  })
  const outcomes = useMemo(
    () => (current && anyCopies.data ? mixesFrom(anyCopies.data, last.answer, build.rules.printPrice) : []),
    [current, anyCopies.data, last, build.rules.printPrice],
  )
  // While shipping is not known nothing can be said of other ways to buy.
  if (sets.length === 0 || sets.length < task.copies.length || !isShippingKnown(shops, task.itemsOf)) return null
  const setsOf = sets.map(({ first }) => first.setId)
  // Copies of one set at several prices are told apart by their labels.
  const nameOf = (copy: Copy) =>
    setsOf.filter((id) => id === copy.setId).length > 1
      ? copy.label
      : (snapshot.sets.find((s) => s.id === copy.setId)?.name ?? copy.label)
  const chances = snapshot.sets.flatMap((set) => {
    const chance = setsOf.includes(set.id) ? lastChance(set, nowIso()) : undefined
    return chance ? [`${set.name}: ${lastChanceWords(chance).toLowerCase()}.`] : []
  })
  const words = (mix: CopyMix) =>
    mixWords(
      mix,
      sets.map(({ first }) => nameOf(first)),
    )
  const asking = news?.findLast((n) => 'asking' in n)?.asking
  return (
    <section aria-label="Donor copies" aria-busy={news !== undefined} className="flex flex-col gap-2">
      <h2 className="text-base font-semibold">How many donor copies?</h2>
      <AskBar
        ask="What does each number of copies come to?"
        limits={`at most ${patience.timeLimit} s in all`}
        running={
          news &&
          (asking === undefined
            ? 'Loading the solver…'
            : `Asking about ${words(asking)}; ${plural(news.filter((n) => 'outcome' in n).length, 'number')} done so far.`)
        }
        onAsk={() => void runMixes(count, patience)}
        onStop={() => {
          MIXES.cancel(build.id)
        }}
      />
      {chances.length > 0 && <p className="text-sm text-soft">{chances.join(' ')}</p>}
      {Object.keys(build.rules.buyCopies).length > 0 && (
        <p className="flex flex-wrap items-center gap-3 text-sm">
          <span>
            By the rules just so many are bought:{' '}
            {words(sets.map(({ first, wanted }) => Math.min(build.rules.buyCopies[first.id] ?? wanted, wanted)))}.
          </span>
          <Button onClick={() => void buyAnyNumber(build)}>Allow any number</Button>
        </p>
      )}
      {last && !news && !current && (
        <p className="border-l-4 border-warn bg-raised px-3 py-2 text-sm">
          This was asked on {minuteOf(last.at)}, for another state of the build or of the offers. Ask again.
        </p>
      )}
      {!news && outcomes.length > 0 && (
        <>
          <ul className="text-sm">
            {decisionWords(outcomes, words, build.currency).map((sentence) => (
              <li key={sentence}>{sentence}</li>
            ))}
          </ul>
          <MixTable
            outcomes={outcomes}
            words={words}
            build={build}
            result={result}
            snapshot={snapshot}
            kept={purchase?.kept.plan}
            onKeep={(outcome, label) => void keepMix(count, build, outcome, sets, label)}
          />
          <p className="text-xs text-soft">
            Up front is all that is paid: goods, fees, duty and tax at your rates, prints and the copies. Copies beyond
            those wanted ({MORE_COPIES} more are asked about) are taken to be had at the same price; of one that is used
            or lacks pieces there is no other. What leftovers bring is uncertain: nothing; likely,{' '}
            {build.rules.resalePercent}% of the median offer; at best, {build.rules.hopedPercent}%; prices of your own
            as they are.
          </p>
        </>
      )}
    </section>
  )
}

/** A mix in words: "no copy", "2 Glasshouse and 1 Post office". */
function mixWords(mix: CopyMix, names: readonly string[]): string {
  const parts = mix.flatMap((n, s) => (n > 0 ? [`${n} × ${names[s] ?? ''}`] : []))
  return parts.length === 0 ? 'no copy' : parts.join(' and ')
}

/** Figures that a plan sells whole, by name. */
function wholeFigures({ figures = [] }: MixOutcome['plan']): (readonly [name: string, n: number])[] {
  const sold = new Map<string, number>()
  for (const { figure, qty } of figures) sold.set(figure, (sold.get(figure) ?? 0) + qty)
  return [...sold]
}

/** What pays best, and whether that holds when leftovers bring nothing. */
function decisionWords(outcomes: readonly SummedMix[], words: (mix: CopyMix) => string, currency: string): string[] {
  const [likely, nothing] = [bestMix(outcomes, 'likely'), bestMix(outcomes, 'nothing')]
  if (!likely || !nothing) return []
  const net = (sums: PurchaseSums, view: 'likely' | 'nothing') => formatMoney(netOf(sums, view), currency)
  const sure = outcomes.every((o) => o.plan.status === 'optimal')
    ? ''
    : ' by the plans found, not all of which are proven'
  const lead = `With leftovers at what they likely bring, ${words(likely.mix)} costs least${sure}: ${net(likely.sums, 'likely')} net, ${formatMoney(likely.sums.outlay, currency)} up front.`
  if (likely === nothing)
    return [lead, `That holds even if leftovers bring nothing: then ${net(nothing.sums, 'nothing')}.`]
  const dearer = netOf(likely.sums, 'nothing') - netOf(nothing.sums, 'nothing')
  return [
    lead,
    `It does not hold if leftovers bring nothing: then ${words(nothing.mix)} costs least, ${net(nothing.sums, 'nothing')}, and ${words(likely.mix)} ${formatMoney(dearer, currency)} more.`,
  ]
}

function MixTable({
  outcomes,
  words,
  build: { currency },
  result,
  snapshot,
  kept,
  onKeep,
}: {
  outcomes: readonly SummedMix[]
  words: (mix: CopyMix) => string
  build: Build
  result: Tally
  snapshot: Snapshot
  kept: MixOutcome['plan'] | undefined
  onKeep: (outcome: MixOutcome, label: string) => void
}) {
  const money = (minor: number) => formatMoney(minor, currency)
  const none = outcomes.find((o) => o.mix.every((n) => n === 0))
  const best = bestMix(outcomes, 'likely')
  const named = (modules: readonly ModuleId[]) =>
    modules.map((id) => snapshot.design.modules.find((m) => m.id === id)?.name ?? id).join(', ')
  return (
    <table className="w-full text-sm">
      <thead>
        <tr className="border-b border-rule text-left align-bottom text-xs text-soft">
          <th scope="col" className="py-1 pr-3 font-semibold">
            Copies
          </th>
          <th scope="col" className="pl-3 text-right font-semibold">
            Up front
          </th>
          <th scope="col" className="pl-3 text-right font-semibold">
            Net: nothing
          </th>
          <th scope="col" className="pl-3 text-right font-semibold">
            likely
          </th>
          <th scope="col" className="pl-3 text-right font-semibold">
            at best
          </th>
          <th scope="col" className="pl-3 font-semibold">
            Pieces
          </th>
          <th scope="col">
            <span className="sr-only">Act</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {outcomes.map((outcome) => {
          const { mix, sums, plan, leftOut } = outcome
          const avoided = none ? none.sums.loose - sums.loose : 0
          const { unfinished, withoutLoose } = modulesDone(result, outcome)
          const isKept = kept !== undefined && dequal(kept.purchases, plan.purchases) && dequal(kept.sets, plan.sets)
          return (
            <tr key={mix.join()} className="border-b border-hair align-top">
              <th scope="row" className={`py-1 pr-3 text-left ${outcome === best ? 'font-bold' : 'font-normal'}`}>
                {words(mix)}
                <span className="block text-xs font-normal text-soft">{shortProof(plan)}</span>
              </th>
              <td className="py-1 pl-3 text-right whitespace-nowrap">{money(sums.outlay)}</td>
              <td className="py-1 pl-3 text-right whitespace-nowrap">{money(netOf(sums, 'nothing'))}</td>
              <td className="py-1 pl-3 text-right font-bold whitespace-nowrap">{money(netOf(sums, 'likely'))}</td>
              <td className="py-1 pl-3 text-right whitespace-nowrap">{money(netOf(sums, 'hoped'))}</td>
              <td className="py-1 pl-3 text-xs">
                <span className="block">
                  {formatNumber(sums.loose)} loose in {plural(sums.orders, 'order')}
                  {avoided > 0 && `, ${formatNumber(avoided)} fewer than without copies`}; {formatNumber(sums.surplus)}{' '}
                  left over
                  {(plan.figures ?? []).length > 0 &&
                    `, of which sold whole: ${wholeFigures(plan)
                      .map(([name, n]) => `${n} × ${name}`)
                      .join(', ')}`}
                </span>
                {leftOut.length > 0 && (
                  <span className="block text-warn">
                    {plural(
                      leftOut.reduce((n, u) => n + u.short, 0),
                      'piece',
                    )}{' '}
                    not to be had
                    {unfinished.length > 0 && `: ${named(unfinished)} unfinished`}
                  </span>
                )}
                {withoutLoose.length > 0 && (
                  <span className="block">Finished without loose pieces: {named(withoutLoose)}</span>
                )}
              </td>
              <KeepCell
                kept={isKept}
                label={`Keep ${words(mix)}`}
                onKeep={() => {
                  onKeep(outcome, `Kept a plan with ${words(mix)}`)
                }}
              />
            </tr>
          )
        })}
      </tbody>
    </table>
  )
}
