import { coverDemands } from './kernel/cover.ts'
import { verifyCover } from './verify.ts'

import { newPlanner, type Planner } from './planner.ts'
import type { Snapshot } from './snapshot.ts'
import { tallySheet, type TallySheet } from './sheet.ts'
import { type Tally, openTally } from './tally.ts'
import { nettingTask } from './count-task.ts'

/** Options of a group of lines that a solver proves within a time one waits for. */
export const WORTH_PROVING = 4000

/**
 * Nets a build: gross requirements against donor copies, then the shelf, released models and what is on order, as the
 * build's rules and the user's decisions allow, exact pieces before stand-ins. Optimal over all lines at once: fewest
 * short, least compromise (weighed against prices where pieces may be bought and spending counts), preferred sources.
 * The cover is verified before it is returned; a fault there is a bug and throws.
 */
export function tallied(snapshot: Snapshot, { memory, milp }: Planner): TallySheet {
  const task = nettingTask(snapshot, memory)
  const { choices, supplies, covers } = task
  const plan = coverDemands(choices, supplies, milp && { milp, most: WORTH_PROVING }, covers)
  const [fault] = verifyCover(choices, supplies, plan)
  if (fault !== undefined) throw new Error(`the netting does not hold: ${fault}`)
  return tallySheet(task, plan)
}

/** The tally of a build (`tallied`), ready to be read; without a planner nothing is remembered for the next. */
export const tally = (snapshot: Snapshot, planner = newPlanner()): Tally =>
  openTally(snapshot, tallied(snapshot, planner), planner.memory)
