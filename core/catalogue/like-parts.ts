import { FAMILIES } from './shape.ts'
import { compareNames } from '../units/collate.ts'
import type { PartId } from '../units/ids.ts'
import { partFromName, partIndex, type Part } from './part.ts'

/** A part's name in a list that may mean a part known by another name. */
export type LikePart = {
  readonly id: PartId
  readonly name: string
  /** Names of what it may be, those that are known first. */
  readonly same: readonly string[]
}

/** Words by which people tell plates and tiles from bricks. */
const HEIGHT = /\b(?:thin|flat|slim|low|thick|smooth)\b/i

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
  const bySize = new Map<string, Part[]>()
  for (const part of parts) {
    const { shape } = part

    if (ALIKE.some((f) => f === shape.family)) {
      const key = `${shape.width}x${shape.length}`
      bySize.set(key, [...(bySize.get(key) ?? []), part])
    }
  }
  const found = new Map<PartId, LikePart>()
  for (const name of asked) {
    const { id, shape } = partFromName(name)
    const { width, length, family } = shape
    if (index.has(id) || found.has(id) || width === 0 || length === 0) continue
    if (family !== 'unknown' && !HEIGHT.test(name)) continue
    const size = `${Math.min(width, length)}x${Math.max(width, length)}`
    const known = bySize.get(`${width}x${length}`) ?? []
    const ids = new Set(known.map((p) => p.id))
    const plain = ALIKE.map((f) => partFromName(`${f} ${size}`)).filter((p) => !ids.has(p.id))
    const sorted = [...known].sort((p, q) => p.name.length - q.name.length || compareNames(p.name, q.name))
    found.set(id, { id, name, same: [...sorted, ...plain].slice(0, MOST_SAME).map((p) => p.name) })
  }
  return [...found.values()]
}
