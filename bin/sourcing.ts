import loadHighs from 'highs'
import { highsSolver } from '../core/solver/highs-milp.ts'
import { parseSourcingProblem } from '../core/sourcing/problem.ts'
import { runCommand } from './command.ts'
import { solveInTwo } from './solve-in-two.ts'

await runCommand({
  name: 'sourcing',
  takesTimeLimit: true,
  parse: parseSourcingProblem,
  solve: async (problem, timeLimit) =>
    solveInTwo(problem, new URL('./start-prover.mjs', import.meta.url), {
      ...{ timeLimit, now: () => performance.now() / 1000, milp: highsSolver(await loadHighs()) },
    }),
  outcomeOf: ({ total, status }) => (total !== null ? 'plan' : status === 'infeasible' ? 'none' : 'undecided'),
})
