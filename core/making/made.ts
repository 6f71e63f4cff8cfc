import { splitItemKey } from '../catalogue/item.ts'
import type { MadeLine } from '../design/explode.ts'
import type { BuildMade } from '../netting/snapshot.ts'
import type { BuildId, LineId } from '../units/ids.ts'
import { pathKey, type Unit } from './unit.ts'

/** A line while it is added up. */
type Growing = { -readonly [F in keyof MadeLine]: MadeLine[F] }

/** What each build's unfinished model holds, as counts take it: all repeats of a place together. Linear. */
export function madeOf(units: readonly Unit[]): BuildMade[] {
  const builds = new Map<BuildId, Map<string, Growing>>()
  const lineOf = ({ build, path }: Unit, line: LineId) => {
    const lines = builds.get(build) ?? new Map<string, Growing>()
    builds.set(build, lines)
    const key = `${pathKey(path)}\n${line}`
    const known = lines.get(key) ?? { path, line, put: 0, donor: 0, leftOut: 0 }
    lines.set(key, known)
    return known
  }
  for (const unit of units) {
    for (const { line, covers, item, from } of unit.put) {
      if (line === undefined || covers === 0) continue
      const made = lineOf(unit, line)
      made.put += covers
      if (from.kind === 'copy') made.donor += covers
      made.colour ??= splitItemKey(item).colour
    }
    for (const { line, qty } of unit.leftOut) lineOf(unit, line).leftOut += qty
  }
  return [...builds].map(([id, lines]) => ({ id, lines: [...lines.values()] }))
}
