import fc from 'fast-check'
import type { BuildId } from '../units/ids.ts'
import { withoutShared, takenFrom } from './shared-records.ts'
import { of, fixture } from './fixture.test-data.ts'
import { snapshotOf, type Snapshot, type SnapshotRecords } from './snapshot.ts'

const {
  build,
  design,
  sets,
  holdings,
  places,
  parts,
  colourById = new Map<never, never>(),
} = fixture({}, [{ item: of('plate 2x4'), qty: 2 }], [{ item: of('plate 2x4'), qty: 1 }])
const records: SnapshotRecords = {
  designs: [{ id: 'b-other' as BuildId, modules: [] }, design],
  sets,
  copies: [],
  holdings,
  places,
  partById: parts,
  colourById,
  market: { shops: [], offers: [] },
  decisions: [],
  made: [],
}

test('a snapshot divided is whole again with what is shared; only what is in the records as it is, is shared', () => {
  /** Other values of what a snapshot consists of: equal ones count as others too. */
  const others: Partial<Snapshot> = {
    design: { ...design },
    sets: [...sets],
    holdings: [...holdings],
    places: [],
    parts: new Map(parts),
    market: { shops: [], offers: [] },
  }
  const kinds = fc.subarray(Object.keys(others) as (keyof typeof others)[])
  fc.assert(
    fc.property(kinds, kinds, (changed, unknown) => {
      const snapshot: Snapshot = {
        ...snapshotOf(build, records),
        ...Object.fromEntries(changed.map((kind) => [kind, others[kind]])),
      }
      // What was not sent yet cannot be shared.
      const there = Object.fromEntries(
        Object.entries(records).filter(
          ([kind]) => !unknown.some((u) => kind === u || (u === 'parts' && kind === 'partById')),
        ),
      ) as Partial<SnapshotRecords>
      const { shared, rest } = withoutShared(snapshot, there)
      const whole = { ...rest, ...takenFrom(records, shared) }
      for (const key of Object.keys(snapshot) as (keyof Snapshot)[]) expect(whole[key]).toBe(snapshot[key])
      for (const kind of changed) expect(rest[kind]).toBe(others[kind])
      if (!changed.includes('holdings') && !unknown.includes('holdings')) expect(rest.holdings).toBeUndefined()
      if (!changed.includes('design')) expect(rest.design).toBeUndefined()
    }),
  )
})
