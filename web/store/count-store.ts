import type { Build } from '../../core/build/build.ts'
import { snapshotOf, type Snapshot, type SnapshotRecords } from '../../core/netting/snapshot.ts'
import type { Tally } from '../../core/netting/tally.ts'
import type { BuildId } from '../../core/units/ids.ts'

/** A count and the state it was made from: they never part. */
export type Count = {
  readonly build: Build
  readonly records: SnapshotRecords
  /** The build as it was counted. */
  readonly snapshot: Snapshot
  readonly result: Tally
}

/** Why the last count of a build failed, and of which state; it stays until that state changes or it is tried again. */
export type CountFailure = {
  readonly build: Build
  readonly records: SnapshotRecords
  readonly message: string
}

/** Makes counts; rejects when it cannot. */
export type Counter = (build: Build, records: SnapshotRecords) => Promise<Tally>

type Job = { readonly build: Build; readonly records: SnapshotRecords }

/**
 * The last count of each build, made one after the other for the newest state asked for. A count that fails is that
 * build's failure alone: its last count stays, and the next change or `retry` counts again.
 */
export class CountStore {
  readonly #count: Counter
  readonly #counts = new Map<BuildId, Count>()
  readonly #failures = new Map<BuildId, CountFailure>()
  readonly #waiting = new Map<BuildId, Job>()
  readonly #listeners = new Set<() => void>()
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
    if (!this.#current) void this.#work()
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
    for (let next = this.#waiting.values().next().value; next; next = this.#waiting.values().next().value) {
      const { build, records } = (this.#current = next)
      this.#waiting.delete(build.id)
      try {
        const result = await this.#count(build, records)
        this.#counts.set(build.id, { build, records, snapshot: snapshotOf(build, records), result })
        this.#failures.delete(build.id)
      } catch (error) {
        const message = error instanceof Error ? error.message : String(error)
        this.#failures.set(build.id, { build, records, message })
      }
      this.#tell()
    }
    this.#current = undefined
  }

  #tell(): void {
    this.#version++
    for (const listener of this.#listeners) listener()
  }
}
