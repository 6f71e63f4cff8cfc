import { CONDITIONS } from '../units/condition.ts'
import type { Rules } from './build.ts'
import type { Snapshot } from './snapshot.ts'
import { tally, type Tally } from './tally.ts'

/** A house rule relaxed: what would change, and the pieces short then. */
export type Relaxation = { readonly label: string; readonly change: Partial<Rules>; readonly short: number }

/**
 * The price of every house rule in pieces: each rule relaxed by itself, the design tallied again, those that leave
 * fewer pieces short, the most telling first. One tally per rule that can be relaxed.
 */
export function relaxations(snapshot: Snapshot, result: Tally): Relaxation[] {
  if (result.coverage.short === 0) return []
  const { rules } = snapshot.build
  const steps: { label: string; change: Partial<Rules> }[] = []
  if (rules.sources === 'donors')
    steps.push({ label: 'Count the shelf as well', change: { sources: 'donors and shelf' } })
  if (rules.colours === 'exact')
    steps.push({ label: 'Free the colour of hidden pieces', change: { colours: 'free where hidden' } })
  const next = CONDITIONS[CONDITIONS.indexOf(rules.condition) + 1]
  if (next) {
    steps.push({ label: `Allow ${next} pieces everywhere`, change: { condition: next } })
    if (!rules.wornHidden) steps.push({ label: 'Allow worn pieces where hidden', change: { wornHidden: true } })
  }
  if (rules.moulds === 'never')
    steps.push({ label: 'Take other moulds where hidden', change: { moulds: 'where hidden' } })
  if (rules.moulds !== 'anywhere') steps.push({ label: 'Take other moulds anywhere', change: { moulds: 'anywhere' } })
  if (rules.stickers === 'applied' || rules.stickers === 'custom prints') {
    steps.push({ label: 'Leave stickers off', change: { stickers: 'left off' } })
    steps.push({ label: 'Reuse peeled stickers', change: { stickers: 'reused' } })
  }
  if (rules.altering === 'never')
    steps.push({ label: 'Cut hose and string to length', change: { altering: 'lengths' } })
  if (rules.altering !== 'allowed') steps.push({ label: 'Cut bars and rods as well', change: { altering: 'allowed' } })
  if (!rules.thirdParty) steps.push({ label: 'Allow custom prints', change: { thirdParty: true } })
  if (rules.estimatePercent < 100) steps.push({ label: 'Count estimates in full', change: { estimatePercent: 100 } })
  return steps
    .map(({ label, change }) => {
      const build = { ...snapshot.build, rules: { ...rules, ...change } }
      return { label, change, short: tally({ ...snapshot, build }).coverage.short }
    })
    .filter((r) => r.short < result.coverage.short)
    .sort((p, q) => p.short - q.short)
}
