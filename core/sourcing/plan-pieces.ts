import type { ItemKey } from '../catalogue/item.ts'
import { STAND_IN_KINDS, type StandInKind } from '../netting/stand-ins/candidate.ts'
import type { SourcingPlan } from './plan.ts'
import type { SourcingProblem } from './problem.ts'

/*
 * What the ids of a purchase problem stand for. The product writes that beside them; problems that older versions kept
 * have it within their ids alone, after a line feed.
 */

/** The piece that an item or a line of a problem stands for. */
export const pieceOf = ({ id, piece }: { readonly id: string; readonly piece?: ItemKey | undefined }): ItemKey =>
  piece ?? ((id.split('\n')[0] ?? id) as ItemKey)

/** The piece that a line which cannot be had asks for. */
export const pieceWanted = ({
  line,
  piece,
}: {
  readonly line: string
  readonly piece?: ItemKey | undefined
}): ItemKey => pieceOf({ id: line, piece })

type Accept = SourcingProblem['lines'][number]['accepts'][number]

/** Why an option of a line is a stand-in; undefined for the piece itself, worn or not. */
export const standInOf = ({ id, standIn }: Accept): StandInKind | undefined =>
  standIn ?? STAND_IN_KINDS.find((kind) => id.replace(/^own (?=\w+\n)/, '').startsWith(`${kind}\n`))

/** Whether an option is a custom print that is paid piece by piece. */
export const isPaidPrint = ({ id, standIn, ownRun }: Accept): boolean =>
  standIn ? standIn === 'print' && ownRun !== true : id.startsWith('print\n')

/** Of every line the pieces that a plan covers by each of its options; a line with a single option may go unsaid in it. */
export function* coveredBy(
  problem: Pick<SourcingProblem, 'lines'>,
  plan: Pick<SourcingPlan, 'assignments'>,
): Generator<{ readonly line: SourcingProblem['lines'][number]; readonly accept: Accept; readonly qty: number }> {
  const assigned = new Map<string, Map<string, number>>()
  for (const { line, accept, qty } of plan.assignments)
    assigned.set(line, (assigned.get(line) ?? new Map<string, number>()).set(accept, qty))
  for (const line of problem.lines) {
    const said = assigned.get(line.id)
    for (const accept of line.accepts) {
      const qty = said ? (said.get(accept.id) ?? 0) : line.accepts.length === 1 ? line.qty : 0
      if (qty > 0) yield { line, accept, qty }
    }
  }
}
