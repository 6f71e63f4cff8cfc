import type { Design } from '../design/design.ts'
import type { ItemKey } from '../catalogue/item.ts'
import { isOnOrder } from '../netting/supplies.ts'
import type { SupplySource } from '../netting/supply-rows.ts'
import type { TallyLine } from '../netting/tally.ts'
import type { ModuleId } from '../units/ids.ts'

/** When pieces are here: `now`, on a day, or never as things stand. Days compare as texts. */
export type When = string
export const NOW: When = ''
export const NEVER: When = '9999-99-99'

/** When something can be built, and what holds it up last. */
export type Readiness = {
  readonly likely: When
  readonly late: When
  /** What it waits for last: short pieces, or parcels and promises by the ids of places and copies. */
  readonly waits: readonly Wait[]
}
export type Wait = {
  readonly from: string | undefined
  readonly item: ItemKey
  readonly qty: number
  readonly when: When
}

export type ModuleReadiness = Readiness & {
  readonly module: ModuleId
  readonly repeats: number
  /** Repeats that can be built from what is here, when it is built in its turn. */
  readonly readyNow: number
  /** By repeat when each is ready, likely; ascending. Left out where there are very many. */
  readonly each: readonly When[]
  /** When all of it is ready if it goes first. */
  readonly first: When
}

/** When a place in the post, or a promised copy, is here. */
export type Due = (source: SupplySource) => { readonly likely: When; readonly late: When; readonly from?: string }

/** When what is on order is here: parcels by their places, copies by their ids. */
export type DueDays = readonly { readonly of: string; readonly likely: When; readonly late: When }[]

/** It is on its way, and no day is known: after every day that is, and before never. */
export const SOME_DAY: When = '9999-12-31'

/** Looks up when a source is here; what is on its way without a day comes some day. */
export function dueBy(days: DueDays): Due {
  const known = new Map(days.map((d) => [d.of, d]))
  const here = { likely: NOW, late: NOW }
  return (source) => {
    if (!isOnOrder(source)) return here
    const of =
      source.kind === 'copy'
        ? source.copy
        : source.kind === 'shelf' && source.state.kind === 'post'
          ? source.state.at
          : undefined
    const [id, said] = typeof of === 'string' ? [of, undefined] : [of?.id, of?.due]
    const { likely, late } = known.get(id ?? '') ?? { likely: said ?? SOME_DAY, late: said ?? SOME_DAY }
    return { likely, late, ...(id !== undefined && { from: id }) }
  }
}

/** Repeats that are told one by one at most. */
const MOST_REPEATS = 200

/** Pieces that come together. */
type Batch = { readonly likely: When; readonly late: When; readonly from: string | undefined; qty: number }
/** All pieces that serve for one another, earliest first. */
type Pile = Batch[]
/** What a module needs of a pile. */
type Part = { readonly pile: Pile; readonly item: ItemKey; need: number }

/**
 * When each module of the design, with all that stands within it, can be built, if modules are built in the design's order:
 * each takes, of what the count covers its lines with, no earlier piece than it needs, so that those after it are ready as
 * early as can be. Pieces move only between lines that ask for the same item and are covered alike: what serves one
 * serves the other. Proportional to lines, pegs and repeats.
 */
export function readiness(design: Pick<Design, 'modules'>, lines: readonly TallyLine[], due: Due): ModuleReadiness[] {
  const top = design.modules.filter((m) => m.within === undefined && m.later !== true && m.repeats > 0)
  const partsOf = pooled(lines, due)
  const whenFirst = new Map(top.map(({ id }) => [id, daysOf(partsOf.get(id) ?? [], 1).each[0] ?? NOW]))
  return top.flatMap((module): ModuleReadiness[] => {
    const parts = partsOf.get(module.id) ?? []
    if (parts.length === 0) return []
    const { each, late } = daysOf(parts, Math.min(module.repeats, MOST_REPEATS))
    const likely = each.at(-1) ?? NOW
    const waits = parts.flatMap((part) => waitsOf(part, likely))
    for (const part of parts) take(part, likely)
    return [
      {
        module: module.id,
        repeats: module.repeats,
        readyNow: each.filter((when) => when === NOW).length,
        each,
        likely,
        late,
        first: whenFirst.get(module.id) ?? NOW,
        waits: waits.sort((p, q) => (p.when === q.when ? q.qty - p.qty : p.when < q.when ? 1 : -1)),
      },
    ]
  })
}

const later = (p: When, q: When): When => (p > q ? p : q)

/**
 * When each of so many repeats has its pieces, and when the last has them, late. A part need not be the same in every
 * repeat: the first so many need their share, rounded up. One walk along each pile.
 */
