import type { KeptPlan } from '../core/sourcing/kept-plan.ts'
import type { ProofTask } from '../core/sourcing/prove-apart.ts'
import type { SolveProgress } from '../core/sourcing/solve.ts'
import { oneLine } from '../core/sourcing/small-problem.test-data.ts'
import { joinPurchase } from './joined-purchase.ts'
import type { Bought } from './sourcing.worker.ts'

const problem = oneLine(10, [{ price: 7, pack: 4, packs: 5, fee: 30 }])
const habit: KeptPlan['habits']['lineByLine'] = { kind: 'fails', why: 'nobody buys by hand here' }
const cost = { goods: 0, shipping: 0, handling: 0, lineFees: 0, service: 0, sets: 0, penalties: 0, credit: 0 }

/** A plan of this total, with what its own worker knows of the bound. */
const found = (total: number, bound: number | null): Bought => ({
  problem,
  leftOut: [],
  withoutSolver: false,
  habits: { lineByLine: habit, biggestShop: habit },
  plan: {
    ...{ format: 'sourcing-plan', version: 2, problem: problem.id, status: 'feasible' },
    ...{ purchases: [], sets: [], assignments: [], total, cost, bound, seconds: 1, unreachable: [] },
    gap: bound === null ? null : (total - bound) / total,
  },
})
const task: ProofTask = {
  problem,
  cuts: { packs: [], parcels: [] },
  hopeless: { bound: -Infinity, closed: new Set(), open: new Set(), offers: new Set() },
  ...{ under: 200, vast: false, toll: 0 },
}

/** A purchase whose second worker says what it is made to say. */
function joined(goodEnough = 0) {
  const shown: SolveProgress[] = []
  const asked: ProofTask[] = []
  let say: (bound: number) => void = () => undefined
  let end: () => void = () => undefined
  let fail: (error: Error) => void = () => undefined
  const purchase = joinPurchase({
    goodEnough,
    seconds: () => 7,
    onProgress: (progress) => shown.push(progress),
    prove: (of, onBound) => {
      asked.push(of)
      say = onBound
      return new Promise<void>((resolve, reject) => {
        end = resolve
        fail = reject
      })
    },
  })
  return {
    ...purchase,
    shown,
    asked,
    say: (bound: number) => {
      say(bound)
    },
    end: () => {
      end()
    },
    fail: () => {
      fail(new Error('out of memory'))
    },
  }
}
/** What a promise has come to by now. */
const byNow = <T>(promise: Promise<T>): Promise<T | 'open'> =>
  Promise.race([promise, new Promise<'open'>((resolve) => setTimeout(resolve, 5, 'open'))])

test('what is shown is the best of both: the plan of one, the bound of the other', async () => {
  const run = joined()
  run.onNews({ progress: { best: null, bound: 90, seconds: 1, phase: 'search' } })
  expect(run.best()).toBeUndefined()
  expect(run.shown.at(-1)).toEqual({ best: null, bound: 90, seconds: 7, phase: 'search' })
  run.onNews({ found: found(130, 90) })
  run.onNews({ proof: task })
  run.say(100)
  expect(run.shown.at(-1)).toMatchObject({ best: 130, bound: 100 })
  // A lower bound than is known changes nothing, nor does a worse one that comes with a better plan.
  run.say(95)
  run.onNews({ found: found(120, 91) })
  expect(run.shown.at(-1)).toMatchObject({ best: 120, bound: 100 })
  expect(run.best()?.plan).toMatchObject({ total: 120, bound: 100, gap: 20 / 120, status: 'feasible' })
  // The proof of one problem is begun once.
  run.onNews({ proof: task })
  expect(run.asked).toEqual([task])
  expect(await byNow(run.enough)).toBe('open')
})

test('it ends when the search and the proof have ended, whichever is later', async () => {
  const run = joined()
  run.onNews({ found: found(120, 90) })
  run.onNews({ proof: task })
  const ended = run.searched(found(118, 92))
  expect(await byNow(ended)).toBe('open')
  expect(run.shown.at(-1)).toMatchObject({ best: 118, bound: 92, phase: 'prove' })
  run.say(110)
  run.end()
  expect((await ended).plan).toMatchObject({ total: 118, bound: 110, status: 'feasible' })
  const without = joined()
  expect((await without.searched(found(118, 92))).plan).toMatchObject({ total: 118, bound: 92 })
})

test('once it is good enough by what both know, it ends', async () => {
  const run = joined(0.1)
  run.onNews({ found: found(100, 80) })
  run.onNews({ proof: task })
  run.say(89)
  expect(await byNow(run.enough)).toBe('open')
  run.say(90)
  expect(await run.enough).toMatchObject({ plan: { total: 100, bound: 90, gap: 0.1 } })
  // A bound that reaches the total, or is beyond it, proves that nothing is cheaper.
  const proof = joined()
  proof.onNews({ proof: task })
  proof.say(104)
  proof.onNews({ found: found(100, 80) })
  expect(await proof.enough).toMatchObject({ plan: { total: 100, bound: 100, gap: 0, status: 'optimal' } })
})

test('where the second worker fails, what the first finds stays as it is', async () => {
  const run = joined()
  run.onNews({ found: found(120, 90) })
  run.onNews({ proof: task })
  const ended = run.searched(found(118, 92))
  run.fail()
  expect((await ended).plan).toMatchObject({ total: 118, bound: 92, status: 'feasible' })
})
