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
          answer: (counted) => {
            resolve({ result: counted })
          },
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

/** A store whose counts are there at once and whose proofs are answered by hand. */
function withProofs() {
  const asked: string[] = []
  const proofs: { of: Build; answer: (result: Tally | undefined) => void; fail: () => void }[] = []
  const store = new CountStore((of) => {
    asked.push(of.id)
    const prove = () =>
      new Promise<Tally | undefined>((resolve, reject) => {
        proofs.push({
          of,
          answer: resolve,
          fail: () => {
            reject(new Error('no'))
          },
        })
      })
    return Promise.resolve({ result: result(asked.length), prove })
  })
  return { asked, proofs, store }
}

test('a count that can be proven is told at once, and again when that is done', async () => {
  const { proofs, store } = withProofs()
  const job = { build: build('b-1'), records: records() }
  store.request(job)
  await store.settled(job)
  expect(store.countOf(job.build.id)).toMatchObject({ result: { need: 1 }, proving: true })
  const before = store.version()
  await turn()
  proofs[0]?.answer(result(9))
  await turn()
  expect(store.countOf(job.build.id)).toMatchObject({ result: { need: 9 }, proving: false, ...job })
  expect(store.version()).toBeGreaterThan(before)
  // The proven state is not counted again.
  store.request(job)
  await turn()
  expect(store.countOf(job.build.id)?.result.need).toBe(9)
})

test('a proof that fails or brings nothing leaves the count as it is', async () => {
  const { proofs, store } = withProofs()
  for (const end of ['fail', 'nothing']) {
    const job = { build: build(`b-${end}`), records: records() }
    store.request(job)
    await turn()
    const first = store.countOf(job.build.id)
    expect(first?.proving).toBe(true)
    if (end === 'fail') proofs.at(-1)?.fail()
    else proofs.at(-1)?.answer(undefined)
    await turn()
    expect(store.countOf(job.build.id)).toMatchObject({ proving: false })
    expect(store.countOf(job.build.id)?.result).toBe(first?.result)
    expect(store.failureOf(job)).toBeUndefined()
  }
})

test('whoever waits for a count goes before proofs; the proof of a state that has changed since is not taken', async () => {
  const { asked, proofs, store } = withProofs()
  const [own, other] = [build('b-1'), build('b-2')]
  const [before, after] = [records(), records()]
  store.request({ build: own, records: before })
  store.request({ build: other, records: before })
  await turn()
  // Both were counted before the first was proven.
  expect(asked).toEqual(['b-1', 'b-2'])
  expect(proofs.map(({ of }) => of.id)).toEqual(['b-1'])
  store.request({ build: own, records: after })
  proofs[0]?.answer(result(99))
  await turn()
  expect(asked).toEqual(['b-1', 'b-2', 'b-1'])
  expect(store.countOf(own.id)).toMatchObject({ result: { need: 3 }, records: after, proving: true })
  // A count that is replaced before its turn comes is not proven at all.
  const third = records()
  store.request({ build: own, records: third })
  proofs[1]?.answer(undefined)
  await turn()
  expect(store.countOf(own.id)).toMatchObject({ result: { need: 4 }, records: third, proving: true })
  proofs[2]?.answer(undefined)
  await turn()
  expect(store.countOf(own.id)).toMatchObject({ records: third, proving: false })
  expect(proofs.map(({ of }) => of.id)).toEqual(['b-1', 'b-2', 'b-1'])
})
