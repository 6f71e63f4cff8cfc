import loadHighs from 'highs'
import { parseNettingProblem } from '../core/netting/problem.ts'
import { solveNetting } from '../core/netting/solve.ts'
import { verifyNetting } from '../core/netting/verify.ts'
import { highsSolver } from '../core/solver/highs-milp.ts'
import { runCommand } from './command.ts'

const milp = highsSolver(await loadHighs())

await runCommand({
  name: 'netting',
  takesTimeLimit: false,
  parse: parseNettingProblem,
  solve: (problem) => {
    const plan = solveNetting(problem, { milp })
    const [fault] = verifyNetting(problem, plan)
    if (fault) throw new Error(`the plan does not hold: ${fault}`)
    return Promise.resolve({ format: 'netting-plan', version: problem.version, ...plan })
  },
  outcomeOf: () => 'plan',
})