function daysOf(parts: readonly Part[], repeats: number): { readonly each: When[]; readonly late: When } {
  const each = new Array<When>(repeats).fill(NOW)
  let last = NOW
  for (const { pile, need } of parts) {
    let [at, repeat] = [0, 0]
    for (const { qty, likely, late } of pile) {
      if (qty === 0) continue
      at += qty
      last = later(last, late)
      for (; repeat < repeats && at >= Math.ceil((need * (repeat + 1)) / repeats); repeat++)
        each[repeat] = later(each[repeat] ?? NOW, likely)
      if (repeat === repeats) break
    }
  }
  return { each, late: last }
}

/** Of each module at the top what it needs, by the piles that its lines and those of others draw on. */
function pooled(lines: readonly TallyLine[], due: Due): Map<ModuleId, readonly Part[]> {
  const piles = new Map<string, { readonly pile: Pile; readonly batches: Map<string, Batch> }>()
  const partsOf = new Map<ModuleId, Map<string, Part>>()
  for (const line of lines) {
    const [module] = line.path
    if (module === undefined) continue
    const parts = partsOf.get(module) ?? new Map<string, Part>()
    partsOf.set(module, parts)
    const put = (key: string, batch: Batch) => {
      const known = piles.get(key) ?? { pile: [], batches: new Map<string, Batch>() }
      piles.set(key, known)
      // What comes from one place comes together: a pile has no more batches than there are parcels.
      const id = `${batch.likely} ${batch.late} ${batch.from ?? ''}`
      const same = known.batches.get(id)
      if (same) same.qty += batch.qty
      else {
        known.batches.set(id, batch)
        known.pile.push(batch)
      }
      const part = parts.get(key)
      if (part) part.need += batch.qty
      else parts.set(key, { pile: known.pile, item: line.wanted, need: batch.qty })
    }
    for (const { source, item, qty, standIn, uses } of line.pegs) {
      if (source.kind === 'built') continue
      // Kits of several items are told by what is drawn: each of their items is waited for by itself.
      const key = `${line.wanted}\n${standIn === undefined ? '' : item}\n${(uses ?? []).length}`
      const { likely, late, from } = due(source)
      put(key, { likely, late, from, qty })
    }
    const { short } = line.coverage
    if (short > 0) put(`${line.wanted}\n\n0`, { likely: NEVER, late: NEVER, from: undefined, qty: short })
  }
  for (const { pile } of piles.values()) pile.sort((p, q) => (p.likely < q.likely ? -1 : p.likely > q.likely ? 1 : 0))
  return new Map([...partsOf].map(([module, parts]) => [module, [...parts.values()]]))
}

/** What of a part is not here: from where it comes, as far as it needs that. */
function waitsOf({ pile, need, item }: Part, until: When): Wait[] {
  const waits: Wait[] = []
  let left = need
  for (const { from, likely, qty: there } of pile) {
    const qty = Math.min(left, there)
    left -= qty
    if (qty > 0 && likely !== NOW && likely <= until) waits.push({ from, item, qty, when: likely })
    if (left === 0) break
  }
  return waits
}

/** Takes what a part needs of the pieces that are here by a day, the latest of them first. */
function take({ pile, need }: Part, by: When): void {
  let left = need
  for (let i = pile.length - 1; i >= 0 && left > 0; i--) {
    const batch = pile[i]
    if (!batch || batch.likely > by) continue
    const qty = Math.min(left, batch.qty)
    batch.qty -= qty
    left -= qty
  }
}

/** What would be ready sooner if one parcel were here today. */
export type HoldUp = {
  readonly from: string
  /** Modules whose last wait it is. */
  readonly modules: readonly ModuleId[]
  /** Pieces of it that are waited for. */
  readonly pieces: number
}

/** Parcels by what waits for them, those that hold up most first; modules that can never be built wait for none. */
export function holdUps(modules: readonly ModuleReadiness[]): HoldUp[] {
  const byPlace = new Map<string, { modules: Set<ModuleId>; pieces: number }>()
  for (const { module, waits, likely } of modules)
    for (const { from, qty, when } of waits) {
      if (from === undefined) continue
      const known = byPlace.get(from) ?? { modules: new Set<ModuleId>(), pieces: 0 }
      if (when === likely) known.modules.add(module)
      known.pieces += qty
      byPlace.set(from, known)
    }
  return [...byPlace]
    .map(([from, { modules: of, pieces }]) => ({ from, modules: [...of], pieces }))
    .sort((p, q) => q.modules.length - p.modules.length || q.pieces - p.pieces || (p.from < q.from ? -1 : 1))
}
