import { jest } from '@jest/globals'
import { expose, type Endpoint } from 'comlink'
import type { Build } from '../core/build/build.ts'
import type { SnapshotRecords } from '../core/netting/snapshot.ts'
import { workerPort, WorkerFailure, type WorkerLike } from './port.ts'
import { tallyClient } from './tally-client.ts'
import type { RecordsChange, TallyWorker } from './tally.worker.ts'

type Handler = (event: { readonly data: unknown; readonly origin: string }) => void

/** A worker in this process: messages are copied and arrive later, as between threads; events as a worker has them. */
function fakeWorker(api: object): WorkerLike & { crash: (message: string) => void; ended: boolean } {
  const [ours, theirs] = [new Set<Handler>(), new Set<Handler>()]
  const events = new EventTarget()
  const deliver = (to: ReadonlySet<Handler>) => (data: unknown) => {
    const copy: unknown = structuredClone(data)
    queueMicrotask(() => {
      if (!worker.ended) for (const handler of to) handler({ data: copy, origin: '' })
    })
  }
  const worker = {
    ended: false,
    postMessage: deliver(theirs) as Worker['postMessage'],
    addEventListener: ((type: string, listener: EventListener) => {
      if (type === 'message') ours.add(listener as unknown as Handler)
      else events.addEventListener(type, listener)
    }) as Worker['addEventListener'],
    removeEventListener: ((type: string, listener: EventListener) => {
      if (type === 'message') ours.delete(listener as unknown as Handler)
      else events.removeEventListener(type, listener)
    }) as Worker['removeEventListener'],
    terminate: () => {
      worker.ended = true
    },
    crash: (message: string) => {
      events.dispatchEvent(Object.assign(new Event('error'), { message }))
    },
  }
  expose(api, {
    postMessage: deliver(ours),
    addEventListener: (_: string, listener: unknown) => theirs.add(listener as Handler),
    removeEventListener: (_: string, listener: unknown) => theirs.delete(listener as Handler),
  } as unknown as Endpoint)
  return worker
}

type Sums = { add(p: number, q: number): number; fail(): never; never(): Promise<never> }
const sums: Sums = {
  add: (p, q) => p + q,
  fail: () => {
    throw new Error('no such sum')
  },
  never: () => new Promise(() => undefined),
}

function started() {
  const workers: ReturnType<typeof fakeWorker>[] = []
  const port = workerPort<Sums & Record<string, never>>(() => {
    const worker = fakeWorker(sums)
    workers.push(worker)
    return worker
  })
  return { workers, port }
}

test('calls are answered by one worker, started when first needed', async () => {
  const { workers, port } = started()
  expect(workers.length).toBe(0)
  expect(await Promise.all([port.call('add', 1, 2), port.call('add', 3, 4)])).toEqual([3, 7])
  expect(workers.length).toBe(1)
  port.stop()
})

test('what a function throws rejects that call alone', async () => {
  const { workers, port } = started()
  await expect(port.call('fail')).rejects.toThrow('no such sum')
  expect(await port.call('add', 1, 1)).toBe(2)
  expect(workers.length).toBe(1)
  port.stop()
})

test('a crash rejects the calls under way with its reason, and the next call has a fresh worker', async () => {
  const { workers, port } = started()
  const hanging = port.call('never')
  await port.call('add', 1, 1)
  workers[0]?.crash('out of memory')
  await expect(hanging).rejects.toMatchObject({ name: 'WorkerFailure', message: 'out of memory', stopped: false })
  expect(workers[0]?.ended).toBe(true)
  expect(await port.call('add', 2, 2)).toBe(4)
  expect([workers.length, port.generation()]).toEqual([2, 3])
  port.stop()
})

test('a worker that is not found says so', async () => {
  const { workers, port } = started()
  const hanging = port.call('never')
  workers[0]?.crash('')
  await expect(hanging).rejects.toThrow('the worker could not be loaded')
  port.stop()
})

/** Locks as browsers have them, for one name at a time; what a worker held is given on when it ends. */
function fakeLocks() {
  const held = new Set<string>()
  const waiting = new Map<string, () => void>()
  return {
    hold: (name: string) => held.add(name),
    release: (name: string) => {
      held.delete(name)
      waiting.get(name)?.()
    },
    locks: {
      request: ((name: string, { signal }: LockOptions, granted: LockGrantedCallback<unknown>) =>
        new Promise<unknown>((resolve, reject) => {
          signal?.addEventListener('abort', () => {
            waiting.delete(name)
            reject(new DOMException('aborted', 'AbortError'))
          })
          const give = () => {
            resolve(granted(null))
          }
          if (held.has(name)) waiting.set(name, give)
          else give()
        })) as LockManager['request'],
    },
    waiting,
  }
}

