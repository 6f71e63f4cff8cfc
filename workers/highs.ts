import loadHighs from 'highs'
import wasmUrl from 'highs/runtime?url'
import { highsSolver } from '../core/solver/highs-milp.ts'
import { NO_SOLVER, type SolveMilp } from '../core/solver/milp.ts'

let solver: Promise<SolveMilp> | undefined

/**
 * The solver of this worker, loaded when first asked for. One that cannot be loaded proves nothing (`NO_SOLVER`) and breaks
 * nothing; the next question tries to load it again.
 */
export const highs = (): Promise<SolveMilp> =>
  (solver ??= loadHighs({ locateFile: () => wasmUrl }).then(
    (runtime) => highsSolver(runtime),
    () => {
      solver = undefined
      return NO_SOLVER
    },
  ))
