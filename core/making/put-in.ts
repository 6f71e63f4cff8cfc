import type { ItemKey } from '../catalogue/item.ts'
import type { Copy } from '../donors/donor-set.ts'
import type { Holding } from '../shelf/holding.ts'
import { withReserved, type LotPieces } from '../shelf/lot.ts'
import type { Place } from '../shelf/place.ts'
import { NOT_STATED } from '../units/condition.ts'
import type { BuildId, CopyId, LineId, PlaceId } from '../units/ids.ts'
import { refuse, ok, type Fault, type Result } from '../units/result.ts'
import type { Stock, TakeGroup } from './takes.ts'
import { leftOutOf, putOf, type Put, type Unit } from './unit.ts'

/** What an act at the table changes: one unit or more, what lies on the shelf, and what copies hold. */
export type MakingChange = {
  readonly units: readonly Unit[]
  /** Taken from holdings as they were seen; `reserved` of the pieces were reserved for the build. */
  readonly takes: readonly { readonly seen: Holding; readonly qty: number; readonly build: BuildId }[]
  /** Put on the shelf. */
  readonly lots: readonly LotPieces[]
  readonly copies: readonly Copy[]
}

export type MakingRefusal = Fault<'beyond its need' | 'not there' | 'bad number' | 'stands finished'>

const NO_CHANGE: MakingChange = { units: [], takes: [], lots: [], copies: [] }

const isCount = (n: number): boolean => Number.isInteger(n) && n > 0

/**
 * Pieces put into a unit for a line of it: they leave the shelf and the copies and are in the model. Refused beyond what
 * the line needs (`need`, what was left out included); pieces for no line are extra ones and have no bound.
 */
export function putIn(
  unit: Unit,
  line: LineId | undefined,
  need: number,
  groups: readonly TakeGroup[],
  stock: Pick<Stock, 'copies'>,
  more: Pick<Put, 'stayed' | 'shown'> = {},
): Result<MakingChange, MakingRefusal> {
  if (unit.standsIn !== undefined) return STANDS
  if (groups.length === 0 || groups.some((g) => !isCount(g.covers) || g.takes.some((t) => !isCount(t.qty))))
    return refuse('bad number', 'A whole number of pieces, 1 or more, goes in.')
  const covers = groups.reduce((n, g) => n + g.covers, 0)
  const open = line === undefined ? covers : need - putOf(unit, line) - leftOutOf(unit, line)
  if (covers > open)
    return refuse(
      'beyond its need',
      open <= 0
        ? 'This line has all it needs: put what is more elsewhere, or change the design.'
        : `This line needs ${open} more, not ${covers}.`,
    )
  const puts: Put[] = []
  let kits = unit.put.reduce((n, p) => Math.max(n, p.kit ?? 0), 0)
  const takes: { seen: Holding; qty: number; build: BuildId }[] = []
  const gone = new Map<CopyId, Map<ItemKey, number>>()
  for (const group of groups) {
    const together = line !== undefined && group.covers !== group.takes.reduce((n, t) => n + t.qty, 0)
    if (together || group.takes.length > 1) kits++
    for (const [i, take] of group.takes.entries()) {
      const put = {
        ...(line !== undefined && { line }),
        item: take.item,
        qty: take.qty,
        covers: i === 0 && line !== undefined ? group.covers : 0,
        ...((together || group.takes.length > 1) && { kit: kits }),
      }
      if (take.kind === 'found') {
        puts.push({ ...put, ...more, from: { kind: 'found' }, condition: NOT_STATED })
      } else if (take.kind === 'copy') {
        const copy = stock.copies.find((c) => c.id === take.copy)
        puts.push({
          ...put,
          ...more,
          from: { kind: 'copy', copy: take.copy },
          condition: copy?.condition ?? NOT_STATED,
        })
        const own = gone.get(take.copy) ?? new Map<ItemKey, number>()
        gone.set(take.copy, own.set(take.item, (own.get(take.item) ?? 0) + take.qty))
      } else {
        const { place, condition, length, uncounted, reserved = [] } = take.holding
        const own = reserved.reduce((n, r) => n + (r.build === unit.build ? r.qty : 0), 0)
        const before = takes.reduce((n, t) => n + (t.seen.id === take.holding.id ? t.qty : 0), 0)
        puts.push({
          ...put,
          ...more,
          from: { kind: 'place', place, reserved: Math.max(0, Math.min(take.qty, own - before)) },
          condition,
          ...(length !== undefined && { length }),
          ...(uncounted !== undefined && { uncounted }),
        })
        takes.push({ seen: take.holding, qty: take.qty, build: unit.build })
      }
    }
  }
  return ok({
    units: [{ ...unit, put: joined([...unit.put, ...puts]) }],
    takes,
    lots: [],
    copies: [...gone].flatMap(([id, items]) => {
      const copy = stock.copies.find((c) => c.id === id)
      return copy ? [withMissing(copy, items)] : []
    }),
  })
}

