import type { Highs } from 'highs'
import {
  csrOf,
  type LoadedLp,
  type Milp,
  type MilpOptions,
  type MilpOutcome,
  type Row,
  type SolveMilp,
} from './milp.ts'

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
  return Object.assign((milp: Milp, options: MilpOptions) => solveWithHighs(highs, milp, options), {
    load: (milp: Milp) => loadIntoHighs(highs, milp),
  })
}

type Model = ReturnType<Highs['createModel']>

/** A program as the runtime takes it. */
const modelOf = (highs: Highs, milp: Milp, whole: boolean): Model =>
  highs.createModel({
    numCols: milp.cost.length,
    numRows: milp.rowLower.length,
    colCost: milp.cost,
    colLower: milp.lower,
    colUpper: milp.upper,
    rowLower: milp.rowLower,
    rowUpper: milp.rowUpper,
    matrix: matrixOf(milp, milp.rowLower.length, milp.cost.length),
    ...(whole ? { integrality: Int32Array.from(milp.integer) } : {}),
  })

const matrixOf = (
  { starts, indices, values }: Pick<Milp, 'starts' | 'indices' | 'values'>,
  numRows: number,
  numCols: number,
) => ({ format: 'csr' as const, numRows, numCols, starts, indices, values })

/** No bound on the objective: the runtime takes no infinite one. */
const NO_CUTOFF = 1e30

function loadIntoHighs(highs: Highs, milp: Milp): LoadedLp {
  const columns = milp.cost.length
  if (columns === 0) return loadNothing(milp)
  const model = modelOf(highs, milp, false)
  model.options.set({ output_flag: false })
  let ran = false
  return {
    solve({ timeLimit, cutoff = NO_CUTOFF }) {
      // The limit is one of all runs together.
      model.zeroAllClocks()
      model.options.set({ time_limit: Math.max(0.01, timeLimit), objective_bound: Math.min(NO_CUTOFF, cutoff) })
      ran = runs(() => {
        model.run()
      })
      if (!ran || model.getModelStatus() !== highs.constants.modelStatus.optimal) return undefined
      // From here on the basis says more than reducing the program would.
      model.options.set({ presolve: 'off' })
      const { colValue: x, colDual: reduced, rowDual: prices } = model.getSolution()
      const objective = model.getObjectiveValue()
      return objective < cutoff ? { x, reduced, prices, objective } : undefined
    },
    isInfeasible: () => ran && model.getModelStatus() === highs.constants.modelStatus.infeasible,
    hold(changes) {
      if (changes.length === 0) return
      const sorted = [...changes].sort(([p], [q]) => p - q)
      model.changeColsBounds(
        { kind: 'set', indices: Int32Array.from(sorted, ([column]) => column) },
        Float64Array.from(sorted, ([, lower]) => lower),
        Float64Array.from(sorted, ([, , upper]) => upper),
      )
    },
    add(rows: readonly Row[]) {
      if (rows.length === 0) return
      model.addRows({
        lower: Float64Array.from(rows, ({ least }) => least),
        upper: new Float64Array(rows.length).fill(Infinity),
        matrix: matrixOf(csrOf(rows), rows.length, columns),
      })
    },
    close() {
      model.dispose()
    },
  }
}

/** A program without columns, which the runtime does not take: its rows hold or do not. */
function loadNothing(milp: Milp): LoadedLp {
  let holds = withoutColumns(milp).status === 'optimal'
  const none = new Float64Array(0)
  let rows = milp.rowLower.length
  return {
    solve: () => (holds ? { x: none, reduced: none, prices: new Float64Array(rows), objective: 0 } : undefined),
    isInfeasible: () => !holds,
    hold: () => undefined,
    add(more) {
      rows += more.length
      holds &&= more.every(({ least }) => least <= 0)
    },
    close: () => undefined,
  }
}

function solveWithHighs(highs: Highs, milp: Milp, options: MilpOptions): MilpOutcome {
  const { modelStatus, callbackType } = highs.constants
  if (milp.cost.length === 0) return withoutColumns(milp)
  const isMip = milp.integer.includes(1)
  const model = modelOf(highs, milp, isMip)
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
