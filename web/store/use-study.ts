import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { startStudy, type Answer, type Question, type Scene, type Study } from '../../workers/study-client.ts'
import { ABOUT_COUNTS } from './about-count.ts'
import { wordsOf } from './perform.ts'
import { revisionOf } from './revision.ts'

export type StudyState<T> = {
  /** The last answer; of an earlier question while `busy` or when the last one failed. */
  readonly value: T | undefined
  readonly busy: boolean
  /** Designs netted so far for the question under way. */
  readonly steps: number
  /** Why there is no answer to the last question. */
  readonly problem: string | undefined
  readonly stop: () => void
  /** Asks the same question again. */
  readonly retry: () => void
}

/** Typing pauses so long before a question is put anew. */
const PAUSE_MS = 150

/**
 * Keeps a question to the planning core answered by a worker. The answer is of just this snapshot and question: keep both
 * stable. None is asked while `question` is `undefined`; one that nobody waits for any more is stopped.
 */
export function useStudy<K extends Study>(
  study: K,
  snapshot: Scene<K>,
  question: Question<K> | undefined,
): StudyState<Answer<K>> {
  const client = useQueryClient()
  const key = [
    'study',
    study,
    revisionOf(snapshot),
    typeof question === 'object' && question ? revisionOf(question) : question,
  ]
  const told = JSON.stringify(key)
  const [stopped, setStopped] = useState('')
  const progress = useQuery({ queryKey: ['steps', ...key], queryFn: () => 0, enabled: false, initialData: 0 })
  const query = useQuery({
    ...ABOUT_COUNTS,
    queryKey: key,
    queryFn: async ({ signal }) => {
      await pause(PAUSE_MS, signal)
      let steps = 0
      const tell = () => client.setQueryData(['steps', ...key], ++steps)
      client.setQueryData(['steps', ...key], 0)
      const run = startStudy(study, snapshot, question as Question<K>, tell)
      signal.addEventListener('abort', run.stop)
      return { answer: await run.answer }
    },
    enabled: question !== undefined && stopped !== told,
  })
  // A failed question leaves the answer to the one before.
  const [last, setLast] = useState(query.data)
  if (query.data !== undefined && query.data !== last) setLast(query.data)
  return {
    value: (query.data ?? last)?.answer,
    busy: query.isFetching,
    steps: progress.data,
    problem:
      stopped === told
        ? 'Stopped.'
        : query.error && !query.isFetching
          ? `This could not be worked out: ${wordsOf(query.error)}.`
          : undefined,
    stop: () => {
      setStopped(told)
      void client.cancelQueries({ queryKey: key })
    },
    retry: () => {
      // What was stopped is asked again as it is no longer held back.
      if (stopped === told) setStopped('')
      else void query.refetch()
    },
  }
}

/** Waits, unless nobody waits any more. */
const pause = (ms: number, signal: AbortSignal): Promise<void> =>
  new Promise((resolve, reject) => {
    const timer = setTimeout(resolve, ms)
    signal.addEventListener('abort', () => {
      clearTimeout(timer)
      reject(new Error('nobody waits for it any more'))
    })
  })
