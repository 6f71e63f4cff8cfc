import { proxy, transfer, wrap } from 'comlink'
import type { Studies } from './study.worker.ts'
import { tallyingWorker } from './tally-client.ts'

export type Study = keyof Studies
export type Scene<K extends Study> = Parameters<Studies[K]>[0]
export type Question<K extends Study> = Parameters<Studies[K]>[1]
export type Answer<K extends Study> = ReturnType<Studies[K]>

/** A question to the planning core under way in a worker of its own; stopping it ends the worker. */
export type Running<K extends Study> = { readonly answer: Promise<Answer<K>>; stop(): void }

export function startStudy<K extends Study>(
  study: K,
  snapshot: Scene<K>,
  question: Question<K>,
  onStep: () => void,
): Running<K> {
  const worker = new Worker(new URL('./study.worker.ts', import.meta.url), { type: 'module' })
  const api =
    wrap<Record<Study, (s: unknown, q: unknown, step: () => void, lent?: MessagePort) => Promise<unknown>>>(worker)
  const answer = new Promise<Answer<K>>((resolve, reject) => {
    worker.addEventListener('error', (event) => {
      reject(new Error(event.message || 'the planner could not be loaded'))
    })
    // The large records come from the worker that tallies: sending them takes the page longer than an answer may.
    const tallying = tallyingWorker()
    const ask = () => {
      if (!tallying) return api[study](snapshot, question, proxy(onStep))
      const { port1, port2 } = new MessageChannel()
      return api[study](tallying.lend(snapshot, port1), question, proxy(onStep), transfer(port2, [port2]))
    }
    ask().then((value) => {
      resolve(value as Answer<K>)
    }, reject)
  }).finally(() => {
    worker.terminate()
  })
  return {
    answer,
    stop: () => {
      worker.terminate()
    },
  }
}
