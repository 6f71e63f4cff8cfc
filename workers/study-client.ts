import { proxy, wrap } from 'comlink'
import type { Studies } from './study.worker.ts'

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
  const api = wrap<Record<Study, (s: unknown, q: unknown, step: () => void) => Promise<unknown>>>(worker)
  const answer = new Promise<Answer<K>>((resolve, reject) => {
    worker.addEventListener('error', (event) => {
      reject(new Error(event.message || 'the planner could not be loaded'))
    })
    api[study](snapshot, question, proxy(onStep)).then((value) => {
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
