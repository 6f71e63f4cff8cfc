import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { tallyWorker } from '../../workers/tally-client.ts'
import type { CountQuestions } from '../../workers/tally.worker.ts'
import type { Count } from './count-store.ts'
import { revisionOf } from './revision.ts'

export type CountAnswer<T> = {
  /** The last answer; of an earlier count or question while `busy`. */
  readonly value: T | undefined
  readonly busy: boolean
  readonly problem: string | undefined
  readonly retry: () => void
}

/** How queries about counts are kept: for good, as a count never changes; a failure waits to be tried again. */
export const ABOUT_COUNTS = {
  placeholderData: keepPreviousData,
  staleTime: Infinity,
  gcTime: 60_000,
  retry: false,
  refetchOnWindowFocus: false,
  refetchOnReconnect: false,
  networkMode: 'always',
} as const

/** A question about a count, answered where the count was made. */
export function useAboutCount<K extends keyof CountQuestions>(
  count: Count | undefined,
  name: K,
  question: Parameters<CountQuestions[K]>[1],
): CountAnswer<ReturnType<CountQuestions[K]>> {
  const query = useQuery({
    ...ABOUT_COUNTS,
    queryKey: ['about', count?.build.id, count && revisionOf(count), name, question],
    queryFn: async () =>
      (count ? await tallyWorker().about(count.build, count.records, name, question) : undefined) ?? null,
    enabled: count !== undefined,
  })
  return {
    value: query.data ?? undefined,
    busy: query.isPlaceholderData || query.isPending,
    problem: query.error?.message,
    retry: () => void query.refetch(),
  }
}
