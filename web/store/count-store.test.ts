import type { Build } from '../../core/build/build.ts'
import type { SnapshotRecords } from '../../core/netting/snapshot.ts'
import type { Tally } from '../../core/netting/tally.ts'
import type { BuildId } from '../../core/units/ids.ts'
import { CountStore } from './count-store.ts'

const records = (): SnapshotRecords =>
  ({
    designs: [],
    sets: [],
    copies: [],
    holdings: [],
    places: [],
    decisions: [],
    made: [],
  }) as unknown as SnapshotRecords
const build = (id: string): Build => ({ id: id as BuildId, name: id }) as Build

/** A store whose counts are answered by hand. */
function byHand() {
  const asked: { build: Build; answer: (result: Tally) => void; fail: (message: string) => void }[] = []
  const store = new CountStore(
    (of) =>
      new Promise((resolve, reject) => {
        asked.push({
          build: of,
          answer: resolve,
          fail: (message) => {
            reject(new Error(message))
          },
        })
      }),
  )
  return { asked, store }
}
const turn = () => new Promise((resolve) => setTimeout(resolve, 0))
const result = (need: number) => ({ need }) as unknown as Tally

test('a count keeps the state it was made from, whatever has changed by the time it arrives', async () => {
  const { asked, store } = byHand()
  const [one, then, first, second] = [records(), records(), build('b-1'), build('b-1')]
  store.request({ build: first, records: one })
  store.request({ build: second, records: then })
  asked[0]?.answer(result(1))
  await turn()
  expect(store.countOf(first.id)).toMatchObject({ result: { need: 1 } })
  expect(store.countOf(first.id)?.build).toBe(first)
  expect(store.countOf(first.id)?.records).toBe(one)
  asked[1]?.answer(result(2))
  await turn()
  const count = store.countOf(first.id)
  expect([count?.build === second, count?.records === then, count?.result.need]).toEqual([true, true, 2])
})

test('one failed count harms that build alone; the next change of it counts again', async () => {
  const { asked, store } = byHand()
  const state = records()
  const [bad, good] = [build('b-bad'), build('b-good')]
  store.request({ build: bad, records: state })
  store.request({ build: good, records: state })
  asked[0]?.fail('it crashed')
  await turn()
  asked[1]?.answer(result(7))
  await turn()
  expect(store.failureOf({ build: bad, records: state })?.message).toBe('it crashed')
  expect(store.countOf(good.id)?.result.need).toBe(7)
  expect(store.failureOf({ build: good, records: state })).toBeUndefined()
  // The same state is not tried over and over.
  store.request({ build: bad, records: state })
  expect(asked.length).toBe(2)
  const changed = records()
  store.request({ build: bad, records: changed })
  expect(store.failureOf({ build: bad, records: changed })).toBeUndefined()
  asked[2]?.answer(result(3))
  await turn()
  expect(store.countOf(bad.id)?.result.need).toBe(3)
})

test('a failure leaves the last count, and trying again heals it', async () => {
  const { asked, store } = byHand()
  const [before, after] = [records(), records()]
  const own = build('b-1')
  store.request({ build: own, records: before })
  asked[0]?.answer(result(1))
  await turn()
  store.request({ build: own, records: after })
  asked[1]?.fail('no')
  await turn()
  expect(store.countOf(own.id)?.result.need).toBe(1)
  store.retry({ build: own, records: after })
  asked[2]?.answer(result(2))
  await turn()
  expect(store.countOf(own.id)?.result.need).toBe(2)
  expect(store.failureOf({ build: own, records: after })).toBeUndefined()
})

test('only the newest state of a build is counted, and who waits is told of a failure too', async () => {
  const { asked, store } = byHand()
  const own = build('b-1')
  const states = [records(), records(), records()]
  for (const state of states) store.request({ build: own, records: state })
  expect(asked.length).toBe(1)
  asked[0]?.answer(result(0))
  await turn()
  expect(asked.length).toBe(2)
  const last = { build: own, records: states[2] as SnapshotRecords }
  asked[1]?.fail('no')
  await turn()
  await store.settled(last)
  const other = build('b-2')
  const waited = store.settled({ build: other, records: last.records })
  await turn()
  asked[2]?.fail('nor this')
  await waited
  expect(store.failureOf({ build: other, records: last.records })?.message).toBe('nor this')
})
