import type { Build } from '../../core/build/build.ts'
import { snapshotOf, type Snapshot, type SnapshotRecords } from '../../core/netting/snapshot.ts'
import type { Tally } from '../../core/netting/tally.ts'
import type { BuildId } from '../../core/units/ids.ts'
import type { FirstCount } from '../../workers/tally-client.ts'

/** A count and the state it was made from: they never part. */
export type Count = {
  readonly build: Build
  readonly records: SnapshotRecords
  /** The build as it was counted. */
  readonly snapshot: Snapshot
  readonly result: Tally
  /** It is not proven yet, and that is being tried: the same state gets another count if that brings anything. */
  readonly proving: boolean
}

/** Why the last count of a build failed, and of which state; it stays until that state changes or it is tried again. */
export type CountFailure = {
  readonly build: Build
  readonly records: SnapshotRecords
  readonly message: string
}

/** Makes counts; rejects when it cannot. What it cannot prove at once it may prove when asked. */
export type Counter = (build: Build, records: SnapshotRecords) => Promise<FirstCount>

type Job = { readonly build: Build; readonly records: SnapshotRecords }
type Prove = NonNullable<FirstCount['prove']>

/**
 * The last count of each build, made one after the other for the newest state asked for; proofs come when nothing waits to
 * be counted. A count that fails is that build's failure alone: its last count stays, and the next change or `retry` counts
 * again.
 */
export class CountStore {
  readonly #count: Counter
  readonly #counts = new Map<BuildId, Count>()
  readonly #failures = new Map<BuildId, CountFailure>()
  readonly #waiting = new Map<BuildId, Job>()
  /** Counts that may still be proven, and how. */
  readonly #unproven = new Map<Count, Prove>()
  readonly #listeners = new Set<() => void>()
  #working = false
  /** What is being counted. */
  #current: Job | undefined
  #version = 0

  constructor(count: Counter) {
    this.#count = count
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener)
    return () => this.#listeners.delete(listener)
  }
  /** Another number whenever a count or a failure came in. */
  readonly version = (): number => this.#version
  readonly countOf = (id: BuildId): Count | undefined => this.#counts.get(id)
  /** The failure of just this state of a build; none once it changed. */
  failureOf({ build, records }: Job): CountFailure | undefined {
    const failure = this.#failures.get(build.id)
    return failure?.build === build && failure.records === records ? failure : undefined
  }

  /** Asks for a count of a state; one that is made, being made or known to fail is not made again. */
  request(job: Job): void {
    const { build, records } = job
    const last = this.#current?.build.id === build.id ? this.#current : this.#counts.get(build.id)
    if ((last?.build === build && last.records === records) || this.failureOf(job)) {
      this.#waiting.delete(build.id)
      return
    }
    this.#waiting.set(build.id, job)
    if (!this.#working) void this.#work()
  }

  /** Forgets a failure and counts again. */
  retry(job: Job): void {
    this.#failures.delete(job.build.id)
    this.request(job)
    this.#tell()
  }

  /** Resolves when a build has a count, or this state of it is known to fail. */
  settled(job: Job): Promise<void> {
    return new Promise((resolve) => {
      const look = () => {
        if (!this.#counts.has(job.build.id) && !this.failureOf(job)) return
        leave()
        resolve()
      }
      const leave = this.subscribe(look)
      this.request(job)
      look()
    })
  }

  async #work(): Promise<void> {
    this.#working = true
    for (let next = this.#next(); next; next = this.#next()) await next()
    this.#working = false
  }

  /** What to do next: a count that is waited for; otherwise a proof. */
  #next(): (() => Promise<void>) | undefined {
    const [job] = this.#waiting.values()
    if (job) return () => this.#make(job)
    this.#current = undefined
    const [proof] = this.#unproven
    return proof && (() => this.#prove(...proof))
  }

  async #make(job: Job): Promise<void> {
    const { build, records } = (this.#current = job)
    this.#waiting.delete(build.id)
    try {
      const { result, prove } = await this.#count(build, records)
      const count = { build, records, snapshot: snapshotOf(build, records), result, proving: prove !== undefined }
      this.#keep(count)
      if (prove) this.#unproven.set(count, prove)
      this.#failures.delete(build.id)
    } catch (error) {
      const message = error instanceof Error ? error.message : String(error)
      this.#failures.set(build.id, { build, records, message })
    }
    this.#tell()
  }

  /** Has a count proven, if it is still the last of its build when that is done; one that fails leaves it as it is. */
  async #prove(count: Count, prove: Prove): Promise<void> {
    this.#unproven.delete(count)
    const result = (await prove().catch(() => undefined)) ?? count.result
    if (this.#counts.get(count.build.id) !== count) return
    this.#keep({ ...count, result, proving: false })
    this.#tell()
  }

  #keep(count: Count): void {
    const last = this.#counts.get(count.build.id)
    if (last) this.#unproven.delete(last)
    this.#counts.set(count.build.id, count)
  }

  #tell(): void {
    this.#version++
    for (const listener of this.#listeners) listener()
  }
}
