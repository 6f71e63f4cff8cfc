import { compareNames } from '../units/collate.ts'
import type { PartId } from '../units/ids.ts'
import { readPartName } from './name-grammar.ts'
import { partFromName, partIndex, type Part } from './part.ts'

/** A part's name in a list that may mean a part known by another name. */
export type LikePart = {
  readonly id: PartId
  readonly name: string
  /** Names of what it may be, those that are known first. */
  readonly same: readonly string[]
}

/** Words by which people tell plates and tiles from bricks. */
const HEIGHT_WORDS: ReadonlySet<string> = new Set(['thin', 'flat', 'slim', 'low', 'half', 'high', 'thick', 'smooth'])

/** Families whose pieces of one size are taken for one another. */
const ALIKE = ['plate', 'tile', 'brick'] as const

const MOST_SAME = 12

/**
 * Names that look like parts there are, by their size and what is said of their height ("flat 2x4", "thin brick 2x4"): each
 * with the names it may be the same as. Names that are known, as a part's own or as another name of it, are none. Linear
 * in names and parts.
 */
export function likeParts(names: Iterable<string>, parts: readonly Part[]): LikePart[] {
  const index = partIndex(parts)
  const bySize = new Map<string, string[]>()
  for (const { name, shape } of parts)
    if (ALIKE.some((f) => f === shape.family)) {
      const key = `${shape.width}x${shape.length}`
      bySize.set(key, [...(bySize.get(key) ?? []), name])
    }
  const found = new Map<PartId, LikePart>()
  for (const name of new Set(names)) {
    const { id, shape } = partFromName(name)
    const { width, length, family } = shape
    if (index.has(id) || found.has(id) || width === 0 || length === 0) continue
    const said = readPartName(name).canonical.toLowerCase().split(/\s+/)
    if (family !== 'unknown' && !said.some((word) => HEIGHT_WORDS.has(word))) continue
    const size = `${Math.min(width, length)}x${Math.max(width, length)}`
    const known = [...(bySize.get(`${width}x${length}`) ?? [])].sort(
      (p, q) => p.length - q.length || compareNames(p, q),
    )
    const plain = ALIKE.map((f) => `${f} ${size}`).filter(
      (n) => !known.some((k) => partFromName(k).id === partFromName(n).id),
    )
    found.set(id, { id, name, same: [...known, ...plain].slice(0, MOST_SAME) })
  }
  return [...found.values()]
}
