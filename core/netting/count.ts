import { coverDemands } from './kernel/cover.ts'
import { verifyCover } from './verify.ts'

import type { Snapshot } from './snapshot.ts'
import { tallySheet, type TallySheet } from './sheet.ts'
import { type Tally, openTally } from './tally.ts'
import { nettingTask } from './count-task.ts'

/** Options of a group of lines that a solver proves within a time one waits for. */
export const WORTH_PROVING = 6000

/**
 * Nets a build: gross requirements against donor copies, then the shelf, released models and what is on order, as the
 * build's rules and the user's decisions allow, exact pieces before stand-ins. Optimal over all lines at once: fewest
 * short, least compromise (weighed against prices where pieces may be bought and spending counts), preferred sources.
 * The cover is verified before it is returned; a fault there is a bug and throws.
 */
export function tallied(snapshot: Snapshot): TallySheet {
  const task = nettingTask(snapshot)
  const { choices, supplies, memory } = task
  const prover = snapshot.milp && { milp: snapshot.milp, most: WORTH_PROVING }
  const plan = coverDemands(choices, supplies, prover, memory)
  const [fault] = verifyCover(choices, supplies, plan)
  if (fault !== undefined) throw new Error(`the netting does not hold: ${fault}`)
  return tallySheet(task, plan)
}

/** The tally of a build (`tallied`), ready to be read. */
export const tally = (snapshot: Snapshot): Tally => openTally(snapshot, tallied(snapshot))
