import { expose } from 'comlink'
import type { Api, Watch, Watched } from './port.ts'

/**
 * Offers functions to the page. The worker holds a lock for as long as it lives: when it ends in whatever way (crashed,
 * closed, out of memory), the browser gives the lock to the page, which then knows (`workerPort`).
 */
export function serve(api: Api): void {
  addEventListener('message', ({ data }: MessageEvent<Partial<Watch> | null>) => {
    const watch = data?.watch
    if (typeof watch !== 'string') return
    void navigator.locks.request(watch, () => {
      postMessage({ watched: watch } satisfies Watched)
      return new Promise<never>(() => undefined)
    })
  })
  expose(api)
}
