import { useEffect, useMemo, useRef } from 'react'
import { useLocation } from 'react-router'
import type { Scenario } from '../../../core/build/scenario.ts'
import type { ItemKey } from '../../../core/catalogue/item.ts'
import { orderOpeners, ownAlternatives, type Hint, type RareItem } from '../../../core/sourcing/rare.ts'
import type { WhatIfRow } from '../../../core/sourcing/what-if.ts'
import { minuteOf } from '../../../core/units/instants.ts'
import type { ScenarioId } from '../../../core/units/ids.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import { add } from '../../../storage/journal.ts'
import type { Patience } from '../../../workers/sourcing.worker.ts'
import { ItemName } from '../../pieces/item-name.tsx'
import { rareSummary, rareWords } from '../../pieces/rare-words.ts'
import { useAboutCount } from '../../store/about-count.ts'
import { fresh } from '../../store/database.ts'
import { perform } from '../../store/perform.ts'
import { isShippingKnown, type Purchase } from '../../store/purchases.ts'
import { useRecords } from '../../store/records.tsx'
import type { BuildTally } from '../../store/tallies.ts'
import { keepWhatIf, runWhatIfs, useWhatIfs, WHAT_IFS } from '../../store/what-ifs.ts'
import { Button } from '../../ui/button.tsx'
import { scrollWithin } from '../../ui/scroll-within.ts'
import { AskBar } from './ask-bar.tsx'
import { netMore, otherDifferences } from './difference-words.ts'
import { noPlan, shortProof } from './proof-words.ts'

/** Rare pieces shown at once; the others are behind a fold. */
const FIRST = 6

/** Short pieces that are hard to buy or dear: why, what each really costs, and what would avoid it, priced. */
export function RarePanel({
  tally,
  purchase,
  itemsOf,
  patience,
}: {
  tally: BuildTally
  /** The kept plan, where it answers the build as it is. */
  purchase: Purchase | undefined
  /** Shops of the purchase with the items each offers. */
  itemsOf: ReadonlyMap<string, number>
  /** Time for the question. */
  patience: Patience
}) {
  const { snapshot, now, count, stale } = tally
  const { build } = snapshot
  const { versions, shops, nameItem, colourById } = useRecords()
  const kept = purchase?.kept
  const asked = useMemo(() => ({ openers: orderOpeners(purchase?.orders ?? []), hinted: true }), [purchase?.orders])
  const { value } = useAboutCount(count, 'rare', asked)
  const { last } = WHAT_IFS.hints.useAnswer(build.id)
  const hints = value?.hints
  const asksHere = useLocation().hash === '#rare'
  const section = useRef<HTMLElement>(null)
  const there = (value?.items.length ?? 0) > 0
  useEffect(() => {
    if (asksHere && there) scrollWithin(section.current)
  }, [asksHere, there])
  const { rows, base, study, news, answers } = useWhatIfs('hints', tally, last ? hints : undefined, kept)
  if (!value || !hints || value.items.length === 0) return null
  const sure = isShippingKnown(shops, itemsOf)
  const words = (hint: Hint) =>
    hintWords(
      hint,
      (item) => nameItem(item).name,
      (id) => colourById.get(id)?.name ?? id,
      (copy) => {
        const setId = snapshot.copies.find((c) => c.id === copy)?.setId
        return snapshot.sets.find((s) => s.id === setId)?.name ?? 'the set'
      },
    )
  const asking = news?.findLast((n) => 'asking' in n)?.asking
  const askedNow = hints.find((h) => h.id === asking)
  const item = (rare: RareItem) => (
    <RareEntry
      key={rare.item}
      rare={rare}
      currency={build.currency}
      modules={rare.modules.map((id) => snapshot.design.modules.find((m) => m.id === id)?.name ?? id)}
      instead={ownAlternatives(snapshot.design, rare).map((uses) =>
        uses.map((u) => (u.qty === 1 ? nameItem(u.item).name : `${u.qty} × ${nameItem(u.item).name}`)).join(' and '),
      )}
      base={news ? undefined : base}
      hints={hints.filter((h) => h.of === rare.item)}
      rows={rows}
      words={words}
      disabled={stale}
      onApply={(hint, row) =>
        void keepWhatIf(
          count,
          now.build,
          hint.changes,
          row,
          versions,
          `Avoided ${nameItem(rare.item).name}: ${words(hint)}`,
        )
      }
      onScenario={(hint) => {
        const scenario: Scenario = {
          id: `w-${fresh()}` as ScenarioId,
          buildId: build.id,
          name: words(hint).slice(0, 120),
          changes: hint.changes,
        }
        void perform(`Made a scenario: ${scenario.name}`, [add('scenarios', [scenario])])
      }}
    />
  )
  const old = hints.some((h) => rows.get(h.id)?.old === true)
  return (
    <section
      ref={section}
      id="rare"
      aria-label="Rare and dear"
      aria-busy={news !== undefined || study.busy}
      className="flex flex-col gap-2"
    >
      <h2 className="text-base font-semibold">Rare and dear</h2>
      <p className="text-sm">By the offers known: {rareSummary(value.items)}.</p>
      {sure && hints.length > 0 && (
        <AskBar
          ask="What do they really cost, and what would avoid them?"
          limits={`${plural(hints.length, 'purchase')} without or with another piece; at most ${patience.timeLimit} s in all`}
          running={
            news &&
            (askedNow === undefined
              ? 'Loading the solver…'
              : `Trying for ${nameItem(askedNow.of).name}: ${words(askedNow)}; ${news.filter((n) => 'answer' in n).length} of ${hints.length + 1} done.`)
          }
          onAsk={() => void runWhatIfs('hints', count, hints, versions, { ...patience, bases: false }, kept, answers)}
          onStop={() => {
            WHAT_IFS.hints.cancel(build.id)
          }}
        />
      )}
      {study.problem !== undefined && (
        <p role="alert" className="text-sm text-bad">
          {study.problem}
        </p>
      )}
      {last && !news && old && (
        <p className="border-l-4 border-warn bg-raised px-3 py-2 text-sm">
          Some of this was asked on {minuteOf(last.at)}, for another state of the build or of the offers. Ask again.
        </p>
      )}
      <ul className="flex flex-col divide-y divide-hair">{value.items.slice(0, FIRST).map(item)}</ul>
      {value.items.length > FIRST && (
        <details className="text-sm">
          <summary className="cursor-pointer py-1 font-semibold hover:bg-raised">
            {plural(value.items.length - FIRST, 'more item')}
          </summary>
          <ul className="flex flex-col divide-y divide-hair">{value.items.slice(FIRST).map(item)}</ul>
        </details>
      )}
    </section>
  )
}

