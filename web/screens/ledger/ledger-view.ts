import type { Settlement } from '../../../core/settling/settlement.ts'
import type { BuildTally } from '../../store/tallies.ts'

/** What each view of the ledger is given. */
export type LedgerView = {
  readonly tally: BuildTally
  readonly settlement: Settlement
  /** ISO 8601 date. */
  readonly today: string
}
