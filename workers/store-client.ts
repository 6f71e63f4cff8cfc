import { workerPort, type Port } from './port.ts'
import type { StoreWorker } from './store.worker.ts'

let port: Port<StoreWorker> | undefined

/** The worker that writes the user's data, started when first needed and kept. */
export const storeWorker = (): Port<StoreWorker> =>
  (port ??= workerPort<StoreWorker>(
    () => new Worker(new URL('./store.worker.ts', import.meta.url), { type: 'module' }),
  ))
