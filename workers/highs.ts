import loadHighs from 'highs'
import wasmUrl from 'highs/runtime?url'
import { highsSolver } from '../core/solver/highs-milp.ts'
import type { SolveMilp } from '../core/solver/milp.ts'

let solver: Promise<SolveMilp> | undefined

/** The solver of this worker, loaded when first asked for. */
export const highs = (): Promise<SolveMilp> =>
  (solver ??= loadHighs({ locateFile: () => wasmUrl }).then((runtime) => highsSolver(runtime)))
