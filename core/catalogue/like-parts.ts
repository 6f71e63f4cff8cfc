import { FAMILIES } from './shape.ts'
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
/** Names that are looked at, and those of them that are read: longer lists are not asked about name by name. */
const MOST_NAMES = 10_000
const MOST_READ = 1000

/** A size somewhere in a name. */
const SIZED = /\d\s*(?:x|×|by)\s*\d/i
/** Names that say a family the grammar knows, and nothing of height, are plain. */
const FAMILY = new RegExp(`\\b(?:${FAMILIES.flatMap((f) => f.split(' ')).join('|')})s?\\b`, 'i')
const HEIGHT = new RegExp(`\\b(?:${[...HEIGHT_WORDS].join('|')})\\b`, 'i')

/**
 * Names that look like parts there are, by their size and what is said of their height ("flat 2x4", "thin brick 2x4"): each
 * with the names it may be the same as. Names that are known, as a part's own or as another name of it, are none. Linear
 * in names and parts.
 */
export function likeParts(
  names: Iterable<string>,
  parts: readonly Part[],
  index: ReadonlyMap<string, PartId> = partIndex(parts),
): LikePart[] {
  const asked = new Set<string>()
  let looked = 0
  for (const name of names) {
    if (++looked > MOST_NAMES || asked.size >= MOST_READ) break
    if (SIZED.test(name) && (HEIGHT.test(name) || !FAMILY.test(name))) asked.add(name)
  }
  if (asked.size === 0) return []
  const bySize = new Map<string, string[]>()
  for (const { name, shape } of parts)
    if (ALIKE.some((f) => f === shape.family)) {
      const key = `${shape.width}x${shape.length}`
      bySize.set(key, [...(bySize.get(key) ?? []), name])
    }
  const found = new Map<PartId, LikePart>()
  for (const name of asked) {
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
