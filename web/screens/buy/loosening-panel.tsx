import { useMemo } from 'react'
import { loosened, loosenings, savingOf, type Loosening, type RulePrice } from '../../../core/sourcing/rule-prices.ts'
import { minuteOf } from '../../../core/units/instants.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { plural } from '../../../core/units/numbers.ts'
import { keepLoosened, LOOSENING, pricesOf, runLoosening, useLoosening } from '../../store/loosening-run.ts'
import { atTheDoor, type Purchase } from '../../store/purchases.ts'
import { useRecords } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'
import { AskBar, type QuestionProps } from './ask-bar.tsx'

type Priced = { readonly price: RulePrice; readonly landed: number }

/** What loosening each rule on shops and orders saves at its best, what saves most first; one act applies it. */
export function LooseningPanel({ purchase, build, count, patience }: QuestionProps) {
  const { kept, landed: now } = purchase
  const { shops, offers } = useRecords()
  const { last, news } = useLoosening(build.id)
  const current = last !== undefined && last.key === kept.madeAt
  const priced = useMemo(
    () =>
      !current
        ? []
        : pricesOf(kept, last.answer).flatMap((price): Priced[] => {
            const problem = loosened(kept.problem, price.loosening)
            const { landed } = atTheDoor(build, { ...kept, problem, plan: price.plan }, { shops, offers })
            return landed === undefined ? [] : [{ price, landed }]
          }),
    [current, last, kept, build, shops, offers],
  )
  const rules = useMemo(() => loosenings(kept.problem), [kept.problem])
  if (now === undefined) return null
  const words = (loosening: Loosening) => looserWords(loosening, (id) => shops.find((s) => s.id === id)?.name ?? id)
  const saving = priced.filter((p) => p.landed < now)
  const asking = news?.findLast((n) => 'asking' in n)?.asking
  return (
    <section aria-label="What looser rules save" aria-busy={news !== undefined} className="flex flex-col gap-2">
      <h2 className="text-base font-semibold">What looser rules save</h2>
      {rules.length === 0 ? (
        <p className="text-sm text-soft">No rule on shops, orders or time stands in the way of a cheaper plan.</p>
      ) : (
        <AskBar
          ask="What would each looser rule save?"
          limits={`${plural(rules.length, 'rule')}, at most ${patience.timeLimit} s in all`}
          running={
            news &&
            (asking === undefined
              ? 'Loading the solver…'
              : `Trying: ${words(asking)}; ${plural(news.filter((n) => 'price' in n).length, 'rule')} of ${rules.length} done.`)
          }
          onAsk={() => void runLoosening(kept, patience)}
          onStop={() => {
            LOOSENING.cancel(build.id)
          }}
        />
      )}
      {last && !news && !current && rules.length > 0 && (
        <p className="border-l-4 border-warn bg-raised px-3 py-2 text-sm">
          This was asked on {minuteOf(last.at)}, of another plan. Ask again.
        </p>
      )}
      {current && !news && (
        <ul className="flex flex-col divide-y divide-hair text-sm">
          {saving.map(({ price, landed }) => (
            <li key={words(price.loosening)} className="flex items-center justify-between gap-3 py-1">
              <span>
                {words(price.loosening)} saves <b>{formatMoney(now - landed, build.currency)}</b>
                <span className="block text-xs text-soft">{sureWords(kept.plan, price, build.currency)}</span>
              </span>
              <Button
                aria-label={`Apply: ${words(price.loosening)}`}
                onClick={() =>
                  void keepLoosened(count, build, kept, price, `Loosened a rule: ${words(price.loosening)}`)
                }
              >
                Apply
              </Button>
            </li>
          ))}
          {saving.length < priced.length && (
            <li className="py-1 text-soft">
              {saving.length === 0
                ? 'Nothing cheaper was found with any of them'
                : 'Nothing cheaper was found with the others'}
              :{' '}
              {priced
                .filter((p) => p.landed >= now)
                .map(({ price }) => words(price.loosening).toLowerCase())
                .join('; ')}
              .
            </li>
          )}
        </ul>
      )}
    </section>
  )
}

function looserWords(loosening: Loosening, nameOf: (shop: string) => string): string {
  switch (loosening.rule) {
    case 'maxShops':
      return `At most ${loosening.to ?? 'any number of'} orders`
    case 'deadlineDays':
      return `Within ${plural(loosening.to ?? 0, 'day')}`
    case 'maxPieces':
      return 'Any number of loose pieces'
    case 'excluded':
      return `Ordering from ${nameOf(loosening.shop)} allowed`
    case 'pinned':
      return `${nameOf(loosening.shop)} not insisted on`
  }
}

/** What is proven of a saving. */
function sureWords(base: Purchase['kept']['plan'], price: RulePrice, currency: string): string {
  const proven = savingOf(base, price)
  if (!proven) return 'by the plans found; nothing is proven of it'
  return proven.least === proven.most
    ? 'proven'
    : `by the plans found; proven between ${formatMoney(proven.least, currency)} and ${formatMoney(proven.most, currency)}, with points of compromise`
}
