import { kindOf, RECORD_KINDS, type RecordKind } from '../core/records/registry.ts'
import { AT, SAMPLES } from '../core/records/records.test-data.ts'
import { Database } from './database.ts'
import { undo } from './journal.ts'

const without = (...later: readonly RecordKind[]): readonly RecordKind[] =>
  RECORD_KINDS.filter((k) => !later.includes(k))
const SETTLED = ['entries', 'sales', 'notes'] as const
const FIRST = without('versions', 'pictures', 'decisions', 'scenarios', 'orders', 'units', 'makings', ...SETTLED)
const TO_SEVEN = without('scenarios', 'orders', 'units', 'makings', ...SETTLED)
const TO_EIGHT = without('orders', 'units', 'makings', ...SETTLED)
const TO_NINE = without('units', 'makings', ...SETTLED)
const TO_TEN = without(...SETTLED)

/** How an act was kept: within its entry, as a whole beside it, in pieces. */
type Journal = 'within' | 'whole' | 'pieces'

/** What a browser of each version of the database may hold: the kinds there were, and how acts were kept. */
const FIXTURES: readonly { readonly kinds: readonly RecordKind[]; readonly journal: Journal }[] = [
  { kinds: FIRST, journal: 'within' },
  { kinds: FIRST, journal: 'within' },
  { kinds: FIRST, journal: 'whole' },
  { kinds: [...FIRST, 'versions', 'pictures'], journal: 'whole' },
  { kinds: TO_SEVEN, journal: 'whole' },
  { kinds: TO_SEVEN, journal: 'whole' },
  { kinds: TO_SEVEN, journal: 'pieces' },
  { kinds: TO_EIGHT, journal: 'pieces' },
  { kinds: TO_NINE, journal: 'pieces' },
  { kinds: TO_TEN, journal: 'pieces' },
  { kinds: RECORD_KINDS, journal: 'pieces' },
]

let serial = 0

async function databaseOf(version: number): Promise<string> {
  const fixture = FIXTURES[version - 1]
  if (!fixture) throw new Error(`There is no fixture of version ${version}: add one.`)
  const name = `version-${version}-${serial++}`
  const db = new Database(name, version)
  for (const kind of fixture.kinds) await db.table(kind).put(SAMPLES[kind])
  const added = { ...SAMPLES.places, id: 'l-added' }
  await db.table('places').put(added)
  await db.settings.put({ id: 'exported', value: AT })
  const changes = [{ kind: 'places', before: [], after: [added], ids: [added.id] }]
  const entry = { label: 'Added a place', at: AT, done: true }
  if (fixture.journal === 'within') await db.journal.add({ ...entry, changes } as never)
  else {
    const id = await db.journal.add(entry)
    if (fixture.journal === 'whole') await db.table('changes').put({ id, changes })
    else await db.pieces.add({ entry: id, changes } as never)
  }
  db.close()
  return name
}

test('there is a fixture for every version of the database', async () => {
  const db = new Database(`version-now-${serial++}`)
  await db.open()
  expect(FIXTURES).toHaveLength(db.verno)
})

test.each(FIXTURES.map(({ kinds }, i) => [i + 1, kinds] as const))(
  'version %i opens with every record as it was, its settings, and an act that can be undone',
  async (version, kinds) => {
    const db = new Database(await databaseOf(version))
    for (const kind of kinds) expect(await db.table(kind).get(SAMPLES[kind].id)).toEqual(SAMPLES[kind])
    for (const kind of RECORD_KINDS)
      expect(await db.table(kind).count()).toBeGreaterThanOrEqual(kinds.includes(kind) ? 1 : 0)
    expect(await db.settings.get('exported')).toEqual({ id: 'exported', value: AT })
    expect(await undo(db)).toMatchObject({ ok: true, value: { label: 'Added a place' } })
    expect(await db.table('places').toArray()).toEqual([SAMPLES.places])
    // What finds holdings and copies still does.
    expect(await db.records('holdings').where('place').equals(SAMPLES.holdings.place).count()).toBe(1)
    expect(await db.records('copies').where('buildId').equals('b-1').count()).toBe(1)
  },
)

test('the browser finds records by what the registry says, and by nothing else', async () => {
  const db = new Database(`version-now-${serial++}`)
  await db.open()
  for (const kind of RECORD_KINDS) {
    const { indexes, primKey } = db.table(kind).schema
    expect([kind, primKey.name, indexes.map((i) => i.name).sort()]).toEqual([
      kind,
      'id',
      [...(kindOf(kind).indexes ?? [])].sort(),
    ])
  }
})
