import { newPlanner, type Planner } from '../core/netting/planner.ts'
import { existsSync, readFileSync } from 'node:fs'
import { setFlagsFromString } from 'node:v8'
import { runInNewContext } from 'node:vm'
import { fileURLToPath } from 'node:url'
import loadHighs from 'highs'
import Papa from 'papaparse'
import { writeCsv } from '../core/formats/delimited.ts'
import { jobLists } from '../core/formats/job-lists.ts'
import { explode } from '../core/design/explode.ts'
import { proveGroup } from '../core/netting/kernel/milp-proof.ts'
import { solveNetting } from '../core/netting/solve.ts'
import { verifyNetting } from '../core/netting/verify.ts'
import type { Rules } from '../core/build/house-rules.ts'
import { optionFinder } from '../core/netting/options.ts'
import type { Snapshot } from '../core/netting/snapshot.ts'
import { demandOf } from '../core/netting/demand.ts'
import { supplyIndex } from '../core/netting/supply-index.ts'
import { tallied, tally } from '../core/netting/count.ts'
import type { DecisionId } from '../core/units/ids.ts'
import { bigScene } from './tally.ts'
import { inBuiltApp, measureTally } from './built-app.ts'
import { highsSolver } from '../core/solver/highs-milp.ts'
import { biggestShopFirst, cheapestLineByLine, type Baseline } from '../core/sourcing/baselines.ts'
import { parseSourcingProblem } from '../core/sourcing/problem.ts'
import { solveInTwo } from '../bin/solve-in-two.ts'
import { drawnLike } from './like.ts'

/**
 * Usage: npm run bench [-- netting tally splits tally-milp app worker s m m2 l xl l-1 xl-7 …]; without names: all but tally-milp, l and
 * xl. `app` and `worker` need `npm run build`; l-1 is a problem drawn like l from the seed 1. Prints ratios; seconds are of this machine.
 */
const DIST = fileURLToPath(new URL('../dist', import.meta.url))
const LIMITS: Record<string, number> = { s: 20, m: 60, m2: 60, l: 60, xl: 120 }
const asked = process.argv.slice(2)
const names = asked.length > 0 ? asked : ['netting', 'tally', 'splits', 'app', 'worker', 's', 'm', 'm2']
const now = () => performance.now() / 1000

for (const name of names) {
  if (name === 'netting') benchNetting()
  else if (name === 'tally') await benchTally()
  else if (name === 'splits') await benchSplits()
  else if (name === 'tally-milp') await benchTallyMilp()
  else if (name === 'app') await benchApp()
  else if (name === 'worker') await benchWorker()
  else await benchSourcing(name)
}

/** 5,000 lines against 20,000 holdings, beside the time papaparse takes for the same holdings as CSV. */
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
  const [parse = NaN, netting = NaN, verified = NaN] = alternating(
    25,
    () => Papa.parse(csv),
    () => solveNetting(problem),
    () => verifyNetting(problem, solveNetting(problem)),
  )
  console.log(
    `netting 5,000 lines × 20,000 holdings: ${ratio(netting, parse)} of papaparse's time for the holdings as CSV ` +
      `(with the verifier ${ratio(verified, parse)}); ${ms(netting)} against ${ms(parse)}`,
  )
}

/** A scene's holdings as the shelf list that the product reads and writes: seven columns. */
function shelfCsv({ holdings, places, parts, colourById }: Snapshot): string {
  const none = { sets: [], designs: [], builds: [], shops: [], offers: [] }
  const listed = { ...none, parts: [...parts.values()], colours: [...(colourById?.values() ?? [])] }
  const lists = jobLists({ ...listed, places: [...places], holdings: [...holdings] }, 'shelf')
  return writeCsv(lists.flatMap(({ table }) => table.rows))
}

/**
 * The complete tally of 5,000 lines × 20,000 holdings × 10 copies with colour and mould stand-ins, nothing kept of
 * holdings and design (sets and copies are the records of before, and what they hold is kept with them); then one pin or
 * one rule toggled; and the heap.
 */
