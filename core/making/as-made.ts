import type { ItemKey } from '../catalogue/item.ts'
import type { Part } from '../catalogue/part.ts'
import type { Design, DesignLine, Module } from '../design/design.ts'
import { mirrorItem, mirrorPairs } from '../design/mirror.ts'
import type { LineId, ModuleId, PartId } from '../units/ids.ts'
import { addUp } from '../units/quantity.ts'
import { pathKey, type Put, type Unit } from './unit.ts'
import { needOf, type Work, type WorkLine } from './works.ts'

/** What was built otherwise than drawn: of one line of a module, or in it without a line. */
export type Departure = {
  readonly module: ModuleId
  readonly line: LineId | undefined
  /** As drawn; none of what has no line. */
  readonly drawn: ItemKey | undefined
  /** Pieces of other items in its place, in all repeats that are begun. */
  readonly used: readonly { readonly item: ItemKey; readonly qty: number }[]
  readonly leftOut: number
  /** It stands in a module that occurs in several places or is the same as another: a line cannot say it. */
  readonly shared: boolean
}

/** Everything that was built otherwise than drawn, in the order of the design. */
export function departures(design: Design, works: readonly Work[], units: readonly Unit[]): Departure[] {
  return works.flatMap((work) => {
    const own = unitsOf(work, units)
    if (own.length === 0) return []
    const shared = isShared(design, work)
    const found: Departure[] = []
    for (const line of work.lines) {
      const used = addUp(
        own.flatMap((u) => u.put.filter((p) => p.line === line.line && p.item !== line.item && !p.shown)),
      )
      const leftOut = own.reduce((n, u) => n + u.leftOut.reduce((m, l) => m + (l.line === line.line ? l.qty : 0), 0), 0)
      if (used.length + leftOut > 0)
        found.push({ module: work.module.id, line: line.line, drawn: line.item, used, leftOut, shared })
    }
    const known = new Set(work.lines.map((l) => l.line))
    const extra = addUp(own.flatMap((u) => u.put.filter((p) => p.line === undefined || !known.has(p.line))))
    if (extra.length > 0)
      found.push({ module: work.module.id, line: undefined, drawn: undefined, used: extra, leftOut: 0, shared })
    return found
  })
}

/**
 * The design as it was built: pieces used instead become lines of their own, what was left out is no longer asked for, what
 * was added is listed; what is there for show only is not. Where repeats differ, lines say so repeat by repeat; repeats that are not begun stay as drawn. Units
 * follow: their pieces are for the new lines. Modules that occur in several places stay as drawn (`departures`: `shared`).
 */
export function designAsMade(
  design: Design,
  works: readonly Work[],
  units: readonly Unit[],
  parts: ReadonlyMap<PartId, Part>,
  fresh: () => string,
): { readonly design: Design; readonly units: readonly Unit[] } {
  const pairs = mirrorPairs(parts.values())
  const changed = new Map<string, Unit>()
  const modules = new Map<ModuleId, Module>()
  for (const work of works) {
    const own = unitsOf(work, units)
    if (own.length === 0 || isShared(design, work)) continue
    const lines = new Map<LineId, DesignLine>(work.module.lines.map((l) => [l.id, l]))
    let now: readonly Unit[] = own
    for (const line of work.lines) now = lineAsMade(work, line, now, lines, drawnBy(work), fresh)
    now = extrasAsMade(work, now, lines, drawnBy(work), fresh)
    if (now === own) continue
    modules.set(work.module.id, { ...work.module, lines: [...lines.values()] })
    for (const unit of now) changed.set(unit.id, unit)
  }
  return {
    design: { ...design, modules: design.modules.map((m) => modules.get(m.id) ?? m) },
    units: [...changed.values()],
  }

  function drawnBy(work: Work) {
    // A line that is locked keeps its colour; its hand is the mirror's.
    return (item: ItemKey): ItemKey => (work.mirrored ? mirrorItem(item, pairs) : item)
  }
}

