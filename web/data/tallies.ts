import { useEffect, useMemo, useSyncExternalStore } from 'react'
import type { Build } from '../../core/planning/build.ts'
import { findConflicts, type Conflict } from '../../core/planning/reservations.ts'
import { snapshotOf, type Snapshot, type SnapshotRecords } from '../../core/planning/snapshot.ts'
import { tally, type Tally } from '../../core/planning/tally.ts'
import type { BuildId } from '../../core/units/ids.ts'
import { tallyWorker } from '../../workers/tally-client.ts'
import { useRecords } from './records.tsx'

export type BuildTally = {
  /** The build as it is now. */
  readonly snapshot: Snapshot
  /** Its tally; while `stale`, of a moment ago. */
  readonly result: Tally
  /** Something it rests on has changed since: a new tally is being made. */
  readonly stale: boolean
}

type Entry = {
  readonly build: Build
  readonly records: SnapshotRecords
  readonly result: Tally
  /** Nothing better is to be had for this state of affairs. */
  readonly settled: boolean
}

/** The last tally of each build; screens and the rail share it. */
const entries = new Map<BuildId, Entry>()
/** What has to be tallied next, the newest state of each build only. */
const waiting = new Map<BuildId, { readonly build: Build; readonly records: SnapshotRecords }>()
const listeners = new Set<() => void>()
let busy = false
let failure: Error | undefined
let version = 0

function subscribe(listener: () => void): () => void {
  listeners.add(listener)
  return () => listeners.delete(listener)
}

function request(build: Build, records: SnapshotRecords): void {
  const entry = entries.get(build.id)
  if (entry?.build === build && entry.records === records && entry.settled) return
  waiting.set(build.id, { build, records })
  if (!busy) void work()
}

async function work(): Promise<void> {
  busy = true
  for (let next = waiting.values().next().value; next; next = waiting.values().next().value) {
    const { build, records } = next
    waiting.delete(build.id)
    try {
      const result = await tallyWorker().tally(build, records)
      entries.set(build.id, { build, records, result, settled: true })
    } catch (error) {
      failure = error instanceof Error ? error : new Error(String(error))
    }
    version++
    for (const listener of listeners) listener()
  }
  busy = false
}

/** The first tally of a build is made on the spot, so that there is something to show; the worker makes all others. */
function tallyNow(build: Build, records: SnapshotRecords): BuildTally {
  const snapshot = snapshotOf(build, records)
  let entry = entries.get(build.id)
  if (!entry) {
    const result = tally(snapshot)
    entry = { build, records, result, settled: result.proven }
    entries.set(build.id, entry)
  }
  return { snapshot, result: entry.result, stale: entry.build !== build || entry.records !== records }
}

const useVersion = (): number => {
  const now = useSyncExternalStore(subscribe, () => version)
  if (failure) throw failure
  return now
}

/**
 * One build as it is, and its tally; `undefined` when there is no such build. After a change the last tally stays,
 * marked stale, until a worker has made the next.
 */
export function useTally(id: BuildId): BuildTally | undefined {
  const { builds, tallied } = useRecords()
  const now = useVersion()
  const build = builds.find((b) => b.id === id)
  useEffect(() => {
    if (build) request(build, tallied)
  }, [build, tallied])
  return useMemo(() => {
    void now
    return build && tallyNow(build, tallied)
  }, [build, tallied, now])
}

/** The tallies of all builds. */
export function useTallies(): readonly BuildTally[] {
  const { builds, tallied } = useRecords()
  const now = useVersion()
  useEffect(() => {
    for (const build of builds) request(build, tallied)
  }, [builds, tallied])
  return useMemo(() => {
    void now
    return builds.map((build) => tallyNow(build, tallied))
  }, [builds, tallied, now])
}

/** Pieces on the shelf that several builds count on; none with a single build. */
export function useConflicts(): Conflict[] {
  const tallies = useTallies()
  return useMemo(() => {
    const [first] = tallies
    if (!first || tallies.length < 2) return []
    return findConflicts(
      tallies.map(({ snapshot, result }) => ({ build: snapshot.build.id, tally: result })),
      first.snapshot.holdings,
    )
  }, [tallies])
}