async function benchTally(): Promise<void> {
  const scene = bigScene()
  const planner = newPlanner()
  const csv = shelfCsv(scene)
  const [parse = NaN, complete = NaN] = alternating(
    25,
    () => Papa.parse(csv),
    () => tally({ ...scene, holdings: [...scene.holdings], design: { ...scene.design } }, planner),
  )
  let turn = 0
  const pin = (): void => {
    const line = scene.design.modules[turn % 200]?.lines[turn % 25]
    const holding = scene.holdings[(turn++ * 37) % scene.holdings.length]
    if (!line || !holding) return
    const source = { kind: 'shelf' as const, holding: holding.id, item: holding.item }
    const what = { kind: 'pin' as const, line: line.id, source, qty: 1 }
    tally({ ...scene, decisions: [{ id: 'd-1' as DecisionId, build: scene.build.id, what }] }, planner)
  }
  // Never the same rules twice: nothing is kept for them.
  const changes: ((n: number) => Partial<Rules>)[] = [
    (n) => ({ moulds: 'never', pointPrice: n }),
    (n) => ({ colours: 'exact', pointPrice: n }),
    (n) => ({ nearLimit: 20, pointPrice: n }),
    (n) => ({ estimatePercent: n % 100 }),
    (n) => ({ condition: 'new', estimatePercent: n % 100 }),
  ]
  const withRules = (change: Partial<Rules>): void => {
    tally({ ...scene, build: { ...scene.build, rules: { ...scene.build.rules, ...change } } }, planner)
  }
  const rule = (): void => {
    withRules(changes[turn % changes.length]?.(100 + turn) ?? {})
    turn++
  }
  let tried = false
  const takenBack = (): void => {
    tried = !tried
    withRules(tried ? { moulds: 'never' } : {})
  }
  const [pins, rules, back] = [await spread(300, pin), await spread(300, rule), await spread(100, takenBack)]
  // What is still needed at the end: the scene, and all that is kept for the next tally.
  setFlagsFromString('--expose-gc')
  ;(runInNewContext('gc') as () => void)()
  const heap = process.memoryUsage().heapUsed / 1e6
  console.log(
    `tally 5,000 lines × 20,000 holdings × 10 copies: complete ${ratio(complete, parse)} of papaparse's time for the holdings ` +
      `(${ms(complete)} against ${ms(parse)}); one pin ${pins}, one rule never tried before ${rules}, tried and taken back ${back}; ${heap.toFixed(0)} MB kept`,
  )
}

/** The same scene with splits everywhere: the first count, which where this runs alone is the first of the process, and the next. */
async function benchSplits(): Promise<void> {
  const scene = bigScene({ splits: 'anywhere' })
  const milp = highsSolver(await loadHighs())
  const counted = (planner: Planner) => {
    const started = performance.now()
    const { proven, slack } = tallied({ ...scene, holdings: [...scene.holdings], design: { ...scene.design } }, planner)
    return `${ms(performance.now() - started)} (${proven ? 'proven' : `${slack?.short} fewer short and ${slack?.compromise} points less at most`})`
  }
  console.log(`splits everywhere, nothing kept: ${counted(newPlanner())}, again ${counted(newPlanner())}`)
  console.log(`with the solver, nothing kept: ${counted(newPlanner(milp))}, again ${counted(newPlanner(milp))}`)
}

/** The same problem as one three-stage program in HiGHS; minutes. */
async function benchTallyMilp(): Promise<void> {
  const scene = bigScene()
  const planner = newPlanner()
  const complete = median(5, () =>
    tally({ ...scene, holdings: [...scene.holdings], design: { ...scene.design } }, planner),
  )
  const stock = supplyIndex(scene, planner.memory)
  const finder = optionFinder(scene, stock, [], false, () => undefined)
  const needs = explode(scene.design, { parts: scene.parts }).map((r) => ({
    qty: r.qty,
    options: finder.optionsOf(demandOf(r)),
  }))
  const milp = highsSolver(await loadHighs())
  const started = performance.now()
  const proven = proveGroup(needs, { from: stock.lotsFrom, rank: stock.rankOf, qty: stock.piecesOf }, milp, {
    seconds: 600,
  })
  const seconds = (performance.now() - started) / 1000
  console.log(
    `tally as one program in HiGHS: ${proven.proven ? 'proven' : 'not proven'} in ${seconds.toFixed(1)} s, ` +
      `${ratio(seconds * 1000, complete)} of the complete tally's ${ms(complete)}`,
  )
}

/** The built app: the JavaScript that the first screen loads, as it is served, and the time until its headline stands. */
async function benchApp(): Promise<void> {
  await inBuiltApp(DIST, async (browser, origin) => {
    const times: number[] = []
    let scripts = 0
    for (let i = 0; i < 5; i++) {
      const page = await (await browser.newContext()).newPage()
      scripts = 0
      page.on('response', (response) => {
        if (/\.js$/.test(response.url()))
          void response
            .request()
            .sizes()
            .then(({ responseBodySize }) => {
              scripts += responseBodySize
            })
      })
      const started = performance.now()
      await page.goto(`${origin}/`)
      await page.locator('h1').waitFor()
      times.push(performance.now() - started)
      await page.waitForTimeout(300)
      await page.context().close()
    }
    times.sort((p, q) => p - q)
    console.log(
      `app: first screen ${ratio(times[2] ?? NaN, 1500)} of 1.5 s (median ${Math.round(times[2] ?? NaN)} ms of 5 cold loads), ` +
        `JavaScript loaded for it ${ratio(scripts, 250_000)} of 250 kB as served (${Math.round(scripts / 1000)} kB)`,
    )
  })
}