/** One line and the pieces that were used for it. */
function lineAsMade(
  work: Work,
  line: WorkLine,
  units: readonly Unit[],
  lines: Map<LineId, DesignLine>,
  drawn: (item: ItemKey) => ItemKey,
  fresh: () => string,
): readonly Unit[] {
  const own = lines.get(line.line)
  if (!own) return units
  const other = (p: Put) => p.line === line.line && !p.shown && (p.item !== line.item || p.kit !== undefined)
  const isOdd = ({ put, leftOut }: Unit) => put.some(other) || leftOut.some((l) => l.line === line.line)
  if (!units.some(isOdd)) return units
  const byRepeat = new Map(units.map((u) => [u.repeat, u]))
  const needs = repeatsOf(work).map((repeat) => needOf(work, line, repeat))
  const kept = needs.map((need, i) => {
    const unit = byRepeat.get(i + 1)
    if (!unit) return need
    const out = unit.leftOut.reduce((n, l) => n + (l.line === line.line ? l.qty : 0), 0)
    return Math.max(0, need - out - unit.put.reduce((n, p) => n + (other(p) ? p.covers : 0), 0))
  })
  write(lines, own, kept)
  const items = new Set(units.flatMap((u) => u.put.filter(other).map((p) => p.item)))
  const idOf = new Map<ItemKey, LineId>()
  for (const item of items) {
    const id = `n-${fresh()}` as LineId
    idOf.set(item, id)
    const { steps: _, low: __, high: ___, group: ____, meanwhile: _____, ...rest } = own
    const amounts = needs.map((_need, i) =>
      (byRepeat.get(i + 1)?.put ?? []).reduce((n, p) => n + (other(p) && p.item === item ? p.qty : 0), 0),
    )
    write(lines, { ...rest, id, item: drawn(item), qty: 1, locked: true }, amounts)
  }
  return units.map((u) => (isOdd(u) ? settled(u, line.line, other, idOf) : u))
}

/** A unit whose pieces are for lines of their own from now on, and in which nothing of the line is left out any more. */
const settled = (unit: Unit, line: LineId, other: (p: Put) => boolean, idOf: ReadonlyMap<ItemKey, LineId>): Unit => ({
  ...unit,
  put: unit.put.map((p) => {
    const id = other(p) ? idOf.get(p.item) : undefined
    if (id === undefined) return p
    const { kit: _, ...bare } = p
    return { ...bare, line: id, covers: p.qty }
  }),
  leftOut: unit.leftOut.filter((l) => l.line !== line),
})

/** What was put in without a line gets one. */
function extrasAsMade(
  work: Work,
  units: readonly Unit[],
  lines: Map<LineId, DesignLine>,
  drawn: (item: ItemKey) => ItemKey,
  fresh: () => string,
): readonly Unit[] {
  const isExtra = (p: Put) => p.line === undefined || (!work.lines.some((l) => l.line === p.line) && !lines.has(p.line))
  const items = new Set(units.flatMap((u) => u.put.filter(isExtra).map((p) => p.item)))
  if (items.size === 0) return units
  const byRepeat = new Map(units.map((u) => [u.repeat, u]))
  const idOf = new Map<ItemKey, LineId>()
  for (const item of items) {
    const id = `n-${fresh()}` as LineId
    idOf.set(item, id)
    const amounts = repeatsOf(work).map((repeat) =>
      (byRepeat.get(repeat)?.put ?? []).reduce((n, p) => n + (isExtra(p) && p.item === item ? p.qty : 0), 0),
    )
    write(lines, { id, item: drawn(item), qty: 1, locked: true }, amounts)
  }
  return units.map((u) => ({
    ...u,
    put: u.put.map((p) => {
      const id = isExtra(p) ? idOf.get(p.item) : undefined
      return id === undefined ? p : { ...p, line: id, covers: p.qty }
    }),
  }))
}

/** Writes a line with its amount in each repeat: one amount where all are alike, else step by step; gone where it is none. */
function write(lines: Map<LineId, DesignLine>, line: DesignLine, amounts: readonly number[]): void {
  const { steps: _, ...bare } = line
  const first = amounts[0] ?? 0
  if (amounts.every((n) => n === 0)) lines.delete(line.id)
  else if (amounts.every((n) => n === first)) lines.set(line.id, { ...bare, qty: first })
  else lines.set(line.id, { ...bare, qty: Math.max(...amounts), steps: [...amounts] })
}

/** Steps that a line may have. */
const MOST_STEPS = 1000

const repeatsOf = ({ repeats }: Work): number[] => Array.from({ length: repeats }, (_, i) => i + 1)

/** Whether a module's lines speak of more than one place: then none of them can say what is otherwise in one. */
const isShared = (design: Design, { module, repeats, lines }: Work): boolean =>
  repeats !== module.repeats ||
  repeats > MOST_STEPS ||
  design.modules.some((m) => m.like === module.id) ||
  lines.some((l) => !module.lines.some((own) => own.id === l.line))

const unitsOf = ({ key, repeats }: Work, units: readonly Unit[]): Unit[] =>
  units.filter((u) => pathKey(u.path) === key && u.repeat <= repeats)
