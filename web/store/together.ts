import { useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import * as v from 'valibot'
import type { Build } from '../../core/build/build.ts'
import { whyApart } from '../../core/sourcing/joint-purchase.ts'
import type { ShareBasis } from '../../core/sourcing/joint-shares.ts'
import { SourcingPlanSchema, UnreachableSchema } from '../../core/sourcing/plan.ts'
import { startTogether } from '../../workers/sourcing-client.ts'
import type { Patience, TogetherNews } from '../../workers/sourcing.worker.ts'
import { tallyWorker } from '../../workers/tally-client.ts'
import type { PartyTask } from '../../workers/tally.worker.ts'
import { ABOUT_COUNTS } from './about-count.ts'
import { question } from './answers.ts'
import { useRecords } from './records.tsx'
import { revisionOf } from './revision.ts'

const FoundSchema = v.object({ plan: SourcingPlanSchema, leftOut: v.array(UnreachableSchema) })
/** A purchase for several builds as it is kept: what it answers follows from what is to be bought for each. */
const TogetherSchema = v.object({ alone: v.array(FoundSchema), together: FoundSchema })
export type TogetherAnswer = v.InferOutput<typeof TogetherSchema>

/** The one question of what builds cost together. */
const TOGETHER_ID = 'together'
const TOGETHER = question<TogetherAnswer, TogetherNews>('together', TogetherSchema)
const useTogether = () => TOGETHER.useAnswer(TOGETHER_ID)
export const stopTogether = (): void => {
  TOGETHER.cancel(TOGETHER_ID)
}

/** What is to be bought for some builds, in their order, and whether that is still being worked out. */
function useParties(builds: readonly Build[]) {
  const { tallied } = useRecords()
  const [first, ...others] = builds
  const query = useQuery({
    ...ABOUT_COUNTS,
    queryKey: ['parties', revisionOf(tallied), ...builds.map((b) => revisionOf(b))],
    queryFn: () => (first ? tallyWorker().parties([first, ...others], tallied) : []),
    enabled: first !== undefined,
  })
  return {
    parties: first ? query.data : [],
    pending: first !== undefined && (query.isPlaceholderData || query.isPending),
    problem: query.error?.message,
  }
}

/** What tells purchases for several builds apart. */
const togetherKey = (parties: readonly PartyTask[], maxShops: number | null): string =>
  JSON.stringify([parties.map((p) => [p.build, p.key]), maxShops])

/** Asks what the builds cost apart and together. */
export const runTogether = (
  parties: readonly PartyTask[],
  maxShops: number | null,
  patience: Patience,
): Promise<void> =>
  TOGETHER.ask(TOGETHER_ID, (onNews) => {
    const plain = parties.map(({ build, asked }) => ({ build, asked }))
    const { result, cancel } = startTogether(plain, maxShops, patience, onNews)
    const kept = result.then(
      (found) =>
        found && {
          alone: found.alone.map(({ plan, leftOut }) => ({ plan, leftOut: [...leftOut] })),
          together: { plan: found.together.plan, leftOut: [...found.together.leftOut] },
        },
    )
    return Promise.resolve({ key: togetherKey(parties, maxShops), run: { result: kept, cancel } })
  })

/** What is known of a purchase for some builds: what is to be bought, and what was found of just that. */
export function usePurchaseTogether(builds: readonly Build[], maxShops: number | null, basis: ShareBasis) {
  const { tallied } = useRecords()
  const { parties, pending, problem } = useParties(builds)
  const { last, news } = useTogether()
  const why = useMemo(() => (parties && !pending ? whyApart(parties)?.message : undefined), [parties, pending])
  const current = parties !== undefined && !pending && last?.key === togetherKey(parties, maxShops) ? last : undefined
  const [first, ...others] = builds
  const account = useQuery({
    ...ABOUT_COUNTS,
    queryKey: ['together', revisionOf(tallied), ...builds.map((b) => revisionOf(b)), current?.at, maxShops, basis],
    queryFn: () => {
      if (!first || !current) return null
      const terms = { maxShops, basis, printPrices: builds.map((b) => b.rules.printPrice) }
      return tallyWorker().together([first, ...others], tallied, current.answer, terms)
    },
    enabled: first !== undefined && current !== undefined,
  })
  const found = current && account.data ? { answer: current.answer, account: account.data } : undefined
  const wanted = useMemo(() => [...new Set((parties ?? []).flatMap((p) => p.wanted))], [parties])
  const offers = useMemo(() => new Set((parties ?? []).flatMap((p) => p.asked.offers.map((o) => o.id))).size, [parties])
  return {
    parties,
    pending,
    problem: problem ?? account.error?.message,
    why,
    last,
    current,
    news,
    found,
    wanted,
    offers,
  }
}
