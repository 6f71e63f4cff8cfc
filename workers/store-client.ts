import { wrap, type Remote } from 'comlink'
import type { StoreWorker } from './store.worker.ts'

let remote: Remote<StoreWorker> | undefined

/** The worker that writes the user's data, started when first needed and kept. */
export function storeWorker(): Remote<StoreWorker> {
  remote ??= wrap<StoreWorker>(new Worker(new URL('./store.worker.ts', import.meta.url), { type: 'module' }))
  return remote
}
