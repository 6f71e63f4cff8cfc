import type { SolveMilp } from '../solver/milp.ts'
import { findCuts, withCuts, type Cuts } from './cuts.ts'
import { withoutHopeless, type Hopeless } from './hopeless.ts'
import { buildModel, type ModelOptions } from './model.ts'
import { PackCuts } from './pack-cuts.ts'
import { wholeBound } from './plan.ts'
import { presolve, readingTime } from './presolve.ts'
import type { SourcingProblem } from './problem.ts'

/*
 * Of a large problem one solver can look for plans while another bounds them: what they need of each other is little, so it
 * is handed over once, from one thread to another.
 */

/** What a second solver needs to bound a problem; all of it can be copied. */
export type ProofTask = {
  readonly problem: SourcingProblem
  readonly cuts: Cuts
  /** What no plan does that costs less than `under`. */
  readonly hopeless: Hopeless
  /** About what the best plan may cost, minor units: none need be known. */
  readonly under: number
  /** Whether the tightened relaxation bounds it better than the solver does with its cuts. */
  readonly vast: boolean
  /** What every plan of the problem costs beyond what is asked for, minor units. */
  readonly toll: number
}

export type ProofOptions = {
  /** Seconds in all. */
  readonly timeLimit: number
  /** Seconds on any monotonic clock. */
  readonly now: () => number
  readonly milp: SolveMilp
  /** Told of each better bound. */
  readonly onBound?: (bound: number) => void
}

/**
 * What every plan costs at least, minor units; null where nothing is proven. What is left out as hopeless is so for plans that cost less than
 * `under` alone, so it says `under` at most.
 */
export function proveApart(task: ProofTask, { timeLimit, now, milp, onBound }: ProofOptions): number | null {
  const started = now()
  const net = presolve(task.problem)
  // A solver takes longer than it may to read a program of this size.
  const left = () => timeLimit - readingTime(net) - (now() - started)
  if (left() <= 0) return null
  let best: number | null = null
  const raise = (value: number) => {
    const bound = wholeBound(Math.min(value, task.under))
    if (bound === undefined || bound - task.toll <= (best ?? -Infinity)) return
    best = bound - task.toll
    onBound?.(best)
  }
  const options: ModelOptions = { whole: new Set() }
  const model = buildModel(net, options)
  const { load } = milp
  if (task.vast && load) {
    const lp = load(model.milp)
    const finder = new PackCuts(net, load)
    try {
      findCuts(net, model, lp, { milp, finder, known: task.cuts, left, over: () => left() <= 0, onBound: raise })
    } finally {
      lp.close()
    }
  }
  // Where tightening took most of the time, the solver's own root would not come as far in what is left.
  if (left() <= (task.vast ? timeLimit / 2 : 0)) return best
  // Beyond the sizes at which the solver bounds best, cuts as rows make its root too slow.
  const program = task.vast ? model : withCuts(net, model, options, task.cuts)
  const outcome = milp(withoutHopeless(program, task.hopeless).milp, {
    ...{ proving: true, absGap: 0.5, timeLimit: left(), onBound: raise },
  })
  raise(outcome.status === 'infeasible' ? Infinity : outcome.bound)
  return best
}
