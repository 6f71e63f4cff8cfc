import type { ItemKey } from '../catalogue/item.ts'
import type { Design, DesignLine, Module } from '../design/design.ts'
import type { Requirement } from '../design/explode.ts'
import type { LineId, ModuleId } from '../units/ids.ts'
import { pathKey, type Unit } from './unit.ts'

/** A line of a module in one place of the design, as whoever builds it needs it. */
export type WorkLine = {
  /** Of the requirement: unique in the build. */
  readonly id: string
  readonly line: LineId
  /** As drawn, mirrored and recoloured, in the colour that its group took. */
  readonly item: ItemKey
  /** Before it was mirrored and recoloured. */
  readonly drawn: ItemKey
  readonly source: DesignLine
  /** Pieces in one repeat; of a taper in the first of them, the second, ...: the last counts for all further ones. */
  readonly each: number
  readonly steps: readonly number[] | undefined
  /** Pieces in all repeats, and those of them that finished models are. */
  readonly total: number
  readonly built: number
}

/** A module in one place of the design: what is built there, so many times. */
export type Work = {
  readonly key: string
  readonly path: readonly ModuleId[]
  readonly module: Module
  /** Repeats of it, those of the modules around it counted in. */
  readonly repeats: number
  /** Of them, the first so many are finished models already. */
  readonly finished: number
  readonly mirrored: boolean
  readonly lines: readonly WorkLine[]
}

/**
 * What there is to build, module by module in each of its places, in the design's order; modules without lines of their
 * own are only around others. `wanted` gives the colour that a line's group took. Linear.
 */
export function worksOf(
  design: Design,
  requirements: readonly Requirement[],
  wanted: (r: Requirement) => ItemKey = (r) => r.item,
): Work[] {
  const byId = new Map(design.modules.map((m) => [m.id, m]))
  const ownLines = new Map(design.modules.map((m) => [m.id, new Set(m.lines.map((l) => l.id))]))
  const works = new Map<string, Work & { readonly lines: WorkLine[]; finished: number }>()
  for (const r of requirements) {
    const key = pathKey(r.path)
    let work = works.get(key)
    if (!work) {
      const module = byId.get(r.module)
      if (!module) continue
      const repeats = r.path.reduce((n, id) => n * (byId.get(id)?.repeats ?? 1), 1)
      work = { key, path: r.path, module, repeats, finished: 0, mirrored: r.mirrored, lines: [] }
      works.set(key, work)
    }
    // A line that comes from the module it is the same as has the first step in every repeat.
    const own = ownLines.get(work.module.id)?.has(r.line) === true
    const steps = own ? r.source.steps : undefined
    if (!steps && r.built > 0 && r.each > 0) work.finished = Math.max(work.finished, Math.floor(r.built / r.each))
    work.lines.push({
      id: r.id,
      line: r.line,
      item: wanted(r),
      drawn: r.source.item,
      source: r.source,
      each: r.each,
      steps,
      total: r.qty,
      built: r.built,
    })
  }
  return [...works.values()]
}

/** Pieces of a line that one repeat of its module needs, what was left out included; `repeat` counts from 1. */
export function needOf({ module }: Pick<Work, 'module'>, { each, steps }: WorkLine, repeat: number): number {
  if (!steps) return each
  const own = (repeat - 1) % Math.max(1, module.repeats)
  return steps[Math.min(own, steps.length - 1)] ?? 0
}

/** How far a repeat is. */
export type UnitState = {
  readonly need: number
  readonly put: number
  readonly leftOut: number
  /** All its lines have what they need, or it is a finished model. */
  readonly done: boolean
  readonly begun: boolean
}

/** How far one repeat is; linear in its lines and what is in it. */
export function stateOfUnit(work: Work, repeat: number, unit: Unit | undefined): UnitState {
  let [need, put, leftOut] = [0, 0, 0]
  let open = false
  const sums = unit && sumsOf(unit)
  for (const line of work.lines) {
    const needed = needOf(work, line, repeat)
    const has = Math.min(needed, sums?.put.get(line.line) ?? 0)
    const without = Math.min(needed - has, sums?.leftOut.get(line.line) ?? 0)
    need += needed
    put += has
    leftOut += without
    if (has + without < needed) open = true
  }
  if (repeat <= work.finished && !unit) return { need, put: need, leftOut: 0, done: true, begun: true }
  return { need, put, leftOut, done: !open, begun: put + leftOut > 0 || (unit?.times.length ?? 0) > 0 }
}

/** Of each line of a unit what stands in for it, and what was left out. */
export type UnitSums = { readonly put: ReadonlyMap<LineId, number>; readonly leftOut: ReadonlyMap<LineId, number> }

/** What is in a unit, line by line; linear in it. */
export function sumsOf(unit: Pick<Unit, 'put' | 'leftOut'>): UnitSums {
  const sums = { put: new Map<LineId, number>(), leftOut: new Map<LineId, number>() }
  for (const { line, covers } of unit.put)
    if (line !== undefined) sums.put.set(line, (sums.put.get(line) ?? 0) + covers)
  for (const { line, qty } of unit.leftOut) sums.leftOut.set(line, (sums.leftOut.get(line) ?? 0) + qty)
  return sums
}

/** What a line of a repeat still needs, given what is in its unit. */
export const openOf = (work: Work, line: WorkLine, repeat: number, sums: UnitSums | undefined): number =>
  Math.max(0, needOf(work, line, repeat) - (sums?.put.get(line.line) ?? 0) - (sums?.leftOut.get(line.line) ?? 0))

/** The units of a build by place and repeat. */
export function unitsByWork(units: readonly Unit[]): Map<string, Map<number, Unit>> {
  const byWork = new Map<string, Map<number, Unit>>()
  for (const unit of units) {
    const key = pathKey(unit.path)
    const own = byWork.get(key) ?? new Map<number, Unit>()
    byWork.set(key, own.set(unit.repeat, unit))
  }
  return byWork
}

/** How far a module in its place is. */
export type WorkState = {
  readonly done: number
  readonly begun: number
  /** Pieces needed in all repeats, and those that are in. */
  readonly need: number
  readonly put: number
  readonly leftOut: number
  /** The first repeat that is not done; undefined when all are. */
  readonly next: number | undefined
}

/**
 * How far a module in its place is: linear in its lines times the repeats that something is said of; repeats of which
 * nothing is said cost nothing, however many there are.
 */
export function stateOfWork(work: Work, units: ReadonlyMap<number, Unit> = new Map()): WorkState {
  const need = work.lines.reduce((n, l) => n + l.total, 0)
  let put = work.lines.reduce((n, l) => n + l.built, 0)
  let [done, begun, leftOut] = [work.finished, 0, 0]
  const isDone = new Set<number>()
  for (const [repeat, unit] of units) {
    if (repeat > work.repeats) continue
    const state = stateOfUnit(work, repeat, unit)
    put += state.put
    leftOut += state.leftOut
    if (state.done) isDone.add(repeat)
    if (state.done && repeat > work.finished) done++
    else if (!state.done && state.begun) begun++
  }
  let next = work.finished + 1
  while (isDone.has(next)) next++
  return { done, begun, need, put: Math.min(need, put), leftOut, next: next > work.repeats ? undefined : next }
}
