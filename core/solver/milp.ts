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

/** The program without whole numbers: it costs as much or less. */
export const relaxationOf = (milp: Milp): Milp => ({ ...milp, integer: new Uint8Array(milp.integer.length) })

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

/** The port through which the sourcing model reaches a solver. */
export type SolveMilp = (milp: Milp, options: MilpOptions) => MilpOutcome

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
