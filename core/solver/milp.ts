/** A mixed-integer linear program in sparse row form, minimised. */
export type Milp = {
  readonly cost: Float64Array
  readonly lower: Float64Array
  readonly upper: Float64Array
  readonly integer: Uint8Array
  readonly rowLower: Float64Array
  readonly rowUpper: Float64Array
  readonly starts: Int32Array
  readonly indices: Int32Array
  readonly values: Float64Array
}

export type MilpOutcome =
  | { readonly status: 'infeasible' }
  /** A solution (optimal or not) and a proven bound; `bound` is −Infinity when nothing is proven. */
  | {
      readonly status: 'optimal' | 'feasible'
      readonly x: Float64Array
      readonly objective: number
      readonly bound: number
    }
  | { readonly status: 'none'; readonly bound: number }

/** Whether there is a solution, proven to be the best or not. */
export const isSolved = (outcome: MilpOutcome): outcome is Extract<MilpOutcome, { readonly x: Float64Array }> =>
  outcome.status === 'optimal' || outcome.status === 'feasible'

/** A program with more rows. */
export function withRows(milp: Milp, rows: readonly Row[]): Milp {
  if (rows.length === 0) return milp
  const more = csrOf(rows)
  const from = milp.starts.at(-1) ?? 0
  return {
    ...milp,
    rowLower: Float64Array.from([...milp.rowLower, ...rows.map((row) => row.least)]),
    rowUpper: Float64Array.from([...milp.rowUpper, ...rows.map(() => Infinity)]),
    starts: Int32Array.from([...milp.starts, ...more.starts.subarray(1).map((start) => from + start)]),
    indices: Int32Array.from([...milp.indices, ...more.indices]),
    values: Float64Array.from([...milp.values, ...more.values]),
  }
}

/** Rows in sparse form. */
export function csrOf(rows: readonly Row[]): Pick<Milp, 'starts' | 'indices' | 'values'> {
  const starts = new Int32Array(rows.length + 1)
  for (const [r, { terms }] of rows.entries()) starts[r + 1] = (starts[r] ?? 0) + terms.length
  return {
    starts,
    indices: Int32Array.from(rows.flatMap(({ terms }) => terms.map(([column]) => column))),
    values: Float64Array.from(rows.flatMap(({ terms }) => terms.map(([, value]) => value))),
  }
}

export type MilpOptions = {
  /** Seconds. */
  readonly timeLimit: number
  /** Stop when objective − bound is at most this. */
  readonly absGap?: number
  readonly relGap?: number
  /** Only solutions below this objective are of interest; when there is none the outcome is `infeasible`. */
  readonly cutoff?: number
  /** All the work goes into the bound: a good solution is known; `cutoff` may say how good. */
  readonly proving?: boolean
  readonly onBound?: (bound: number, objective: number) => void
  readonly onSolution?: (x: Float64Array, objective: number) => void
  readonly shouldStop?: () => boolean
}

/** Σ value · column ≥ least. */
export type Row = { readonly least: number; readonly terms: readonly (readonly [column: number, value: number])[] }

/** New bounds of a column. */
export type ColumnBounds = readonly [column: number, lower: number, upper: number]

export type LpOptions = {
  /** Seconds. */
  readonly timeLimit: number
  /** Only solutions below this objective are of interest. */
  readonly cutoff?: number
}

export type LpSolution = {
  readonly x: Float64Array
  /** Reduced costs of columns: moving a bound by one changes the least objective by so much or more. */
  readonly reduced: Float64Array
  /** Dual values of rows, those added last: what the least objective grows by where a row's limit does by one. */
  readonly prices: Float64Array
  readonly objective: number
}

/** A linear program that stays loaded: it is changed a little and solved again from where it stood. Its owner closes it. */
export type LoadedLp = {
  /** The least objective; undefined where there is no solution, none below the cutoff, or no time to find it. */
  readonly solve: (options: LpOptions) => LpSolution | undefined
  /** Whether the last answer was that there is no solution at all. */
  readonly isInfeasible: () => boolean
  /** Changes bounds of columns, each at most once. */
  readonly hold: (columns: readonly ColumnBounds[]) => void
  readonly add: (rows: readonly Row[]) => void
  readonly close: () => void
}

/** The port through which the sourcing model reaches a solver. */
export type SolveMilp = {
  (milp: Milp, options: MilpOptions): MilpOutcome
  /** Loads a program; what is said of whole numbers is left out. A solver may not have that. */
  readonly load?: (milp: Milp) => LoadedLp
}

/** The solver where there is none: it finds nothing and proves nothing. */
export const NO_SOLVER: SolveMilp = () => ({ status: 'none', bound: -Infinity })

/** Collects columns and rows; `build` freezes them. */
export class MilpBuilder {
  readonly #cost: number[] = []
  readonly #lower: number[] = []
  readonly #upper: number[] = []
  readonly #integer: number[] = []
  readonly #rowLower: number[] = []
  readonly #rowUpper: number[] = []
  readonly #starts: number[] = [0]
  readonly #indices: number[] = []
  readonly #values: number[] = []

  /** Adds a column and returns its index. */
  column(cost: number, lower: number, upper: number, integer: boolean): number {
    this.#cost.push(cost)
    this.#lower.push(lower)
    this.#upper.push(upper)
    this.#integer.push(integer ? 1 : 0)
    return this.#cost.length - 1
  }

  /** Adds a row lower ≤ Σ value·column ≤ upper; zero values are skipped. */
  row(lower: number, upper: number, entries: Iterable<readonly [number, number]>): void {
    for (const [column, value] of entries)
      if (value !== 0) {
        this.#indices.push(column)
        this.#values.push(value)
      }
    this.#starts.push(this.#indices.length)
    this.#rowLower.push(lower)
    this.#rowUpper.push(upper)
  }

  build(): Milp {
    return {
      cost: Float64Array.from(this.#cost),
      lower: Float64Array.from(this.#lower),
      upper: Float64Array.from(this.#upper),
      integer: Uint8Array.from(this.#integer),
      rowLower: Float64Array.from(this.#rowLower),
      rowUpper: Float64Array.from(this.#rowUpper),
      starts: Int32Array.from(this.#starts),
      indices: Int32Array.from(this.#indices),
      values: Float64Array.from(this.#values),
    }
  }
}
