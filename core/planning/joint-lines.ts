import type { LineOption } from './line-options.ts'
import { supplyIdOfPeg } from './line-choices.ts'
import { isBuying, nettingTask } from './netting-task.ts'
import type { Snapshot } from './snapshot.ts'
import { settledWish, wishKey, type Wish } from './stand-ins.ts'
import type { Tally } from './tally.ts'

/** Lines to be decided together with a purchase, and what is owned for them. */
export type JointLines = {
  readonly lines: readonly {
    readonly wish: Wish
    readonly key: string
    readonly qty: number
    /** The ways to cover it from what is owned; none for lines of a group, whose colour is settled. */
    readonly owned: readonly LineOption[]
  }[]
  /** Pieces owned, by the name under which they are netted. */
  readonly stock: ReadonlyMap<string, number>
}

/**
 * Everything a purchase may change: lines that are short or rest on stand-ins, and all that compete with them for a
 * piece, however indirectly. Other lines have their own pieces at no compromise: no purchase does better. Lines of
 * coherent groups keep what they have, in the colour they took; only what they lack is bought.
 */
export function jointLines(snapshot: Snapshot, result: Tally): JointLines {
  const task = nettingTask(snapshot)
  const parent = new Map<string, string>()
  const root = (item: string): string => {
    let at = item
    for (let up = parent.get(at); up !== undefined && up !== at; up = parent.get(at)) at = up
    return at
  }
  const join = (p: string, q: string) => {
    const [a, b] = [root(p), root(q)]
    if (a !== b) parent.set(b, a)
  }
  for (const { id, accepts } of task.problem.lines)
    for (const { uses } of accepts) for (const { item } of uses) join(`line ${id}`, item)
  const resultById = new Map(result.lines.map((l) => [l.id, l]))
  const contested = new Set<string>()
  for (const { id } of task.problem.lines) {
    const line = resultById.get(id)
    if (line && (line.coverage.short > 0 || line.pegs.some((p) => p.standIn && p.by !== 'pin')))
      contested.add(root(`line ${id}`))
  }
  const numbers = new Map(task.requirements.map((r, i) => [r.id, i]))
  const lines = new Map<string, { wish: Wish; key: string; qty: number; owned: readonly LineOption[] }>()
  const add = (wish: Wish, qty: number, owned: readonly LineOption[]) => {
    const key = wishKey(wish)
    const known = lines.get(key)
    if (known) known.qty += qty
    else if (qty > 0) lines.set(key, { wish, key, qty, owned })
  }
  const kept = new Set<string>()
  for (const { id, qty, group } of task.problem.lines) {
    const number = numbers.get(id) ?? -1
    const wish = task.wishes[number]
    if (!wish || !contested.has(root(`line ${id}`))) continue
    if (group === undefined) add(wish, qty, task.optionsOf(number))
    else kept.add(id)
  }
  for (const id of kept) {
    const [wish, line] = [task.wishes[numbers.get(id) ?? -1], resultById.get(id)]
    if (wish && line && line.coverage.short > 0) add(settledWish(wish, line.wanted), line.coverage.short, [])
  }

  const lotOf = new Map<string, string>()
  for (const { variant, supplies } of task.lots.values()) for (const s of supplies) lotOf.set(s.id, variant.key)
  const stock = new Map<string, number>()
  for (const { id, item, qty } of task.problem.supplies)
    if (!isBuying(id)) stock.set(item, (stock.get(item) ?? 0) + qty)
  for (const id of kept)
    for (const { source, item, qty, by } of resultById.get(id)?.pegs ?? []) {
      const supply = supplyIdOfPeg(source, item)
      const key = supply === undefined ? undefined : lotOf.get(supply)
      if (key !== undefined && by !== 'pin') stock.set(key, Math.max(0, (stock.get(key) ?? 0) - qty))
    }
  return { lines: [...lines.values()], stock }
}
