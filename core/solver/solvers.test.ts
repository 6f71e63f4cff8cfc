import loadHighs from 'highs'
import { solve as solveWithYalps } from 'yalps'
import { highsSolver } from './highs-milp.ts'
import { MilpBuilder, NO_SOLVER, type Milp, type SolveMilp } from './milp.ts'

/** The reference library `yalps` behind the same port. */
const yalps: SolveMilp = (milp) => {
  const names = Array.from(milp.cost, (_, c) => `x${c}`)
  const rows = new Map(names.map((name, c) => [name, new Map<string, number>([['cost', milp.cost[c] ?? 0]])]))
  const constraints = new Map<string, { min?: number; max?: number }>()
  const bound = (name: string, min: number, max: number) =>
    constraints.set(name, { ...(min > -Infinity && { min }), ...(max < Infinity && { max }) })
  for (const [c, name] of names.entries()) {
    rows.get(name)?.set(`bound ${name}`, 1)
    bound(`bound ${name}`, milp.lower[c] ?? 0, milp.upper[c] ?? 0)
  }
  for (let r = 0; r < milp.rowLower.length; r++) {
    bound(`row ${r}`, milp.rowLower[r] ?? 0, milp.rowUpper[r] ?? 0)
    for (let at = milp.starts[r] ?? 0; at < (milp.starts[r + 1] ?? 0); at++)
      rows.get(names[milp.indices[at] ?? 0] ?? '')?.set(`row ${r}`, milp.values[at] ?? 0)
  }
  const integers = names.filter((_, c) => milp.integer[c] === 1)
  const found = solveWithYalps({ direction: 'minimize', objective: 'cost', constraints, variables: rows, integers })
  if (found.status !== 'optimal') return { status: 'infeasible' }
  const values = new Map(found.variables)
  const x = Float64Array.from(names, (name) => values.get(name) ?? 0)
  return { status: 'optimal', x, objective: found.result, bound: found.result }
}

const SOLVERS: readonly (readonly [name: string, solve: SolveMilp])[] = [
  ['HiGHS', highsSolver(await loadHighs())],
  ['yalps', yalps],
]

type Row = readonly [lower: number, upper: number, ...coefficients: number[]]

/** Whole columns from 0 to `most` that cost so much, under rows. */
function whole(costs: readonly number[], most: number, rows: readonly Row[]): Milp {
  const b = new MilpBuilder()
  const columns = costs.map((cost) => b.column(cost, 0, most, true))
  for (const [lower, upper, ...coefficients] of rows)
    b.row(
      lower,
      upper,
      columns.map((c, i) => [c, coefficients[i] ?? 0] as const),
    )
  return b.build()
}

// Worked examples of textbooks, recalled from memory; what is maximised there is minimised here with the sign turned.
const PROBLEMS: readonly (readonly [name: string, problem: Milp, optimum: number])[] = [
  [
    'Winston, Operations Research, Stockco: four investments of 14 in all',
    whole([-16, -22, -12, -8], 1, [[-Infinity, 14, 5, 7, 4, 3]]),
    -42,
  ],
  [
    'Winston, Operations Research, Telfa: tables and chairs',
    whole([-8, -5], 100, [
      [-Infinity, 6, 1, 1],
      [-Infinity, 45, 9, 5],
    ]),
    -40,
  ],
  [
    'Taha, Operations Research: the example of branch and bound',
    whole([-5, -4], 100, [
      [-Infinity, 5, 1, 1],
      [-Infinity, 45, 10, 6],
    ]),
    -23,
  ],
  [
    'Winston, Operations Research, Kilroy County: fire stations that cover six cities',
    whole([1, 1, 1, 1, 1, 1], 1, [
      [1, Infinity, 1, 1],
      [1, Infinity, 1, 1, 0, 0, 0, 1],
      [1, Infinity, 0, 0, 1, 1],
      [1, Infinity, 0, 0, 1, 1, 1],
      [1, Infinity, 0, 0, 0, 1, 1, 1],
      [1, Infinity, 0, 1, 0, 0, 1, 1],
    ]),
    2,
  ],
]

describe.each(SOLVERS)('%s', (_, solve) => {
  test.each(PROBLEMS)('%s', (_name, problem, optimum) => {
    const found = solve(problem, { timeLimit: 10 })
    if (found.status !== 'optimal') throw new Error(found.status)
    expect(found.objective).toBeCloseTo(optimum, 6)
    expect(found.bound).toBeCloseTo(optimum, 6)
    // What is said to be the optimum is one: within every row, and at that cost.
    const cost = found.x.reduce((sum, value, c) => sum + value * (problem.cost[c] ?? 0), 0)
    expect(cost).toBeCloseTo(optimum, 6)
    for (let r = 0; r < problem.rowLower.length; r++) {
      let sum = 0
      for (let at = problem.starts[r] ?? 0; at < (problem.starts[r + 1] ?? 0); at++)
        sum += (problem.values[at] ?? 0) * (found.x[problem.indices[at] ?? 0] ?? 0)
      expect(sum).toBeGreaterThanOrEqual((problem.rowLower[r] ?? 0) - 1e-6)
      expect(sum).toBeLessThanOrEqual((problem.rowUpper[r] ?? 0) + 1e-6)
    }
    for (const value of found.x) expect(Math.abs(value - Math.round(value))).toBeLessThan(1e-6)
  })

  test('what no whole number solves is infeasible', () => {
    expect(solve(whole([1], 9, [[1, 1, 2]]), { timeLimit: 10 }).status).toBe('infeasible')
  })
})

test.each(PROBLEMS)('where there is no solver nothing is found and nothing proven: %s', (_, problem) => {
  expect(NO_SOLVER(problem, { timeLimit: 10 })).toEqual({ status: 'none', bound: -Infinity })
})

test('a solver that gives up on its numbers gives what it had found, and no error', async () => {
  const highs = await loadHighs()
  const giveUp = {
    ...highs,
    createModel: (...of: Parameters<typeof highs.createModel>) => {
      const model = highs.createModel(...of)
      model.run = () => {
        throw Object.assign(new Error('run failed with HiGHS status -1'), { name: 'HighsError' })
      }
      return model
    },
  }
  const solve = highsSolver(giveUp as typeof highs)
  expect(solve(whole([1, 1], 3, [[2, 9, 1, 1]]), { timeLimit: 5 })).toEqual({ status: 'none', bound: -Infinity })
})
