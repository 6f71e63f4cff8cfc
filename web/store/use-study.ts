import { useCallback, useEffect, useState } from 'react'
import { wordsOf } from './perform.ts'
import {
  startStudy,
  type Answer,
  type Question,
  type Running,
  type Scene,
  type Study,
} from '../../workers/study-client.ts'

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

/** Keeps a question to the planning core answered by a worker. Keep `question` stable; none while `undefined`. */
export function useStudy<K extends Study>(
  study: K,
  snapshot: Scene<K>,
  question: Question<K> | undefined,
): StudyState<Answer<K>> {
  const [state, setState] = useState<Omit<StudyState<Answer<K>>, 'stop' | 'retry'>>({
    value: undefined,
    busy: false,
    steps: 0,
    problem: undefined,
  })
  const [running, setRunning] = useState<{ stop: () => void } | undefined>()
  const [tries, setTries] = useState(0)
  useEffect(() => {
    if (question === undefined) return
    void tries
    let run: Running<K> | undefined
    let over = false
    const timer = setTimeout(() => {
      let steps = 0
      setState((s) => ({ ...s, busy: true, steps: 0, problem: undefined }))
      run = startStudy(study, snapshot, question, () => {
        steps++
        if (!over) setState((s) => ({ ...s, steps }))
      })
      setRunning({
        stop: () => {
          over = true
          run?.stop()
          setState((s) => ({ ...s, busy: false, problem: 'Stopped.' }))
        },
      })
      run.answer.then(
        (value) => {
          if (!over) setState((s) => ({ ...s, value, busy: false }))
        },
        (error: unknown) => {
          const why = wordsOf(error)
          if (!over) setState((s) => ({ ...s, busy: false, problem: `This could not be worked out: ${why}.` }))
        },
      )
    }, PAUSE_MS)
    return () => {
      over = true
      clearTimeout(timer)
      run?.stop()
    }
  }, [study, snapshot, question, tries])
  const retry = useCallback(() => {
    setTries((n) => n + 1)
  }, [])
  return { ...state, stop: () => running?.stop(), retry }
}
