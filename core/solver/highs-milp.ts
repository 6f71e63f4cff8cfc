import type { Highs } from 'highs'
import type { Milp, MilpOptions, MilpOutcome, SolveMilp } from './milp.ts'

/** No search for solutions beside the proof. */
const NO_HEURISTICS = {
  mip_heuristic_effort: 0,
  mip_heuristic_run_rins: false,
  mip_heuristic_run_rens: false,
  mip_heuristic_run_root_reduced_cost: false,
  mip_heuristic_run_zi_round: false,
  mip_heuristic_run_feasibility_jump: false,
}

/** Binds a loaded HiGHS runtime to the solver port. Loading the runtime is the caller's business (worker or Node). */
export function highsSolver(highs: Highs): SolveMilp {
  return (milp, options) => solveWithHighs(highs, milp, options)
}

function solveWithHighs(highs: Highs, milp: Milp, options: MilpOptions): MilpOutcome {
  const { modelStatus, callbackType } = highs.constants
  if (milp.cost.length === 0) return withoutColumns(milp)
  const isMip = milp.integer.includes(1)
  const model = highs.createModel({
    numCols: milp.cost.length,
    numRows: milp.rowLower.length,
    colCost: milp.cost,
    colLower: milp.lower,
    colUpper: milp.upper,
    rowLower: milp.rowLower,
    rowUpper: milp.rowUpper,
    matrix: {
      format: 'csr',
      numRows: milp.rowLower.length,
      numCols: milp.cost.length,
      starts: milp.starts,
      indices: milp.indices,
      values: milp.values,
    },
    ...(isMip ? { integrality: Int32Array.from(milp.integer) } : {}),
  })
  try {
    model.options.set({
      output_flag: true,
      log_to_console: false,
      time_limit: Math.max(0.05, options.timeLimit),
      // Restarts at the root cost more than they bring (docs/decisions/0002-solver.md).
      ...(isMip
        ? { mip_abs_gap: options.absGap ?? 1e-6, mip_rel_gap: options.relGap ?? 0, mip_allow_restart: false }
        : {}),
      ...(isMip && options.proving === true ? NO_HEURISTICS : {}),
      ...(isMip && options.cutoff !== undefined ? { objective_bound: options.cutoff } : {}),
    })
    let bound = -Infinity
    let best: Float64Array | undefined
    const note = (dual: unknown, primal: unknown) => {
      if (typeof dual === 'number' && Number.isFinite(dual) && Math.abs(dual) < 1e15 && dual > bound) bound = dual
      if (typeof dual === 'number') options.onBound?.(bound, typeof primal === 'number' ? primal : Infinity)
    }
    const ran = runs(() => {
      model.run({
        [callbackType.mipLogging]: (event) => {
          note(event.data.mip_dual_bound, event.data.mip_primal_bound)
          return undefined
        },
        [callbackType.mipImprovingSolution]: (event) => {
          note(event.data.mip_dual_bound, event.data.mip_primal_bound)
          if (event.data.mip_solution) {
            best = event.data.mip_solution
            options.onSolution?.(best, event.data.objective_function_value ?? Infinity)
          }
          return undefined
        },
        [callbackType.mipInterrupt]: (event) => {
          if (options.shouldStop?.()) event.interrupt()
          return undefined
        },
      })
    })
    // What it found before it failed still holds: callers verify solutions, and bounds are of the program.
    if (!ran) return outcome(milp, best, bound)
    const status = model.getModelStatus()
    if (status === modelStatus.infeasible || status === modelStatus.objectiveBound) return { status: 'infeasible' }
    // Presolve does not tell which: only a column without end can make a program unbounded.
    if (status === modelStatus.unboundedOrInfeasible && isBounded(milp)) return { status: 'infeasible' }
    if (status === modelStatus.optimal) {
      const objective = model.getObjectiveValue()
      const dual = isMip ? model.info.get('mip_dual_bound') : objective
      const x = model.getSolution().colValue
      return {
        status: 'optimal',
        x,
        objective,
        bound: typeof dual === 'number' ? Math.min(dual, objective) : objective,
      }
    }
    if (isMip) note(model.info.get('mip_dual_bound'), undefined)
    return outcome(milp, best, bound)
  } finally {
    model.dispose()
  }
}

/** Runs the solver; false where it gave up on its own numbers, which happens with a few programs among thousands. */
function runs(run: () => void): boolean {
  try {
    run()
    return true
  } catch (error) {
    if (error instanceof Error && error.name === 'HighsError') return false
    throw error
  }
}

/** What was found without a proof that there is no better. */
function outcome({ cost }: Milp, best: Float64Array | undefined, bound: number): MilpOutcome {
  if (!best) return { status: 'none', bound }
  return {
    status: 'feasible',
    x: best,
    objective: best.reduce((sum, value, i) => sum + value * (cost[i] ?? 0), 0),
    bound,
  }
}

const isBounded = ({ lower, upper }: Milp): boolean => lower.every(Number.isFinite) && upper.every(Number.isFinite)

/** A program with nothing to decide (HiGHS looks at no row of it): every row is 0. */
const withoutColumns = ({ rowLower, rowUpper }: Milp): MilpOutcome =>
  rowLower.every((low) => low <= 0) && rowUpper.every((high) => high >= 0)
    ? { status: 'optimal', x: new Float64Array(0), objective: 0, bound: 0 }
    : { status: 'infeasible' }