/** A port whose workers say that they live, and die without a word when told to. */
function watchedPort(answers = true) {
  const { hold, release, locks, waiting } = fakeLocks()
  const names: string[] = []
  const workers: ReturnType<typeof fakeWorker>[] = []
  const port = workerPort<Sums & Record<string, never>>(() => {
    const worker = fakeWorker(sums)
    const post = worker.postMessage.bind(worker)
    const listeners = new Set<EventListener>()
    const watching: WorkerLike = {
      ...worker,
      postMessage: ((data: { watch?: string }) => {
        if (data.watch === undefined) {
          post(data)
          return
        }
        const { watch } = data
        names.push(watch)
        if (!answers) return
        hold(watch)
        queueMicrotask(() => {
          for (const listener of listeners) listener(Object.assign(new Event('message'), { data: { watched: watch } }))
        })
      }) as Worker['postMessage'],
      addEventListener: ((type: string, listener: EventListener) => {
        if (type === 'message') listeners.add(listener)
        worker.addEventListener(type, listener)
      }) as Worker['addEventListener'],
      removeEventListener: worker.removeEventListener.bind(worker) as Worker['removeEventListener'],
    }
    workers.push(worker)
    return watching
  }, locks)
  return {
    port,
    workers,
    die: (i: number) => {
      release(names[i] ?? '')
    },
    waiting,
  }
}

test('a worker that ends without a word, however busy it was, rejects what is under way; the next call has a fresh one', async () => {
  const { port, workers, die, waiting } = watchedPort()
  expect(await port.call('add', 1, 2)).toBe(3)
  const hanging = port.call('never')
  await new Promise((resolve) => setTimeout(resolve, 5))
  die(0)
  await expect(hanging).rejects.toMatchObject({ name: 'WorkerFailure', message: 'the worker ended' })
  expect(await port.call('add', 2, 2)).toBe(4)
  expect(workers.length).toBe(2)
  port.stop()
  expect(waiting.size).toBe(0)
})

test('a worker that never says it runs is given up in time', async () => {
  jest.useFakeTimers()
  try {
    const { port } = watchedPort(false)
    const hanging = port.call('add', 1, 2)
    const said = expect(hanging).rejects.toThrow('the worker did not start')
    await jest.advanceTimersByTimeAsync(31_000)
    await said
    port.stop()
  } finally {
    jest.useRealTimers()
  }
})

test('stopping rejects what is under way as stopped', async () => {
  const { port } = started()
  const hanging = port.call('never')
  port.stop()
  const failure = await hanging.catch((error: unknown) => error)
  expect(failure).toBeInstanceOf(WorkerFailure)
  expect(failure).toMatchObject({ stopped: true })
})

test('the counting worker is sent what changed; a fresh one, or one whose count failed, is sent everything', async () => {
  const sent: RecordsChange[] = []
  let failing = false
  const workers: ReturnType<typeof fakeWorker>[] = []
  const port = workerPort<TallyWorker>(() => {
    const worker = fakeWorker({
      tally: (_: unknown, change: RecordsChange) => {
        sent.push(change)
        if (failing) throw new Error('no count')
        return { lines: {} }
      },
    })
    workers.push(worker)
    return worker
  })
  const client = tallyClient(port)
  const holdings = Array.from({ length: 100 }, (_, i) => ({ id: `h-${i}` }))
  const records = { designs: [], sets: [], copies: [], holdings, places: [{ id: 'l-1' }], decisions: [], made: [] }
  const first = { ...records, partById: new Map(), colourById: new Map(), market: { shops: [], offers: [] } }
  const state = first as unknown as SnapshotRecords
  const build = { id: 'b-1' } as Build
  const kinds = (change: RecordsChange | undefined) => [
    Object.keys(change?.whole ?? {}).length,
    Object.keys(change?.patches ?? {}),
  ]
  await client.tally(build, state)
  expect(kinds(sent.at(-1))).toEqual([10, []])
  const edited = { ...state, holdings: state.holdings.map((h, i) => (i === 7 ? { ...h, qty: 5 } : h)) }
  await client.tally(build, edited)
  expect(kinds(sent.at(-1))).toEqual([0, ['holdings']])
  expect(sent.at(-1)?.patches['holdings']).toMatchObject({ at: 7, removed: 1, added: [{ id: 'h-7', qty: 5 }] })
  await client.tally(build, edited)
  expect(kinds(sent.at(-1))).toEqual([0, []])
  failing = true
  await expect(client.tally(build, edited)).rejects.toThrow('no count')
  failing = false
  await client.tally(build, edited)
  expect(kinds(sent.at(-1))).toEqual([10, []])
  workers[0]?.crash('gone')
  await client.tally(build, edited)
  expect(kinds(sent.at(-1))).toEqual([10, []])
  port.stop()
})