/** The tally's scene in the built app: rules toggled, splits allowed everywhere, and the memory of the worker that tallies. */
async function benchWorker(): Promise<void> {
  const { rules, longest, splits, held, needed } = await inBuiltApp(DIST, measureTally)
  const list = (times: readonly number[]) => times.map((t) => Math.round(t)).join(', ')
  console.log(
    `tally in the built app: rules toggled until the headline shows it ${list(rules)} ms, longest task of the page meanwhile ` +
      `${list(longest)} ms; the worker holds ${(held / 1e6).toFixed(1)} MB, ${(needed / 1e6).toFixed(1)} MB after a collection, ` +
      `${ratio(held, 300e6)} of 300 MB`,
  )
  for (const { first, proven, says } of splits)
    console.log(
      `splits everywhere in the built app: counted ${ratio(first, 1000)} of 1 s (${Math.round(first)} ms), with all the solver ` +
        `can do after ${Math.round(proven)} ms: ${says}`,
    )
}

/** One of the benchmark's problems, or one that is drawn like it. */
async function benchSourcing(name: string): Promise<void> {
  const [of = '', seed] = name.split('-')
  const own = fileURLToPath(new URL(`./problems/bench-${of}.json`, import.meta.url))
  const beside = fileURLToPath(new URL(`../../shared/sourcing/bench-${of}.json`, import.meta.url))
  const file = [own, beside].find((f) => existsSync(f))
  if (file === undefined) {
    console.log(`sourcing ${name}: no such problem here`)
    return
  }
  const read = parseSourcingProblem(JSON.parse(readFileSync(file, 'utf8')))
  if (!read.ok) throw new Error(read.error.message)
  const problem = seed === undefined ? read.value : drawnLike(read.value, Number(seed))
  const milp = highsSolver(await loadHighs())
  let first: number | undefined
  const plan = await solveInTwo(problem, new URL('./.prover.mjs', import.meta.url), {
    timeLimit: LIMITS[of] ?? 60,
    now,
    milp,
    onProgress: (p) => {
      if (p.plan) first ??= p.seconds
    },
  })
  const times = (habit: Baseline) =>
    habit.kind === 'plan' && plan.total !== null ? `${(habit.total / plan.total).toFixed(2)}×` : 'fails'
  console.log(
    `sourcing ${name}: ${plan.status}, total ${plan.total ?? 'none'}, gap ${plan.gap === null ? 'unknown' : `${(plan.gap * 100).toFixed(3)} %`}, ` +
      `line by line ${times(cheapestLineByLine(problem))}, big shop first ${times(biggestShopFirst(problem))}; ` +
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

/** Median times of works done in turn, so that a machine that slows down does so for all; the first fifth does not count. */
function alternating(rounds: number, ...works: readonly (() => unknown)[]): number[] {
  const times = works.map((): number[] => [])
  for (let round = 0; round < rounds * 1.2; round++)
    for (const [w, work] of works.entries()) {
      const started = performance.now()
      work()
      if (round >= rounds * 0.2) times[w]?.push(performance.now() - started)
    }
  return times.map((own) => own.sort((p, q) => p - q)[Math.floor(own.length / 2)] ?? NaN)
}

/** Median and 95th percentile of a work done over and over; the first sixth does not count. */
/** Each run by itself, as a worker answers one message after the other. */
async function spread(runs: number, work: () => void): Promise<string> {
  const times: number[] = []
  for (let run = 0; run < runs * 1.2; run++) {
    await new Promise((resolve) => setTimeout(resolve))
    const started = performance.now()
    work()
    if (run >= runs * 0.2) times.push(performance.now() - started)
  }
  times.sort((p, q) => p - q)
  const at = (share: number) => ms(times[Math.ceil(times.length * share) - 1] ?? NaN)
  return `median ${at(0.5)}, p95 ${at(0.95)}`
}

function ratio(a: number, b: number): string {
  return `${(a / b).toFixed(2)}×`
}

function ms(t: number): string {
  return `${t.toFixed(1)} ms`
}
