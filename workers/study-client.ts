import { proxy } from 'comlink'
import { workerPort, type Api } from './port.ts'
import type { Studies } from './study.worker.ts'
import { lentSnapshot } from './tally-client.ts'

export type Study = keyof Studies
export type Scene<K extends Study> = Parameters<Studies[K]>[0]
export type Question<K extends Study> = Parameters<Studies[K]>[1]
export type Answer<K extends Study> = Awaited<ReturnType<Studies[K]>>

/** A question to the planning core under way in a worker of its own; stopping it ends the worker. */
export type Running<K extends Study> = { readonly answer: Promise<Answer<K>>; stop(): void }

export function startStudy<K extends Study>(
  study: K,
  snapshot: Scene<K>,
  question: Question<K>,
  onStep: () => void,
): Running<K> {
  const port = workerPort<Api>(() => new Worker(new URL('./study.worker.ts', import.meta.url), { type: 'module' }))
  const ask = () => {
    const { args, failed } = lentSnapshot(snapshot)
    const [rest, ...lender] = args
    return Promise.race([port.call(study, rest, question, proxy(onStep), ...lender), failed])
  }
  return {
    answer: (ask() as Promise<Answer<K>>).finally(() => {
      port.stop()
    }),
    stop: () => {
      port.stop()
    },
  }
}