const STANDS = refuse(
  'stands finished' as const,
  'This is part of a finished model: take that apart first, or open it again on Make.',
)

/** A copy without so many pieces of some items. */
export function withMissing(copy: Copy, items: ReadonlyMap<ItemKey, number>): Copy {
  const missing = new Map<ItemKey, number>()
  for (const { item, qty } of copy.missing) missing.set(item, (missing.get(item) ?? 0) + qty)
  for (const [item, qty] of items) missing.set(item, (missing.get(item) ?? 0) + qty)
  return { ...copy, missing: [...missing].flatMap(([item, qty]) => (qty > 0 ? [{ item, qty }] : [])) }
}

/** Puts of the same pieces for the same line from the same source as one; kits stay as they were put in. */
function joined(puts: readonly Put[]): Put[] {
  const known = new Map<string, Put>()
  for (const put of puts) {
    const { qty: _q, covers: _c, from, ...rest } = put
    const whence = from.kind === 'place' ? from.place : from.kind === 'copy' ? from.copy : 'found'
    const key = put.kit !== undefined ? `kit ${known.size}` : JSON.stringify([Object.entries(rest).sort(), whence])
    const before = known.get(key)
    if (!before) known.set(key, put)
    else
      known.set(key, {
        ...before,
        qty: before.qty + put.qty,
        covers: before.covers + put.covers,
        from:
          before.from.kind === 'place' && from.kind === 'place'
            ? { ...before.from, reserved: before.from.reserved + from.reserved }
            : before.from,
      })
  }
  return [...known.values()]
}

/** Where pieces go that come out of a model: back where they came from, to a place, or nowhere: they are lost. */
export type Fate =
  | { readonly kind: 'back' }
  | { readonly kind: 'place'; readonly place: PlaceId; readonly broken: boolean }
  | { readonly kind: 'lost' }

/** Where pieces that come out of a model lie when nobody knows of another place. */
export const OUT_OF_MODELS: Place = {
  id: 'l-out-of-models' as PlaceId,
  name: 'Out of models',
  kind: 'box',
  parent: null,
}

/** What pieces that come out of a model add to the shelf and to the copies they were of. */
export function comingOut(
  build: BuildId,
  puts: readonly Pick<Put, 'item' | 'qty' | 'from' | 'condition' | 'length' | 'uncounted'>[],
  fate: Fate,
  copies: readonly Copy[],
  places: readonly Place[],
): Pick<MakingChange, 'lots' | 'copies'> {
  if (fate.kind === 'lost') return { lots: [], copies: [] }
  const known = new Set(places.map((p) => p.id))
  const lots: LotPieces[] = []
  const back = new Map<CopyId, Map<ItemKey, number>>()
  for (const { item, qty, from, condition, length, uncounted } of puts) {
    const lot = (place: PlaceId, reserved = 0): LotPieces =>
      withReserved<LotPieces>(
        {
          place,
          item,
          qty,
          estimate: false,
          condition: fate.kind === 'place' && fate.broken ? 'worn' : condition,
          ...(length !== undefined && { length }),
          ...(uncounted !== undefined && { uncounted }),
        },
        reserved > 0 ? [{ build, qty: reserved }] : [],
      )
    if (fate.kind === 'place') lots.push(lot(fate.place))
    else if (from.kind === 'place') lots.push(lot(known.has(from.place) ? from.place : OUT_OF_MODELS.id, from.reserved))
    else if (from.kind === 'copy' && copies.some((c) => c.id === from.copy)) {
      const own = back.get(from.copy) ?? new Map<ItemKey, number>()
      back.set(from.copy, own.set(item, (own.get(item) ?? 0) - qty))
    }
    // What was found, or came of a copy that is gone, stays on the shelf: it is there now.
    else lots.push(lot(OUT_OF_MODELS.id))
  }
  return {
    lots,
    copies: [...back].flatMap(([id, items]) => {
      const copy = copies.find((c) => c.id === id)
      return copy ? [withMissing(copy, items)] : []
    }),
  }
}

/**
 * Takes pieces out of a unit that stand for `covers` required pieces of a line (all of it when left out), the last put in
 * first. What serves together comes out together.
 */
