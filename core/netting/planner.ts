import type { SolveMilp } from '../solver/milp.ts'
import { Memory } from '../units/memory.ts'

/** Who counts: remembers what stays from one count to the next, and may have a solver. */
export type Planner = {
  readonly memory: Memory
  /** Proves what the search for the best cover leaves open; without it some covers stay unproven. */
  readonly milp?: SolveMilp
}

/** A planner that remembers nothing yet. */
export const newPlanner = (milp?: SolveMilp): Planner => ({ memory: new Memory(), ...(milp && { milp }) })
