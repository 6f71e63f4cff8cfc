import * as v from 'valibot'
import { toast } from 'sonner'
import type { Build } from '../../core/build/build.ts'
import { isSecondHand, type Copy } from '../../core/donors/donor-set.ts'
import {
  copiesKey,
  mixesOf,
  summed,
  withCopies,
  type MixOutcome,
  type SummedMix,
} from '../../core/sourcing/copy-mixes.ts'
import { furtherCopies } from '../../core/sourcing/changed-build.ts'
import { withLess } from '../../core/sourcing/leave-out.ts'
import { SourcingPlanSchema, UnreachableSchema } from '../../core/sourcing/plan.ts'
import { problemKey } from '../../core/sourcing/problem-key.ts'
import type { SourcingProblem } from '../../core/sourcing/problem.ts'
import type { BuildId } from '../../core/units/ids.ts'
import { add, edit } from '../../storage/journal.ts'
import { startMixes } from '../../workers/sourcing-client.ts'
import type { MixNews, Patience } from '../../workers/sourcing.worker.ts'
import { question, type QuestionState } from './answers.ts'
import { fresh } from './database.ts'
import type { Count } from './count-store.ts'
import { keepAs } from './frontier-run.ts'
import { perform, wordsOf } from './perform.ts'
import { problemOf } from './purchases.ts'

/** Mixes as they are kept: what each answers follows from the problem they were asked of. */
const MixesSchema = v.array(
  v.object({
    mix: v.array(v.number()),
    plan: SourcingPlanSchema,
    leftOut: v.array(UnreachableSchema),
  }),
)
type Mixes = v.InferOutput<typeof MixesSchema>

/** What so many copies come to. */
export const MIXES = question<Mixes, MixNews>('mixes', MixesSchema)

/** What is known of it for a build. */
export const useMixes = (id: BuildId): QuestionState<Mixes, MixNews> => MIXES.useAnswer(id)

/** Copies beyond those wanted that are asked about; of one that is offered second hand there is no other. */
export const MORE_COPIES = 2

const furtherOf = (copies: readonly Copy[], id: string): number => {
  const copy = copies.find((c) => c.id === id)
  return copy && isSecondHand(copy) ? 0 : MORE_COPIES
}

/** Asks what each number of copies comes to, for a build as it was counted. */
export const runMixes = (count: Count, patience: Patience): Promise<void> =>
  MIXES.ask(count.build.id, async (onNews) => {
    const { anyCopies } = await problemOf(count)
    const mixes = mixesOf(anyCopies, (id) => furtherOf(count.records.copies, id))
    const { result, cancel } = startMixes(anyCopies, mixes, patience, onNews)
    const kept = result.then((found) =>
      found?.map(({ mix, plan, leftOut }) => ({ mix: [...mix], plan, leftOut: [...leftOut] })),
    )
    return { key: copiesKey(anyCopies), run: { result: kept, cancel } }
  })

/** Mixes as they were kept, with the problems they answer and their sums, those that hold by an independent count. */
export const mixesFrom = (anyCopies: SourcingProblem, kept: Mixes, printPrice: number): SummedMix[] =>
  kept.flatMap(({ mix, plan, leftOut }) => {
    const problem = withLess(withCopies(anyCopies, mix), new Map(leftOut.map((u) => [u.line, u.short])))
    return summed({ mix, plan, leftOut, problem }, printPrice) ?? []
  })

/** Copies that are wanted at the same price and with the same contents as one, by that one. */
export type WantedCopies = { readonly first: Copy; readonly wanted: number }

/**
 * Makes a mix's plan the kept one: just so many copies are to be bought, by the rules, and copies beyond those wanted are
 * wanted from now on. One act.
 */
export async function keepMix(
  count: Count,
  build: Build,
  { mix, problem, plan, leftOut }: Pick<MixOutcome, 'mix' | 'problem' | 'plan' | 'leftOut'>,
  sets: readonly WantedCopies[],
  label: string,
): Promise<void> {
  try {
    const { anyCopies } = await problemOf(count)
    const further = sets.flatMap(({ first, wanted }, s) => furtherCopies(first, wanted, (mix[s] ?? 0) - wanted, fresh))
    const buyCopies = Object.fromEntries(sets.map(({ first }, s) => [first.id, mix[s] ?? 0]))
    const asked = problemKey(withCopies(anyCopies, mix))
    await keepAs(build, { id: build.id, problem, plan, unavailable: [...leftOut], asked }, { buyCopies }, label, [
      ...(further.length > 0 ? [add('copies', further)] : []),
    ])
  } catch (error) {
    toast.error(`That failed: ${wordsOf(error)}. Nothing was changed; try again.`)
  }
}

/** Takes back that just so many copies are to be bought. */
export const buyAnyNumber = (build: Build): Promise<boolean> =>
  perform('Any number of copies may be bought', [
    edit('builds', build, { ...build, rules: { ...build.rules, buyCopies: {} } }),
  ])
