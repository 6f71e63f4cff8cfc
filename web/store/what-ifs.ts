import { useMemo } from 'react'
import * as v from 'valibot'
import { toast } from 'sonner'
import type { Build } from '../../core/build/build.ts'
import type { Changes } from '../../core/build/scenario.ts'
import type { Decision } from '../../core/build/decision.ts'
import { changedBuild, type ChangedBuild } from '../../core/sourcing/changed-build.ts'
import type { KeptPlan } from '../../core/sourcing/kept-plan.ts'
import { withLess } from '../../core/sourcing/leave-out.ts'
import { SourcingPlanSchema, UnreachableSchema } from '../../core/sourcing/plan.ts'
import { rowNet, type WhatIf, type WhatIfAnswer, type WhatIfRow } from '../../core/sourcing/what-if.ts'
import type { DesignVersion } from '../../core/design/version.ts'
import type { Snapshot } from '../../core/netting/snapshot.ts'
import type { Change } from '../../storage/journal-entry.ts'
import { add, edit, put, remove } from '../../storage/journal.ts'
import { startWhatIfs } from '../../workers/sourcing-client.ts'
import type { Patience, WhatIfNews } from '../../workers/sourcing.worker.ts'
import { startStudy } from '../../workers/study-client.ts'
import { question } from './answers.ts'
import type { Count } from './count-store.ts'
import { dayOf } from '../../core/units/instants.ts'
import { fresh, nowIso } from './database.ts'
import { keepAs } from './frontier-run.ts'
import { wordsOf } from './perform.ts'
import { useRecords } from './records.tsx'
import type { BuildTally } from './tallies.ts'
import { useStudy, type StudyState } from './use-study.ts'

/** The build as it is, among what-ifs. */
export const AS_IT_IS: WhatIf = { id: 'as it is', changes: {} }

const Answered = { key: v.string(), plan: SourcingPlanSchema, leftOut: v.array(UnreachableSchema) }
const AnswersSchema = v.array(v.object({ id: v.string(), ...Answered, owner: v.optional(v.object(Answered)) }))
type Answers = v.InferOutput<typeof AnswersSchema>

/** Topics about which what-ifs are asked. */
export const WHAT_IFS = {
  scenarios: question<Answers, WhatIfNews>('scenarios', AnswersSchema),
  rules: question<Answers, WhatIfNews>('rules', AnswersSchema),
  hints: question<Answers, WhatIfNews>('hints', AnswersSchema),
} as const
export type Topic = keyof typeof WHAT_IFS

const stored = ({ leftOut, owner, ...answer }: WhatIfAnswer): Answers[number] => ({
  ...answer,
  leftOut: [...leftOut],
  ...(owner && { owner: { ...owner, leftOut: [...owner.leftOut] } }),
})

/** The same, answered by the kept plan. */
const KEPT: WhatIf = { id: 'kept', changes: {} }

const keptAnswer = ({ asked, plan, unavailable }: KeptPlan): WhatIfAnswer | undefined =>
  asked === undefined || plan.total === null ? undefined : { id: KEPT.id, key: asked, plan, leftOut: unavailable }

/**
 * Asks what the build as it was counted and each of some what-ifs come to; the search looks at the shops of a known plan
 * first. Answers from `before` stay where the run gives none.
 */
export const runWhatIfs = (
  topic: Topic,
  { snapshot }: Count,
  whatIfs: readonly WhatIf[],
  versions: readonly DesignVersion[],
  patience: Patience & { readonly bases: boolean },
  known: KeptPlan | undefined,
  before: readonly WhatIfAnswer[],
): Promise<void> =>
  WHAT_IFS[topic].ask(snapshot.build.id, (onNews) => {
    const { result, cancel } = startWhatIfs(
      snapshot,
      { ...patience, whatIfs: [AS_IT_IS, ...whatIfs], versions, ...(known && { known: known.plan }) },
      onNews,
    )
    // What is not answered again, as the run is stopped or its time is over, keeps its answer.
    const ids = new Set(whatIfs.map((w) => w.id))
    const merged = result.then((found) => {
      const anew = new Set(found?.map((a) => a.id))
      return found && [...before.filter((a) => ids.has(a.id) && !anew.has(a.id)), ...found].map(stored)
    })
    return Promise.resolve({ key: '', run: { result: merged, cancel } })
  })

