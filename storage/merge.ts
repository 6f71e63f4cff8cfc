type Fields = Readonly<Record<string, unknown>>

const isFields = (value: unknown): value is Fields =>
  typeof value === 'object' && value !== null && !Array.isArray(value)

function same(p: unknown, q: unknown): boolean {
  if (Object.is(p, q)) return true
  if (Array.isArray(p) && Array.isArray(q)) return p.length === q.length && p.every((value, i) => same(value, q[i]))
  if (!isFields(p) || !isFields(q)) return false
  const keys = new Set([...Object.keys(p), ...Object.keys(q)])
  return [...keys].every((key) => same(p[key], q[key]))
}

/**
 * What became of a record by an edit that began from `base` and led to `next`, when the record is `now` by the time it is
 * written: fields the edit changed are the edit's, all others as they are now, also within fields of fields. Lists count
 * as one value. So two edits that overlap in time lose nothing, unless they are of the same field: then the later counts.
 */
export function merged<T extends object>(base: T, next: T, now: T): T {
  return mergedFields(base as Fields, next as Fields, now as Fields) as T
}

function mergedFields(base: Fields, next: Fields, now: Fields): Fields {
  const made: Record<string, unknown> = {}
  for (const key of new Set([...Object.keys(now), ...Object.keys(next)])) {
    const [b, n, c] = [base[key], next[key], now[key]]
    if (same(b, n)) {
      if (key in now) made[key] = c
    } else if (isFields(b) && isFields(n) && isFields(c)) made[key] = mergedFields(b, n, c)
    else if (key in next) made[key] = n
  }
  return made
}
