type Fields = Readonly<Record<string, unknown>>

const isFields = (value: unknown): value is Fields =>
  typeof value === 'object' && value !== null && !Array.isArray(value)

/** Whether two plain values say the same, whichever realm they come from. */
export function same(p: unknown, q: unknown): boolean {
  if (Object.is(p, q)) return true
  if (Array.isArray(p) && Array.isArray(q)) return p.length === q.length && p.every((value, i) => same(value, q[i]))
  if (!isFields(p) || !isFields(q)) return false
  const keys = new Set([...Object.keys(p), ...Object.keys(q)])
  return [...keys].every((key) => same(p[key], q[key]))
}

type Listed = Fields & { readonly id: string }
/** A value of a list by what it is told apart by. */
type Told = { readonly key: string; readonly value: unknown }

/** Whether a value is a list of records, each with an id of its own. */
function isList(value: unknown): value is readonly Listed[] {
  if (!Array.isArray(value) || !value.every((one) => isFields(one) && typeof one['id'] === 'string')) return false
  return new Set((value as Listed[]).map(({ id }) => id)).size === value.length
}

/**
 * The values of a list without ids, each told apart by all it says but its quantity; undefined where two say the same.
 * So pieces that are missing are told apart by item, reservations by build, an inventory's lines by stage, item and
 * figure, other names by themselves.
 */
function toldApart(list: readonly unknown[]): readonly Told[] | undefined {
  const told = list.map((value): Told => {
    if (!isFields(value)) return { key: JSON.stringify(value), value }
    const { qty: _, ...rest } = value
    return { key: JSON.stringify(Object.entries(rest).sort(([p], [q]) => (p < q ? -1 : 1))), value }
  })
  return new Set(told.map((t) => t.key)).size === told.length ? told : undefined
}

/**
 * What became of a record by an edit that began from `base` and led to `next`, when the record is `now` by the time it is
 * written: fields the edit changed are the edit's, all others as they are now, also within fields of fields. Lists of
 * records with ids are merged record by record; what one edit removed is gone, unless the other changed it. Other lists
 * are merged value by value where no two say the same (`toldApart`), else they count as one. So two edits that overlap in time lose nothing, unless they are of the same field: then the later
 * counts.
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
    else if (isList(b) && isList(n) && isList(c)) made[key] = mergedLists(b, n, c)
    else if (Array.isArray(b) && Array.isArray(n) && Array.isArray(c)) made[key] = mergedValues(b, n, c)
    else if (key in next) made[key] = n
  }
  return made
}

function mergedValues(base: readonly unknown[], next: readonly unknown[], now: readonly unknown[]): unknown[] {
  const lists = [base, next, now].map(toldApart)
  const [b, n, c] = lists.map((list) => list?.map(({ key, value }) => ({ id: key, value })))
  return b && n && c ? mergedLists(b, n, c).map(({ value }) => value) : [...next]
}

function mergedLists(base: readonly Listed[], next: readonly Listed[], now: readonly Listed[]): Listed[] {
  const [b, n, c] = [base, next, now].map((list) => new Map(list.map((one) => [one.id, one])))
  if (!b || !n || !c) return [...next]
  const made = new Map<string, Listed>()
  for (const id of new Set([...n.keys(), ...c.keys()])) {
    const [was, mine, theirs] = [b.get(id), n.get(id), c.get(id)]
    if (mine && theirs) made.set(id, was ? (mergedFields(was, mine, theirs) as Listed) : mine)
    else {
      // Removed by one of the two, or added by it.
      const left = mine ?? theirs
      if (left && (!was || !same(was, left))) made.set(id, left)
    }
  }
  // The edit's order if it moved anything, else that of now; what is not in there follows what it followed elsewhere.
  const inAll = (list: readonly Listed[]) => list.filter(({ id }) => b.has(id) && n.has(id)).map(({ id }) => id)
  const moved = !same(inAll(base), inAll(next))
  const [first, second] = (moved ? [next, now] : [now, next]).map((list) => list.map(({ id }) => id))
  const order = (first ?? []).filter((id) => made.has(id))
  const placed = new Set(order)
  let after = -1
  for (const id of second ?? []) {
    if (placed.has(id)) after = order.indexOf(id)
    else if (made.has(id)) order.splice(++after, 0, id)
  }
  return order.map((id) => made.get(id) as Listed)
}
