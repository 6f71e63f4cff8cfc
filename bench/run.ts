import { existsSync, readFileSync } from 'node:fs'
import type { AddressInfo } from 'node:net'
import { fileURLToPath } from 'node:url'
import { gzipSync } from 'node:zlib'
import { chromium } from '@playwright/test'
import loadHighs from 'highs'
import Papa from 'papaparse'
import { solveNetting } from '../core/netting/solve.ts'
import { verifyNetting } from '../core/netting/verify.ts'
import { highsSolver } from '../core/solver/highs-milp.ts'
import { biggestShopFirst, cheapestLineByLine, type NaiveResult } from '../core/sourcing/naive.ts'
import { parseSourcingProblem } from '../core/sourcing/problem.ts'
import { solveSourcing } from '../core/sourcing/solve.ts'
import { createApp } from '../server/app.ts'

/** Usage: npm run bench [-- netting app s m m2 l xl]; without names: all but l and xl. `app` needs `npm run build`. Prints ratios; seconds are of this machine. */
const LIMITS: Record<string, number> = { s: 20, m: 60, m2: 60, l: 60, xl: 120 }
const asked = process.argv.slice(2)
const names = asked.length > 0 ? asked : ['netting', 'app', 's', 'm', 'm2']
const now = () => performance.now() / 1000

for (const name of names) {
  if (name === 'netting') benchNetting()
  else if (name === 'app') await benchApp()
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
    qty: (i % 40) + 1,
    accepts: [
      { id: 'exact', uses: [{ item: holdings[(i * 3) % holdings.length]?.item ?? '', qty: 1 }], compromise: 0 },
    ],
  }))
  const problem = { lines, supplies: holdings }
  const csv = Papa.unparse(holdings.map(({ item, qty }) => [...item.split('|'), qty, 'Drawer A1', 'used']))
  const parse = median(9, () => Papa.parse(csv))
  const netting = median(9, () => solveNetting(problem))
  const verified = median(9, () => verifyNetting(problem, solveNetting(problem)))
  console.log(
    `netting 5,000 lines × 20,000 holdings: ${ratio(netting, parse)} of papaparse's time for the holdings as CSV ` +
      `(with the verifier ${ratio(verified, parse)}); ${ms(netting)} against ${ms(parse)}`,
  )
}

/** The built app: gzip size of the JavaScript the first screen loads, and the time until its headline stands. */
async function benchApp(): Promise<void> {
  const dist = fileURLToPath(new URL('../dist', import.meta.url))
  const server = createApp({ dist, seed: 1, latency: 0 }).listen(0, '127.0.0.1')
  await new Promise((ready) => server.once('listening', ready))
  const { port } = server.address() as AddressInfo
  const browser = await chromium.launch({
    executablePath: process.env['CHROMIUM'] ?? '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu'],
  })
  try {
    const times: number[] = []
    let scripts = 0
    for (let i = 0; i < 5; i++) {
      const page = await (await browser.newContext()).newPage()
      scripts = 0
      page.on('response', (response) => {
        if (/\.js$/.test(response.url()))
          void response.body().then((body) => {
            scripts += gzipSync(body).length
          })
      })
      const started = performance.now()
      await page.goto(`http://localhost:${port}/`)
      await page.locator('h1').waitFor()
      times.push(performance.now() - started)
      await page.waitForTimeout(300)
      await page.context().close()
    }
    times.sort((p, q) => p - q)
    console.log(
      `app: first screen ${ratio(times[2] ?? NaN, 1500)} of 1.5 s (median ${Math.round(times[2] ?? NaN)} ms of 5 cold loads), ` +
        `JavaScript loaded for it ${ratio(scripts, 250_000)} of 250 kB gzip (${Math.round(scripts / 1000)} kB)`,
    )
  } finally {
    await browser.close()
    server.close()
  }
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
