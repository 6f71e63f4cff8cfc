import type { RecordOf } from '../core/records/registry.ts'
import { addLots, takenFor, type ShelfChange } from '../core/shelf/lot.ts'
import { move } from '../core/shelf/rearrange.ts'
import type { Holding } from '../core/shelf/holding.ts'
import type { HoldingId } from '../core/units/ids.ts'
import type { Database } from './database.ts'
import type { JournalChange, Recount, ShelfWork } from './journal-entry.ts'
import { Refusal } from './store-error.ts'

const GONE = () =>
  new Refusal({
    code: 'gone',
    message: 'These pieces were taken away meanwhile, perhaps in another tab. Nothing was changed.',
  })

/** Does work on the shelf with what lies there now; inside the transaction that writes it. */
export async function shelfWorked(db: Database, work: ShelfWork, fresh: () => string): Promise<ShelfChange> {
  const holdings = db.records('holdings')
  switch (work.do) {
    case 'add': {
      const places = [...new Set(work.lots.map((l) => l.place))]
      return addLots(await holdings.where('place').anyOf(places).toArray(), work.lots, fresh)
    }
    case 'move': {
      const { to, takes } = work
      const now = await holdings.bulkGet(takes.map((t) => t.seen.id))
      const there = await holdings.where('place').equals(to).toArray()
      const found = takes.flatMap(({ seen, qty }, i) => {
        const holding = now[i]
        if (!holding) throw GONE()
        // All that was seen means all there is by now.
        return holding.place === to
          ? []
          : [{ holding, qty: qty >= seen.qty ? holding.qty : Math.min(qty, holding.qty) }]
      })
      const shelf = [...found.map((f) => f.holding), ...there]
      return move(shelf, found, to, fresh)
    }
    case 'take': {
      const left = new Map<HoldingId, Holding | undefined>()
      const now = await holdings.bulkGet(work.takes.map((t) => t.seen.id))
      for (const [i, { seen, qty, build }] of work.takes.entries()) {
        const held = left.has(seen.id) ? left.get(seen.id) : now[i]
        if (held?.item !== seen.item || held.qty < qty) throw GONE()
        left.set(seen.id, takenFor(held, qty, build))
      }
      return {
        put: [...left.values()].flatMap((h) => h ?? []),
        remove: [...left].flatMap(([id, rest]) => (rest ? [] : [id])),
      }
    }
    case 'count':
      return counted(db, work.counts)
  }
}

/**
 * Holdings counted again. One that is as it was seen gets what was counted. From one that has given or got pieces by a move
 * meanwhile the difference found stays a difference; anything else that changed its number gives way: the later count
 * counts. One counted as none that lies elsewhere by now stays there.
 */
async function counted(db: Database, counts: readonly Recount[]): Promise<ShelfChange> {
  const holdings = db.records('holdings')
  const now = await holdings.bulkGet(counts.map((c) => c.seen.id))
  const put = new Map<HoldingId, RecordOf<'holdings'>>()
  const remove = new Set<HoldingId>()
  for (const [i, { seen, qty, estimate }] of counts.entries()) {
    const held = now[i]
    if (held?.qty === seen.qty && (qty > 0 || held.place === seen.place)) {
      settle(held, qty, estimate)
      continue
    }
    if (held && qty === 0 && held.place !== seen.place) continue
    const moved = await whereMoved(db, seen)
    if (!moved) {
      if (!held) throw GONE()
      settle(held, qty, estimate)
      continue
    }
    const target = put.get(moved) ?? (await holdings.get(moved))
    if (!target) throw GONE()
    settle(target, Math.max(0, target.qty + qty - seen.qty), held ? estimate : target.estimate)
  }
  return { put: [...put.values()], remove: [...remove] }

  function settle(held: Holding, qty: number, estimate: boolean) {
    put.delete(held.id)
    remove.delete(held.id)
    // What was taken as right with its parcel is counted now.
    const { uncounted: _, ...counted } = held
    if (qty > 0) put.set(held.id, { ...counted, qty, estimate })
    else remove.add(held.id)
  }
}

/** So many of the last acts are looked through for a move. */
const LOOK_BACK = 30

/**
 * Where most of what was seen as one holding lies since a move: itself where some of it stayed, else the holding that took
 * it in. Undefined when no move touched it since it was seen.
 */
async function whereMoved(db: Database, seen: Holding): Promise<HoldingId | undefined> {
  const entries = await db.journal
    .reverse()
    .filter((e) => e.done)
    .limit(LOOK_BACK)
    .toArray()
  const steps: JournalChange[] = []
  for (const { id } of entries.reverse())
    for (const { changes } of await db.piecesOf(id ?? 0)) steps.push(...changes.filter((c) => c.kind === 'holdings'))
  // From the last state that was as it was seen, on.
  const from = steps.findLastIndex((c) => c.ids.includes(seen.id) && holdingIn(c.before, seen.id)?.qty === seen.qty)
  let at: HoldingId | undefined
  for (const change of from < 0 ? [] : steps.slice(from)) {
    const id = at ?? seen.id
    if (!change.ids.includes(id) || !conserves(change, id)) continue
    at = holdingIn(change.after, id) ? id : gainer(change, id)
    if (at === undefined) return undefined
  }
  return at
}

const holdingIn = (list: readonly unknown[], id: string): Holding | undefined =>
  (list as readonly Holding[]).find((h) => h.id === id)

/** Whether a change of the shelf only moved pieces of an item: there were as many of it after as before. */
function conserves({ before, after }: JournalChange, id: string): boolean {
  const item = (holdingIn(before, id) ?? holdingIn(after, id))?.item
  const sum = (list: readonly unknown[]) =>
    (list as readonly Holding[]).reduce((n, h) => n + (h.item === item ? h.qty : 0), 0)
  return sum(before) === sum(after)
}

/** The holding of the same item that has more after a change than before. */
function gainer({ before, after }: JournalChange, id: string): HoldingId | undefined {
  const item = holdingIn(before, id)?.item
  return (after as readonly Holding[]).find((h) => h.item === item && h.qty > (holdingIn(before, h.id)?.qty ?? 0))?.id
}
