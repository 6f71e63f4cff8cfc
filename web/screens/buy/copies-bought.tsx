import type { Build } from '../../../core/build/build.ts'
import { lastChance } from '../../../core/donors/made-until.ts'
import type { Copy, DonorSet } from '../../../core/donors/donor-set.ts'
import type { KeptPlan } from '../../../core/sourcing/kept-plan.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { plural } from '../../../core/units/numbers.ts'
import { nowIso } from '../../store/database.ts'

/** The copies that a plan buys: what for, what of them is sold whole, and how long they are to be had. */
export function CopiesBought({
  kept: { plan, problem },
  build: { rules, currency },
  copies,
  sets,
}: {
  kept: KeptPlan
  build: Build
  copies: readonly Copy[]
  sets: readonly DonorSet[]
}) {
  return plan.sets.map(({ set: id, copies: n }) => {
    const copy = copies.find((c) => c.id === id)
    const asked = problem.sets.find((s) => s.id === id)
    const sold = (plan.figures ?? []).filter((f) => f.set === id && f.qty > 0)
    const worth = (figure: string) => asked?.figures?.find((f) => f.id === figure)?.credit ?? 0
    const donor = sets.find((s) => s.id === copy?.setId)
    const chance = donor && lastChance(donor, nowIso())
    const why =
      rules.buyCopies[id] === undefined
        ? 'with what leftovers may bring it costs less than its pieces'
        : 'as a rule asks'
    return (
      <p key={id} className="border-l-4 border-accent bg-mark px-3 py-2 text-sm">
        Buy <b>{n === 1 ? 'the copy' : plural(n, 'copy', 'copies')}</b> “{copy?.label ?? id}” for{' '}
        {formatMoney(asked?.price ?? 0, currency)}
        {n > 1 ? ' each' : ''}: {why}.
        {sold.length > 0 &&
          ` Sold whole: ${sold.map((f) => `${f.qty} × ${f.figure}, ${formatMoney(worth(f.figure), currency)}${f.qty > 1 ? ' each' : ''} by your price`).join('; ')}.`}
        {chance && <span className="block text-xs text-soft">{lastChanceWords(chance)}.</span>}
      </p>
    )
  })
}

/** Until when a set is made, counted from today. */
export const lastChanceWords = ({ until, days }: NonNullable<ReturnType<typeof lastChance>>): string =>
  days === undefined
    ? `No longer made since ${until}: copies are had second hand alone`
    : `Made until ${until}, ${days === 0 ? 'today' : plural(days, 'day')}${days === 0 ? '' : ' from today'}: after that copies are had second hand alone`
