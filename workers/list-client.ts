import { wrap, type Remote } from 'comlink'
import type { ListWorker } from './list.worker.ts'

let remote: Remote<ListWorker> | undefined

/** The worker that reads lists, started when first needed and kept. */
export function listWorker(): Remote<ListWorker> {
  remote ??= wrap<ListWorker>(new Worker(new URL('./list.worker.ts', import.meta.url), { type: 'module' }))
  return remote
}
