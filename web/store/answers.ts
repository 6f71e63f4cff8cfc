import { useMemo, useSyncExternalStore } from 'react'
import { toast } from 'sonner'
import * as v from 'valibot'
import type { BuildId } from '../../core/units/ids.ts'
import { guarded } from '../../storage/store-error.ts'
import type { SourcingRun } from '../../workers/sourcing-client.ts'
import { db, nowIso } from './database.ts'
import { wordsOf } from './perform.ts'
import { useStored } from './stored.ts'

/** An answer with what it is of: `key` tells the problem apart from others. */
export type Answer<A> = { readonly key: string; readonly at: string; readonly answer: A }

export type QuestionState<A, N> = {
  /** The last answer; of another problem where its key is another. */
  readonly last: Answer<A> | undefined
  /** What was told so far of the run under way; undefined when none is. */
  readonly news: readonly N[] | undefined
}

/** Forgets all answers about a build that is gone; what cannot be forgotten stays. */
export const forgetAnswers = (id: BuildId) =>
  guarded(() =>
    db.settings
      .where('id')
      .startsWith('answer:')
      .filter((setting) => setting.id.endsWith(`:${id}`))
      .delete(),
  )

const IDLE = { last: undefined, news: undefined }

/**
 * A question about purchases that takes a worker a while: one run at a time for a build, or for whatever `id` names, which leaving the screen does not
 * end, and the last answer, kept in this browser beside the user's data, so that a reload does not lose it.
 */
export function question<A, N>(name: string, schema: v.GenericSchema<unknown, A>) {
  type State = QuestionState<A, N>
  const states = new Map<string, State>()
  const cancels = new Map<string, () => void>()
  const listeners = new Set<() => void>()
  const StoredSchema = v.object({ key: v.string(), at: v.string(), answer: schema })
  const placeOf = (id: string) => `answer:${name}:${id}`

  const show = (id: string, next: Partial<State>) => {
    states.set(id, { ...(states.get(id) ?? IDLE), ...next })
    for (const listener of listeners) listener()
  }
  const subscribe = (listener: () => void) => {
    listeners.add(listener)
    return () => listeners.delete(listener)
  }
  const read = (text: string | undefined): Answer<A> | undefined => {
    if (text === undefined) return undefined
    try {
      const parsed = v.safeParse(StoredSchema, JSON.parse(text))
      return parsed.success ? parsed.output : undefined
    } catch {
      return undefined
    }
  }

  return {
    /** What is known of the question for a build. */
    useAnswer(id: string): State {
      const state = useSyncExternalStore(subscribe, () => states.get(id))
      const stored = useStored(async () => (await db.settings.get(placeOf(id)))?.value, [id], undefined)
      const kept = useMemo(() => read(stored), [stored])
      return useMemo(() => ({ news: state?.news, last: state?.last ?? kept }), [state, kept])
    },

    /** Ends a run; what was found by then is the answer. */
    cancel: (id: string): void => cancels.get(id)?.(),

    /**
     * Asks, unless that is under way; the answer is of the problem that `key` names. What `start` gives throws where it
     * does not hold.
     */
    async ask(
      id: string,
      start: (onNews: (news: N) => void) => Promise<{ readonly key: string; readonly run: SourcingRun<A> }>,
    ): Promise<void> {
      if (cancels.has(id)) return
      let stopped = false
      cancels.set(id, () => {
        stopped = true
      })
      show(id, { news: [] })
      try {
        const { key, run } = await start((news) => {
          show(id, { news: [...(states.get(id)?.news ?? []), news] })
        })
        cancels.set(id, run.cancel)
        if (stopped) run.cancel()
        const answer = await run.result
        if (answer !== undefined) {
          const last = { key, at: nowIso(), answer }
          show(id, { last })
          // Where it cannot be kept it is this page's alone.
          await guarded(() => db.settings.put({ id: placeOf(id), value: JSON.stringify(last) }))
        }
      } catch (error) {
        toast.error(`The solver failed: ${wordsOf(error)}. Nothing was changed; try again.`)
      } finally {
        cancels.delete(id)
        show(id, { news: undefined })
      }
    },
  }
}
