import { use, useEffect, useMemo, useSyncExternalStore } from 'react'
import type { Build } from '../../core/planning/build.ts'
import { findConflicts, type Conflict } from '../../core/planning/reservations.ts'
import { snapshotOf, type Snapshot, type SnapshotRecords } from '../../core/planning/snapshot.ts'
import type { Tally } from '../../core/planning/tally.ts'
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
}

/** The last tally of each build; screens and the rail share it. */
const entries = new Map<BuildId, Entry>()
/** A state of a build to be tallied. */
type Job = { readonly build: Build; readonly records: SnapshotRecords }

/** What has to be tallied next, the newest state of each build only. */
const waiting = new Map<BuildId, Job>()
const listeners = new Set<() => void>()
/** What is being tallied. */
let current: Job | undefined
let failure: Error | undefined
let version = 0

function subscribe(listener: () => void): () => void {
  listeners.add(listener)
  return () => listeners.delete(listener)
}

/** Asks for a tally; several screens ask for the same one, which is made once. */
function request(build: Build, records: SnapshotRecords): void {
  const last = current?.build.id === build.id ? current : entries.get(build.id)
  if (last?.build === build && last.records === records) {
    waiting.delete(build.id)
    return
  }
  waiting.set(build.id, { build, records })
  if (!current) void work()
}

async function work(): Promise<void> {
  for (let next = waiting.values().next().value; next; next = waiting.values().next().value) {
    const { build, records } = (current = next)
    waiting.delete(build.id)
    try {
      const result = await tallyWorker().tally(build, records)
      entries.set(build.id, { build, records, result })
    } catch (error) {
      failure = error instanceof Error ? error : new Error(String(error))
    }
    version++
    for (const listener of listeners) listener()
  }
  current = undefined
}

/** Of each build, what its first tally is waited for with. */
const firsts = new Map<BuildId, Promise<void>>()

/** Waits for the first tally of a build: until then there is nothing to show. Nothing to wait for once there is one. */
function firstTally(build: Build, records: SnapshotRecords): Promise<void> {
  const known = firsts.get(build.id)
  if (known) return known
  const made = new Promise<void>((resolve, reject) => {
    const look = () => {
      if (failure) reject(failure)
      else if (entries.has(build.id)) resolve()
      else return
      leave()
    }
    const leave = subscribe(look)
    request(build, records)
  })
  firsts.set(build.id, made)
  return made
}

function told(build: Build, records: SnapshotRecords, { result, ...entry }: Entry): BuildTally {
  const stale = entry.build !== build || entry.records !== records
  return { snapshot: snapshotOf(build, records), result, stale }
}

const useVersion = (): number => {
  const now = useSyncExternalStore(subscribe, () => version)
  if (failure) throw failure
  return now
}

/**
 * One build as it is, and its tally; `undefined` when there is no such build. A worker makes the tallies: the first is
 * waited for (the nearest `Suspense` shows that), after a change the last one stays, marked stale, until the next is made.
 */
export function useTally(id: BuildId): BuildTally | undefined {
  const { builds, tallied } = useRecords()
  useVersion()
  const build = builds.find((b) => b.id === id)
  useEffect(() => {
    if (build) request(build, tallied)
  }, [build, tallied])
  if (build && !entries.has(build.id)) use(firstTally(build, tallied))
  const entry = entries.get(id)
  return useMemo(() => build && entry && told(build, tallied, entry), [build, tallied, entry])
}

/** The tallies of all builds that have one by now. */
export function useTallies(): readonly BuildTally[] {
  const { builds, tallied } = useRecords()
  const now = useVersion()
  useEffect(() => {
    for (const build of builds) request(build, tallied)
  }, [builds, tallied])
  return useMemo(() => {
    void now
    return builds.flatMap((build) => {
      const entry = entries.get(build.id)
      return entry ? [told(build, tallied, entry)] : []
    })
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
