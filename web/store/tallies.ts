import { use, useEffect, useMemo, useSyncExternalStore } from 'react'
import { findConflicts, type Conflict } from '../../core/shelf/reservations.ts'
import type { Build } from '../../core/build/build.ts'
import { snapshotOf, type Snapshot, type SnapshotRecords } from '../../core/netting/snapshot.ts'
import type { Tally } from '../../core/netting/tally.ts'
import type { BuildId } from '../../core/units/ids.ts'
import { tallyWorker } from '../../workers/tally-client.ts'
import { CountStore, type Count } from './count-store.ts'
import { useRecords } from './records.tsx'

/** A build's last count, and how it stands to the build as it is now. */
export type BuildTally = {
  /** What was counted; read and acted upon together with `result` alone. */
  readonly snapshot: Snapshot
  readonly result: Tally
  readonly count: Count
  /** The build as it is now, for edits of it: `snapshot` itself unless `stale`. */
  readonly now: Snapshot
  /** Something it rests on has changed since: a new count is being made, unless that failed. */
  readonly stale: boolean
  /** The count of the build as it is now failed. */
  readonly failure: CountProblem | undefined
}

export type CountProblem = { readonly message: string; readonly retry: () => void }

/** A build that could not be counted at all: screens cannot be shown, but it can be tried again. */
export class NotCounted extends Error {
  readonly retry: () => void

  constructor({ message, retry }: CountProblem) {
    super(message)
    this.name = 'NotCounted'
    this.retry = retry
  }
}

/** The counts of this tab; screens and the rail share them. */
const store = new CountStore((build, records) => tallyWorker().tally(build, records))

type Job = Parameters<CountStore['request']>[0]

/** Of each build, the state whose count is waited for, and what with. */
const firsts = new Map<BuildId, { readonly job: Job; readonly made: Promise<void> }>()
/** A promise that React need not wait for. */
const DONE: Promise<void> = Object.assign(Promise.resolve(), { status: 'fulfilled', value: undefined })

/**
 * What to wait for until a build has a count. Of each build it stays the same once there is one: React may begin a
 * component again where it waited, and must find there what it waited for.
 */
function firstCount(job: Job): Promise<void> {
  const known = firsts.get(job.build.id)
  const counted = store.countOf(job.build.id) !== undefined
  if (known && (counted || (known.job.build === job.build && known.job.records === job.records))) return known.made
  const made = counted ? DONE : store.settled(job)
  firsts.set(job.build.id, { job, made })
  return made
}

const problemOf = (job: Job): CountProblem | undefined => {
  const failure = store.failureOf(job)
  return (
    failure && {
      message: failure.message,
      retry: () => {
        firsts.delete(job.build.id)
        store.retry(job)
      },
    }
  )
}

function told(job: Job, count: Count): BuildTally {
  const stale = count.build !== job.build || count.records !== job.records
  return {
    snapshot: count.snapshot,
    result: count.result,
    count,
    now: stale ? snapshotOf(job.build, job.records) : count.snapshot,
    stale,
    failure: problemOf(job),
  }
}

const useVersion = (): number => useSyncExternalStore(store.subscribe, store.version)

/**
 * One build's last count; `undefined` when there is no such build. A worker makes the counts: the first is waited for
 * (the nearest `Suspense` shows that), after a change the last one stays, marked stale, until the next is made. A build
 * that was never counted and cannot be is thrown as `NotCounted`.
 */
export function useTally(id: BuildId): BuildTally | undefined {
  const { builds, tallied } = useRecords()
  const now = useVersion()
  const build = builds.find((b) => b.id === id)
  useEffect(() => {
    if (build) store.request({ build, records: tallied })
  }, [build, tallied, now])
  if (build && !store.countOf(id)) {
    const problem = problemOf({ build, records: tallied })
    if (problem) throw new NotCounted(problem)
  }
  use(build ? firstCount({ build, records: tallied }) : DONE)
  const count = store.countOf(id)
  return useMemo(() => {
    void now
    return build && count && told({ build, records: tallied }, count)
  }, [build, tallied, count, now])
}

/** The counts of all builds that have one by now. */
export function useTallies(): readonly BuildTally[] {
  const { builds, tallied } = useRecords()
  const now = useVersion()
  useEffect(() => {
    // What is set aside is counted when it is opened.
    for (const build of builds) if (!build.archived) store.request({ build, records: tallied })
  }, [builds, tallied])
  return useMemo(() => {
    void now
    return builds.flatMap((build) => {
      if (build.archived) return []
      const count = store.countOf(build.id)
      return count ? [told({ build, records: tallied }, count)] : []
    })
  }, [builds, tallied, now])
}

/** Pieces on the shelf that several builds count on; none with a single build. */
export function useConflicts(): Conflict[] {
  const tallies = useTallies()
  return useMemo(() => {
    // Counts of different states of the shelf say nothing of one another.
    const fresh = tallies.filter((t) => !t.stale)
    const [first] = fresh
    if (!first || fresh.length < 2) return []
    return findConflicts(
      fresh.map(({ snapshot, result }) => ({ build: snapshot.build.id, tally: result })),
      first.snapshot.holdings,
    )
  }, [tallies])
}

/** A count of a build as it is now, for an act that rests on it; rejects where it cannot be made. */
export async function countNow(build: Build, records: SnapshotRecords) {
  const snapshot = snapshotOf(build, records)
  const { result, prove } = await tallyWorker().tally(build, records)
  return { snapshot, result: (await prove?.()) ?? result }
}
