import { hash53 } from '../units/hash.ts'
import type { SourcingProblem } from './problem.ts'

/** What says what ids stand for: the problem is the same without. */
const MEANINGS: ReadonlySet<string> = new Set(['piece', 'standIn', 'ownRun'])

/**
 * A short text that differs, in all likelihood, for different problems: 106 bits of two runs of cyrb53 over the problem as
 * JSON. Not a secret: who writes a file may write any key.
 */
export function problemKey(problem: SourcingProblem): string {
  const text = JSON.stringify(problem, (field, value: unknown) => (MEANINGS.has(field) ? undefined : value))
  return `${hash53(text, 1).toString(36)}-${hash53(text, 2).toString(36)}`
}
