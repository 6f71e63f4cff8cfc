import type { BuildId } from '../units/ids.ts'
import type { Snapshot, SnapshotRecords } from './snapshot.ts'

/** Parts of a snapshot that are records as they are, by the name they go by there: the large ones. */
const KINDS = {
  sets: 'sets',
  holdings: 'holdings',
  places: 'places',
  parts: 'partById',
  colourById: 'colourById',
  market: 'market',
  decisions: 'decisions',
} as const satisfies Partial<Record<keyof Snapshot, keyof SnapshotRecords>>

type SharedKind = keyof typeof KINDS

/** What of a snapshot is to be had elsewhere, from records as they are: the kinds, and the build whose design it is. */
export type SharedRecords = { readonly kinds: readonly SharedKind[]; readonly design: BuildId | undefined }

/** A snapshot without what is shared. */
export type Rest = Partial<Snapshot> & Pick<Snapshot, 'build' | 'copies'>

/** Divides a snapshot into what some records contain, by identity, and the rest. */
export function withoutShared(
  snapshot: Snapshot,
  records: Partial<SnapshotRecords>,
): { shared: SharedRecords; rest: Rest } {
  const kinds = (Object.keys(KINDS) as SharedKind[]).filter((kind) => snapshot[kind] === records[KINDS[kind]])
  const design = records.designs?.includes(snapshot.design) ? snapshot.design.id : undefined
  const isShared = (kind: string) => kinds.some((k) => k === kind) || (kind === 'design' && design !== undefined)
  const rest = Object.fromEntries(Object.entries(snapshot).filter(([kind]) => !isShared(kind))) as Rest
  return { shared: { kinds, design }, rest }
}

/** What is shared, taken from the records. */
export function takenFrom(records: SnapshotRecords, { kinds, design }: SharedRecords): Partial<Snapshot> {
  const own = design === undefined ? undefined : records.designs.find((d) => d.id === design)
  return { ...Object.fromEntries(kinds.map((kind) => [kind, records[KINDS[kind]]])), ...(own && { design: own }) }
}