export type WhatIfState = {
  /** By id; what was never asked has its task alone. */
  readonly rows: ReadonlyMap<string, WhatIfRow>
  /** The build as it is, by the kept plan or, where that costs less, by the plan found when this was asked. */
  readonly base: WhatIfRow | undefined
  /** What the kept plan costs more than `base`; 0 where it is that. Minor units. */
  readonly keptMore: number
  readonly study: StudyState<WhatIfRow[]>
  readonly news: readonly WhatIfNews[] | undefined
  readonly answers: readonly WhatIfAnswer[]
  /** When it was asked last. */
  readonly at: string | undefined
}

/** What-ifs with their answers as they stand to the build as it was counted. Keep `whatIfs` and `known` stable. */
export function useWhatIfs(
  topic: Topic,
  { snapshot }: BuildTally,
  whatIfs: readonly WhatIf[] | undefined,
  known: KeptPlan | undefined,
): WhatIfState {
  const { versions } = useRecords()
  const { last, news } = WHAT_IFS[topic].useAnswer(snapshot.build.id)
  const asked = useMemo(() => {
    if (!whatIfs) return undefined
    const own = known && keptAnswer(known)
    return {
      whatIfs: [AS_IT_IS, ...(own ? [KEPT] : []), ...whatIfs],
      answers: [...(last?.answer ?? []), ...(own ? [own] : [])],
      versions,
    }
  }, [whatIfs, known, last, versions])
  const study = useStudy('whatIfs', snapshot, asked)
  const rows = useMemo(() => new Map((study.value ?? []).map((row) => [row.id, row])), [study.value])
  const asItIs = rows.get(AS_IT_IS.id)
  const kept = rows.get(KEPT.id)
  const [then, now] = [asItIs && rowNet(asItIs), kept && rowNet(kept)]
  const keptMore = now === undefined || then === undefined ? 0 : Math.max(0, now - then)
  const base = now !== undefined && keptMore === 0 ? kept : asItIs
  return { rows, base, keptMore, study, news, answers: last?.answer ?? [], at: last?.at }
}

/** What makes a build as changes have it. */
function editsOf(before: Snapshot, after: ChangedBuild): Change[] {
  const known = new Set<string>(before.copies.map((c) => c.id))
  const [was, is] = [before.decisions ?? [], after.decisions]
  const further = after.copies.filter((c) => !known.has(c.id))
  const on = dayOf(nowIso())
  const made = is.filter((d: Decision) => !was.includes(d)).map((d) => ({ ...d, on }))
  const taken = was.filter((d) => !is.includes(d)).map((d) => d.id)
  return [
    ...(after.design === before.design
      ? []
      : before.design.modules.length === 0
        ? [put('designs', [after.design])]
        : [edit('designs', before.design, after.design)]),
    ...(further.length > 0 ? [add('copies', further)] : []),
    ...(made.length > 0 ? [add('decisions', made)] : []),
    ...(taken.length > 0 ? [remove('decisions', taken)] : []),
  ]
}

/** Makes a build as changes have it and keeps the plan that was found for that, in one act. */
export async function keepWhatIf(
  { snapshot }: Count,
  build: Build,
  changes: Changes,
  row: WhatIfRow,
  versions: readonly DesignVersion[],
  label: string,
): Promise<void> {
  try {
    const { plan, leftOut, task } = row
    const now = await startStudy('whatIfTask', snapshot, { changes, versions }, () => undefined).answer
    const changed = changedBuild(snapshot, changes, versions, fresh)
    if (!now.ok || !changed.ok || !plan || now.value.key !== task?.key)
      throw new Error('the build has changed meanwhile')
    const problem = withLess(now.value.asked, new Map(leftOut.map((u) => [u.line, u.short])))
    await keepAs(
      build,
      { id: build.id, problem, plan, unavailable: [...leftOut], asked: now.value.key },
      changed.value.build.rules,
      label,
      editsOf(snapshot, changed.value),
    )
  } catch (error) {
    toast.error(`That failed: ${wordsOf(error)}. Nothing was changed; try again.`)
  }
}