function RareEntry({
  rare,
  currency,
  modules,
  instead,
  base,
  hints,
  rows,
  words,
  disabled,
  onApply,
  onScenario,
}: {
  rare: RareItem
  currency: string
  modules: readonly string[]
  /** What the design itself lets take its place. */
  instead: readonly string[]
  base: WhatIfRow | undefined
  hints: readonly Hint[]
  rows: ReadonlyMap<string, WhatIfRow>
  words: (hint: Hint) => string
  disabled: boolean
  onApply: (hint: Hint, row: WhatIfRow) => void
  onScenario: (hint: Hint) => void
}) {
  const priced = hints.flatMap((hint) => {
    const row = rows.get(hint.id)
    return base && row?.plan ? [{ hint, row, more: netMore(base, row) }] : []
  })
  const without = priced.find(({ hint }) => hint.hint.kind === 'leave out')
  return (
    <li className="flex flex-col gap-1 py-2 text-sm">
      <div className="flex items-center gap-2">
        <b>{formatNumber(rare.qty)} ×</b>
        <ItemName item={rare.item} size={26} />
        <span className="text-soft">{modules.join(', ')}</span>
      </div>
      <p>
        {rareWords(rare, currency)}.
        {without?.more !== undefined && without.more < 0 && (
          <>
            {' '}
            It really costs <b>{formatMoney(-without.more, currency)}</b>
            {base && !areProven(base, without.row) && ', by the plans found'}: without it the purchase is so much
            cheaper.
          </>
        )}
      </p>
      {instead.length > 0 && (
        <p className="pl-4 text-xs text-soft">
          The design’s own alternatives are weighed in every purchase: {instead.join('; ')}.
        </p>
      )}
      {priced.length > 0 && base && (
        <ul className="flex flex-col gap-1 pl-4">
          {priced
            .sort((p, q) => (p.more ?? Infinity) - (q.more ?? Infinity))
            .map(({ hint, row, more }) => (
              <li key={hint.id} className="flex items-center justify-between gap-3">
                <span>
                  {words(hint)}:{' '}
                  <b>
                    {more === undefined
                      ? row.plan && noPlan(row.plan)
                      : more === 0
                        ? 'costs the same'
                        : `${more < 0 ? 'saves' : 'costs'} ${formatMoney(Math.abs(more), currency)}`}
                  </b>
                  <span className="block text-xs text-soft">
                    {[...otherDifferences(base, row), proofOfBoth(base, row)].join('; ')}
                  </span>
                </span>
                <span className="flex shrink-0 gap-2">
                  <Button
                    aria-label={`Compare as a scenario: ${words(hint)}`}
                    onClick={() => {
                      onScenario(hint)
                    }}
                  >
                    Scenario
                  </Button>
                  <Button
                    aria-label={`Apply: ${words(hint)}`}
                    disabled={disabled || more === undefined}
                    onClick={() => {
                      onApply(hint, row)
                    }}
                  >
                    Apply
                  </Button>
                </span>
              </li>
            ))}
        </ul>
      )}
      {priced.length === 0 && hints.length > 0 && (
        <p className="pl-4 text-xs text-soft">What would avoid it: {hints.map(words).join('; ')}.</p>
      )}
    </li>
  )
}

const areProven = ({ plan: p }: WhatIfRow, { plan: q }: WhatIfRow): boolean =>
  p?.status === 'optimal' && q?.status === 'optimal'

/** What is proven of two plans that are compared. */
const proofOfBoth = (base: WhatIfRow, row: WhatIfRow): string =>
  areProven(base, row)
    ? 'proven'
    : `by the plans found: ${[base, row].map(({ plan }) => plan && shortProof(plan)).join(', ')}`

function hintWords(
  { hint, of }: Hint,
  itemName: (item: ItemKey) => string,
  colourName: (colour: Extract<Hint['hint'], { kind: 'recolour' }>['colour']) => string,
  setName: (copy: string) => string,
): string {
  switch (hint.kind) {
    case 'leave out':
      return `Leave out ${itemName(of)}`
    case 'recolour':
      return `${colourName(hint.colour)} for ${hint.group ? 'the whole group' : 'all of that colour in its module'}, ${plural(hint.pieces, 'piece')}`
    case 'mould':
      return `Another mould: ${itemName(hint.item)}`
    case 'plain':
      return `Plain instead: ${itemName(hint.item)}`
    case 'split':
      return `Made of ${hint.uses.map((u) => `${u.qty > 1 ? `${u.qty} × ` : ''}${itemName(u.item)}`).join(' and ')}`
    case 'copy':
      return `${plural(hint.copies, 'copy', 'copies')} of ${setName(hint.copy)}`
    case 'print':
      return 'A custom print'
  }
}
