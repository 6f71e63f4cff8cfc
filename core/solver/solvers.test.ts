import fc from 'fast-check'
import loadHighs from 'highs'
import { solve as solveWithYalps } from 'yalps'
import { highsSolver } from './highs-milp.ts'
import { MilpBuilder, NO_SOLVER, withRows, type LoadedLp, type Milp, type SolveMilp } from './milp.ts'

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

const loaded = (milp: Milp): LoadedLp => {
  const { load } = SOLVERS[0]?.[1] ?? yalps
  if (!load) throw new Error('HiGHS keeps programs loaded')
  return load(milp)
}

/** Costs, bounds and rows ≥ of a program of three columns. */
const threeColumns = fc
  .record({
    costs: fc.array(fc.integer({ min: -5, max: 9 }), { minLength: 3, maxLength: 3 }),
    most: fc.array(fc.integer({ min: 0, max: 6 }), { minLength: 3, maxLength: 3 }),
    rows: fc.array(
      fc.record({ least: fc.integer({ min: -8, max: 12 }), by: fc.array(fc.integer({ min: -3, max: 5 }), { minLength: 3, maxLength: 3 }) }), // prettier-ignore
      { minLength: 1, maxLength: 3 },
    ),
  })
  .map(({ costs, most, rows }) => ({
    milp: { ...withRows(whole(costs, 0, []), []), upper: Float64Array.from(most), integer: new Uint8Array(3) },
    rows: rows.map(({ least, by }) => ({
      least,
      terms: by.flatMap((value, column) => (value === 0 ? [] : [[column, value] as const])),
    })),
  }))

test('a program that stays loaded solves as the reference library does one that is written anew, change after change', () => {
  let solved = 0
  fc.assert(
    fc.property(
      threeColumns,
      fc.array(fc.record({ column: fc.nat(2), lower: fc.nat(3), more: fc.nat(4) }), { maxLength: 4 }),
      ({ milp, rows }, changes) => {
        const lp = loaded(milp)
        const like = (now: Milp) => {
          const expected = yalps(now, { timeLimit: 5 })
          const found = lp.solve({ timeLimit: 5 })
          if (expected.status !== 'optimal') {
            expect([found, lp.isInfeasible()]).toEqual([undefined, true])
            return
          }
          solved++
          expect(found?.objective).toBeCloseTo(expected.objective, 5)
          // Strong duality (von Neumann, 1947): limits at their prices and bounds at reduced costs come to the objective.
          const limits = [...(found?.prices ?? [])].reduce((sum, price, r) => sum + price * (now.rowLower[r] ?? 0), 0)
          const bounds = [...(found?.reduced ?? [])].reduce(
            (sum, each, c) => sum + each * ((each > 0 ? now.lower[c] : now.upper[c]) ?? 0),
            0,
          )
          expect(found?.prices).toHaveLength(now.rowLower.length)
          expect(limits + bounds).toBeCloseTo(expected.objective, 5)
          // Below what it costs there is nothing, which is not to say that there is no solution.
          expect(lp.solve({ timeLimit: 5, cutoff: expected.objective - 0.5 })).toBeUndefined()
          const again = lp.solve({ timeLimit: 5 })
          expect(again?.objective).toBeCloseTo(expected.objective, 5)
        }
        let now: Milp = milp
        like(now)
        for (const row of rows) {
          lp.add([row])
          now = withRows(now, [row])
          like(now)
        }
        for (const { column, lower, more } of changes) {
          const before = lp.solve({ timeLimit: 5 })
          const [low, high] = [now.lower.slice(), now.upper.slice()]
          const moved = lower - (low[column] ?? 0)
          low[column] = lower
          high[column] = lower + more
          lp.hold([[column, lower, lower + more]])
          const was = now
          now = { ...now, lower: low, upper: high }
          like(now)
          // A column that is moved from one value to another adds its reduced cost at least.
          const after = lp.solve({ timeLimit: 5 })
          if (before && after && more === 0 && was.lower[column] === was.upper[column])
            expect(after.objective).toBeGreaterThanOrEqual(
              before.objective + (before.reduced[column] ?? 0) * moved - 1e-6,
            )
        }
        lp.close()
      },
    ),
    { numRuns: 150, seed: 19 },
  )
  expect(solved).toBeGreaterThan(200)
})

test('without columns a loaded program holds as long as its rows ask for nothing', () => {
  const lp = loaded(new MilpBuilder().build())
  expect(lp.solve({ timeLimit: 1 })?.objective).toBe(0)
  lp.hold([])
  lp.add([{ least: -1, terms: [] }])
  expect(lp.solve({ timeLimit: 1 })?.objective).toBe(0)
  lp.add([{ least: 1, terms: [] }])
  expect(lp.solve({ timeLimit: 1 })).toBeUndefined()
  lp.close()
})