export function takeOut(
  unit: Unit,
  line: LineId,
  covers: number | undefined,
  fate: Fate,
  { copies, places }: Pick<Stock, 'copies' | 'places'>,
): Result<MakingChange, MakingRefusal> {
  if (unit.standsIn !== undefined) return STANDS
  const there = putOf(unit, line)
  const wanted = covers ?? there
  if (!isCount(wanted)) return refuse('bad number', 'A whole number of pieces, 1 or more, comes out.')
  if (wanted > there) return refuse('not there', `Only ${there} of this line are in.`)
  const { out, left } = splitPuts(unit.put, line, wanted)
  return ok({ ...NO_CHANGE, ...comingOut(unit.build, out, fate, copies, places), units: [{ ...unit, put: left }] })
}

/**
 * Puts that stand for so many pieces of a line, the last first, and what stays. Kits come out whole: more may come out
 * than was asked.
 */
export function splitPuts(
  puts: readonly Put[],
  line: LineId | undefined,
  covers: number,
): { readonly out: readonly Put[]; readonly left: Put[] } {
  const out: Put[] = []
  let left: Put[] = []
  const kits = new Set<number>()
  let open = covers
  for (const put of puts.toReversed()) {
    const whole = put.kit !== undefined && kits.has(put.kit)
    if (!whole && (put.line !== line || open === 0)) left.unshift(put)
    else if (put.kit !== undefined) {
      kits.add(put.kit)
      out.unshift(put)
      open = Math.max(0, open - put.covers)
    } else if (put.qty <= open) {
      out.unshift(put)
      open -= put.qty
    } else {
      const [going, staying] = divided(put, open)
      out.unshift(going)
      left.unshift(staying)
      open = 0
    }
  }
  // Of a kit that is coming out, what was passed over before it was known.
  const late = left.filter((p) => p.kit !== undefined && kits.has(p.kit))
  left = left.filter((p) => !late.includes(p))
  return { out: [...late, ...out], left }
}

/** So many pieces of a put, and the rest; what was reserved stays with the rest as far as it goes. */
function divided(put: Put, qty: number): readonly [Put, Put] {
  const held = put.from.kind === 'place' ? put.from.reserved : 0
  const stays = Math.min(held, put.qty - qty)
  const part = (pieces: number, reserved: number): Put => ({
    ...put,
    qty: pieces,
    covers: put.line === undefined ? 0 : pieces,
    from: put.from.kind === 'place' ? { ...put.from, reserved } : put.from,
  })
  return [part(qty, held - stays), part(put.qty - qty, stays)]
}

/** Takes all out of a unit: what it was built of goes where `fate` says, and nothing is left out any more. */
export function emptyUnit(
  unit: Unit,
  fate: Fate,
  { copies, places }: Pick<Stock, 'copies' | 'places'>,
): Result<MakingChange, MakingRefusal> {
  if (unit.standsIn !== undefined) return STANDS
  return ok({
    ...NO_CHANGE,
    ...comingOut(unit.build, unit.put, fate, copies, places),
    units: [{ ...unit, put: [], leftOut: [] }],
  })
}

/** Pieces of a line left out on purpose, or wanted again where `qty` is 0. */
export function leaveOut(unit: Unit, line: LineId, qty: number, need: number): Result<MakingChange, MakingRefusal> {
  if (unit.standsIn !== undefined) return STANDS
  if (!Number.isInteger(qty) || qty < 0)
    return refuse('bad number', 'A whole number of pieces, 0 or more, is left out.')
  const most = need - putOf(unit, line)
  if (qty > most) return refuse('beyond its need', `Only ${most} of this line can be left out: the others are in.`)
  const others = unit.leftOut.filter((l) => l.line !== line)
  return ok({ ...NO_CHANGE, units: [{ ...unit, leftOut: qty > 0 ? [...others, { line, qty }] : others }] })
}

/** Pieces of one line of a unit moved to another line, of the same unit or another: they stay in the model. */
export function moveWithin(
  from: Unit,
  line: LineId,
  to: Unit,
  target: LineId,
  covers: number,
  need: number,
): Result<MakingChange, MakingRefusal> {
  if (from.standsIn !== undefined || to.standsIn !== undefined) return STANDS
  if (!isCount(covers) || covers > putOf(from, line))
    return refuse('not there', `Only ${putOf(from, line)} are in there.`)
  const { out, left } = splitPuts(from.put, line, covers)
  const moved = out.map((p): Put => ({ ...p, line: target }))
  const stands = moved.reduce((n, p) => n + p.covers, 0)
  const same = from.id === to.id
  const base = same ? { ...to, put: left } : to
  if (stands > need - putOf(base, target) - leftOutOf(base, target))
    return refuse('beyond its need', 'This line does not need so many.')
  const next = { ...base, put: [...base.put, ...moved] }
  return ok({ ...NO_CHANGE, units: same ? [next] : [{ ...from, put: left }, next] })
}
