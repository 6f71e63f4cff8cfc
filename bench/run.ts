import { existsSync, readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import loadHighs from 'highs'
import Papa from 'papaparse'
import { net, verifyNetting } from '../core/netting/net.ts'
import { highsSolver } from '../core/sourcing/highs-milp.ts'
import { biggestShopFirst, cheapestLineByLine, type NaiveResult } from '../core/sourcing/naive.ts'
import { parseSourcingProblem } from '../core/sourcing/problem.ts'
import { solveSourcing } from '../core/sourcing/solve.ts'

/** Usage: npm run bench [-- s m m2 l xl netting]; without names: netting s m m2. Prints ratios; seconds are of this machine. */
const LIMITS: Record<string, number> = { s: 20, m: 60, m2: 60, l: 60, xl: 120 }
const asked = process.argv.slice(2)
const names = asked.length > 0 ? asked : ['netting', 's', 'm', 'm2']
const now = () => performance.now() / 1000

for (const name of names) {
  if (name === 'netting') benchNetting()
  else await benchSourcing(name)
}

/** 5,000 lines against 20,000 holdings, beside the time papaparse takes for the same holdings as CSV; medians of 9. */
function benchNetting(): void {
  const holdings = Array.from({ length: 20_000 }, (_, i) => ({
    id: `h-${i}`,
    item: `p-plate-${(i * 7) % 4000}|c-${(i * 13) % 30}`,
    qty: (i % 30) + 1,
    rank: i % 3,
  }))
  const lines = Array.from({ length: 5000 }, (_, i) => ({
    id: `n-${i}`,
    item: holdings[(i * 3) % holdings.length]?.item ?? '',
    qty: (i % 40) + 1,
  }))
  const csv = Papa.unparse(holdings.map(({ item, qty }) => [...item.split('|'), qty, 'Drawer A1', 'used']))
  const parse = median(9, () => Papa.parse(csv))
  const netting = median(9, () => net(lines, holdings))
  const verified = median(9, () => verifyNetting(lines, holdings, net(lines, holdings)))
  console.log(
    `netting 5,000 lines × 20,000 holdings: ${ratio(netting, parse)} of papaparse's time for the holdings as CSV ` +
      `(with the verifier ${ratio(verified, parse)}); ${ms(netting)} against ${ms(parse)}`,
  )
}

async function benchSourcing(name: string): Promise<void> {
  const own = fileURLToPath(new URL(`./problems/bench-${name}.json`, import.meta.url))
  const beside = fileURLToPath(new URL(`../../shared/sourcing/bench-${name}.json`, import.meta.url))
  const file = [own, beside].find((f) => existsSync(f))
  if (file === undefined) {
    console.log(`sourcing ${name}: no such problem here`)
    return
  }
  const problem = parseSourcingProblem(JSON.parse(readFileSync(file, 'utf8')))
  if (!problem.ok) throw new Error(problem.error)
  const milp = highsSolver(await loadHighs())
  let first: number | undefined
  const plan = solveSourcing(problem.value, {
    timeLimit: LIMITS[name] ?? 60,
    now,
    milp,
    onProgress: (p) => {
      if (p.plan) first ??= p.seconds
    },
  })
  const times = (habit: NaiveResult) =>
    habit.kind === 'plan' && plan.total !== null ? `${(habit.total / plan.total).toFixed(2)}×` : 'fails'
  console.log(
    `sourcing ${name}: ${plan.status}, total ${plan.total ?? 'none'}, gap ${plan.gap === null ? 'unknown' : `${(plan.gap * 100).toFixed(3)} %`}, ` +
      `line by line ${times(cheapestLineByLine(problem.value))}, big shop first ${times(biggestShopFirst(problem.value))}; ` +
      `first plan ${first?.toFixed(2) ?? 'never'} s, all ${plan.seconds.toFixed(1)} s`,
  )
}

function median(runs: number, work: () => unknown): number {
  const times = Array.from({ length: runs }, () => {
    const started = performance.now()
    work()
    return performance.now() - started
  }).sort((p, q) => p - q)
  return times[Math.floor(runs / 2)] ?? NaN
}

function ratio(a: number, b: number): string {
  return `${(a / b).toFixed(2)}×`
}

function ms(t: number): string {
  return `${t.toFixed(1)} ms`
}
