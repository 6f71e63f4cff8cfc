import { HOSTILE_JOBS } from '../../e2e/hostile-jobs.ts'
import { PALETTE } from '../colours/palette.ts'
import { partFromName } from '../catalogue/part.ts'
import { explode } from '../design/explode.ts'
import { designFaults } from '../design/faults.ts'
import { footprint } from '../design/footprint.ts'
import { snapshotOf } from '../netting/snapshot.ts'
import { tally } from '../netting/count.ts'
import { expectedSupply } from '../orders/expected-supply.ts'
import { madeOf } from '../making/made.ts'
import { sellerRecords } from '../orders/seller-record.ts'
import { placeStates } from '../shelf/place-state.ts'
import { placeTree } from '../shelf/place-tree.ts'
import { readJobFile, type JobFile } from './job-file.ts'

/** Seconds that a fixed piece of work takes now: bounds are told in such pieces, as machines differ and are shared. */
function piece(): number {
  const started = performance.now()
  const words = new Map<string, number>()
  for (let i = 0; i < 300_000; i++) {
    const word = `plate ${(i * 7919) % 4001}`
    words.set(word, (words.get(word) ?? 0) + word.length)
  }
  return (performance.now() - started) / 1000
}

/** What screens work out of records. */
function look(file: JobFile): void {
  const { sets, copies, holdings, places, shops, offers, decisions, orders, units } = file
  placeTree(places, holdings)
  expectedSupply(orders)
  sellerRecords(orders)
  placeStates(places)
  const records = {
    designs: file.designs,
    sets,
    copies,
    holdings,
    places,
    decisions,
    made: madeOf(units),
    partById: new Map([partFromName('plate 2x4'), ...file.parts].map((p) => [p.id, p])),
    colourById: new Map([...PALETTE, ...file.colours].map((c) => [c.id, c])),
    market: { shops, offers },
  }
  for (const build of file.builds) tally(snapshotOf(build, records)).lines.at(0)
  for (const design of file.designs) {
    designFaults(design)
    explode(design, { later: true })
    footprint(design, { width: 10, depth: 10, height: 10 })
  }
}

/** What a file may cost, in fixed pieces of work measured at that moment. */
const MOST_PIECES_OF_WORK = 30

/** What it costs to read a file, and to reckon with what it holds. */
function workOf(file: string): number {
  const unit = Math.max(0.05, piece())
  const started = performance.now()
  const read = readJobFile(file)
  if (read.ok) look(read.value)
  return (performance.now() - started) / 1000 / unit
}

test('there are a hundred hostile files and more, all different', () => {
  expect(HOSTILE_JOBS.length).toBeGreaterThan(150)
  expect(new Set(HOSTILE_JOBS.map((j) => j.name)).size).toBe(HOSTILE_JOBS.length)
})

test('each is refused in a few words, or read whole and reckoned with in time', () => {
  const outcome = { refused: 0, read: 0 }
  const late: string[] = []
  for (const { name, text } of HOSTILE_JOBS) {
    const file = text()
    const read = readJobFile(file)
    if (read.ok) {
      outcome.read++
      // Whole: nothing that was in it is dropped.
      expect(JSON.parse(JSON.stringify(read.value.builds))).toHaveLength(
        (JSON.parse(file) as { builds: unknown[] }).builds.length,
      )
    } else {
      outcome.refused++
      expect([name, read.error.message.length < 500, /\bx{600}/.test(read.error.message)]).toEqual([name, true, false])
      expect(read.error.message).toMatch(/[.]$/)
    }
    // What another process takes meanwhile is not the file's: the best of three counts.
    let pieces = Infinity
    for (let run = 0; run < 3 && pieces > MOST_PIECES_OF_WORK; run++) pieces = Math.min(pieces, workOf(file))
    if (pieces > MOST_PIECES_OF_WORK) late.push(`${name}: ${pieces.toFixed(0)} pieces of work`)
  }
  expect(late).toEqual([])
  expect(outcome.read).toBeGreaterThan(20)
  expect(outcome.refused).toBeGreaterThan(80)
}, 240_000)
