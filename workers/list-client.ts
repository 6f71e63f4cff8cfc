import { workerPort, type Port } from './port.ts'
import type { ListWorker } from './list.worker.ts'

let port: Port<ListWorker> | undefined

/** The worker that reads lists, started when first needed and kept. */
export const listWorker = (): Port<ListWorker> =>
  (port ??= workerPort<ListWorker>(() => new Worker(new URL('./list.worker.ts', import.meta.url), { type: 'module' })))
