import { wrap, type Remote } from 'comlink'

/** What a worker offers: functions by name. */
// eslint-disable-next-line @typescript-eslint/no-explicit-any
export type Api = { readonly [name: string]: (...args: any[]) => unknown }

/** A call to a worker ended without an answer: it crashed, could not be loaded, or was stopped. */
export class WorkerFailure extends Error {
  /** True when someone asked for it. */
  readonly stopped: boolean

  constructor(message: string, stopped = false) {
    super(message)
    this.name = 'WorkerFailure'
    this.stopped = stopped
  }
}

/** The part of a `Worker` that a port needs. */
export type WorkerLike = Pick<Worker, 'postMessage' | 'addEventListener' | 'removeEventListener' | 'terminate'>

export type Port<A extends Api> = {
  /**
   * Calls a function of the worker. A worker that fails rejects the calls under way with `WorkerFailure`, and the next
   * call starts a fresh one; what the function itself throws rejects that call alone.
   */
  call<K extends keyof A & string>(name: K, ...args: Parameters<A[K]>): Promise<Awaited<ReturnType<A[K]>>>
  /** Ends the worker; calls under way are rejected as stopped. */
  stop(): void
  /** Another number whenever a worker starts or ends: what one was told, the next does not know. */
  generation(): number
}

type Running<A extends Api> = {
  readonly worker: WorkerLike
  readonly remote: Remote<A>
  readonly fail: (failure: WorkerFailure) => void
  readonly failed: Promise<never>
  /** Calls wait for it: a worker that is at work at once could not tell that it lives. */
  readonly ready: Promise<void> | undefined
  readonly unwatch: () => void
}

/** What the page sends first: the lock by which it can tell that the worker lives (`serve`). */
export type Watch = { readonly watch: string }
/** The answer, once the lock is held. */
export type Watched = { readonly watched: string }

/** Milliseconds within which a worker has to answer that it runs. */
const START_LIMIT_MS = 15_000
let watches = 0

/**
 * Tells when a worker dies without a word: it holds a lock while it lives, and the page waits for that lock (`serve`). A
 * worker that never takes it could not be loaded. Nothing is told where the browser has no locks.
 */
function watched(
  worker: WorkerLike,
  locks: Pick<LockManager, 'request'> | undefined,
  dead: (why: string) => void,
): { readonly ready: Promise<void> | undefined; readonly stop: () => void } {
  if (!locks) return { ready: undefined, stop: () => undefined }
  const watch = `worker ${Date.now()} ${Math.random()} ${watches++}`
  const over = new AbortController()
  const timer = setTimeout(() => {
    dead('the worker did not start')
  }, START_LIMIT_MS)
  let alive: () => void = () => undefined
  const ready = new Promise<void>((resolve) => {
    alive = resolve
  })
  const onMessage = (event: Event) => {
    const { data } = event as MessageEvent<Partial<Watched> | null>
    if (data?.watched !== watch) return
    clearTimeout(timer)
    worker.removeEventListener('message', onMessage)
    alive()
    locks
      .request(watch, { signal: over.signal }, () => {
        dead('the worker ended')
      })
      .catch(() => undefined)
  }
  worker.addEventListener('message', onMessage)
  worker.postMessage({ watch } satisfies Watch)
  return {
    ready,
    stop: () => {
      clearTimeout(timer)
      over.abort()
    },
  }
}

/** One worker behind typed calls, started when first needed and again after it failed. */
export function workerPort<A extends Api>(
  start: () => WorkerLike,
  locks: Pick<LockManager, 'request'> | undefined = typeof navigator === 'undefined' ? undefined : navigator.locks,
): Port<A> {
  let running: Running<A> | undefined
  let generation = 0

  const begin = (): Running<A> => {
    generation++
    const worker = start()
    let fail: (failure: WorkerFailure) => void = () => undefined
    const failed = new Promise<never>((_, reject) => {
      fail = reject
    })
    // Nobody may be waiting when it fails.
    failed.catch(() => undefined)
    const { ready, stop: unwatch } = watched(worker, locks, (why) => {
      end(made, new WorkerFailure(why))
    })
    const made: Running<A> = { worker, remote: wrap<A>(worker as Worker), fail, failed, ready, unwatch }
    const onError = (event: Event) => {
      const { message } = event as Partial<ErrorEvent>
      event.preventDefault()
      end(made, new WorkerFailure(message || 'the worker could not be loaded'))
    }
    worker.addEventListener('error', onError)
    worker.addEventListener('messageerror', onError)
    return made
  }
  const end = (which: Running<A>, failure: WorkerFailure) => {
    if (running === which) {
      running = undefined
      generation++
    }
    which.unwatch()
    which.fail(failure)
    which.worker.terminate()
  }

  return {
    call(name, ...args) {
      const { remote, failed, ready } = (running ??= begin())
      const called = (remote as Record<string, (...a: unknown[]) => Promise<unknown>>)[name]
      if (!called) throw new Error(`a worker offers no "${name}"`)
      const answer = ready ? ready.then(() => called(...args)) : called(...args)
      return Promise.race([answer, failed]) as ReturnType<Port<A>['call']> as never
    },
    stop() {
      if (running) end(running, new WorkerFailure('stopped', true))
    },
    generation: () => generation,
  }
}
