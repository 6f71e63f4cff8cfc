import { SEVERAL, type CoverPlan } from '../netting/numbered.ts'
import type { LineOptions } from './line-options.ts'
import type { NettingTask } from './netting-task.ts'

/** A task and how it was covered. */
export type Covered = { readonly task: NettingTask; readonly plan: CoverPlan }

/**
 * Which requirements are covered from the very same supplies as in the last tally: 1 where they are. Undefined where
 * the design has changed since, or lines wait for what others leave over.
 *
 * A class has changed when its members, its cover or its pins have. What it draws, or drew, on is handed out anew: so
 * every class that draws on the same variants has changed with it, and so on.
 */
export function unchangedSince(last: Covered | undefined, { task, plan }: Covered): Uint8Array | undefined {
  const { requirements, classOf, wishes, stock } = task
  if (!last || last.task.requirements !== requirements || last.task.stock !== stock || task.leftovers) return undefined
  const before = last.task
  const changed = new Uint8Array(Math.max(wishes.length, before.wishes.length))
  for (let c = 0; c < changed.length; c++)
    if (wishes[c] !== before.wishes[c] || coverOf(task, plan, c) !== coverOf(before, last.plan, c)) changed[c] = 1
  for (let i = 0; i < classOf.length; i++) {
    const [now, then] = [classOf[i] as number, before.classOf[i] as number]
    if (now !== then) changed[now] = changed[then] = 1
  }
  for (const { classOf: own, pinned } of [task, before]) for (const i of pinned.keys()) changed[own[i] as number] = 1

  const users = variantUsers(task)
  const touched = new Uint8Array(stock.variants)
  const queue: number[] = []
  const touch = (variant: number) => {
    if (touched[variant] === 1) return
    touched[variant] = 1
    for (let at = users.first[variant] as number; at < (users.first[variant + 1] as number); at++) {
      const c = users.classes[at] as number
      if (changed[c] === 1) continue
      changed[c] = 1
      queue.push(c)
    }
  }
  for (let c = 0; c < changed.length; c++) if (changed[c] === 1) queue.push(c)
  for (const pieces of [...task.pinned.values(), ...before.pinned.values()])
    for (const { variant } of pieces) touch(variant)
  for (let c = queue.pop(); c !== undefined; c = queue.pop()) {
    eachVariant(task, c, touch)
    eachVariant(before, c, touch)
  }
  const same = new Uint8Array(classOf.length)
  for (let i = 0; i < classOf.length; i++) same[i] = changed[classOf[i] as number] === 1 ? 0 : 1
  return same
}

/** The cover of a class, an object that stays while nothing changes; settled classes take what they ask for. */
function coverOf({ needOf, wishes }: NettingTask, { cover }: CoverPlan, c: number): readonly number[] | undefined {
  if (c >= wishes.length) return undefined
  const need = needOf[c] as number
  return need < 0 ? SETTLED : cover[need]
}
const SETTLED: readonly number[] = []

/** What a class may draw on. */
function eachVariant(
  { wishes, options, itemAt, stock }: NettingTask,
  c: number,
  visit: (variant: number) => void,
): void {
  if (c >= wishes.length) return
  const own: LineOptions | undefined = options[c]
  if (!own) {
    const place = itemAt[c] as number
    if (place < 0) return
    for (let v = stock.variantsFrom[place] as number; v < (stock.variantsFrom[place + 1] as number); v++) visit(v)
    return
  }
  for (const item of own.items) if (item !== SEVERAL && item < stock.variants) visit(item)
  for (const uses of own.several.values()) for (const { item } of uses) visit(item)
}

/** Of each variant the classes that may draw on it, from `first` of it on. */
function variantUsers(task: NettingTask) {
  const first = new Int32Array(task.stock.variants + 1)
  for (let c = 0; c < task.wishes.length; c++)
    eachVariant(task, c, (variant) => {
      first[variant + 1] = (first[variant + 1] as number) + 1
    })
  for (let v = 1; v < first.length; v++) first[v] = (first[v] as number) + (first[v - 1] as number)
  const next = first.slice()
  const classes = new Int32Array(first[first.length - 1] as number)
  for (let c = 0; c < task.wishes.length; c++)
    eachVariant(task, c, (variant) => {
      const at = next[variant] as number
      next[variant] = at + 1
      classes[at] = c
    })
  return { first, classes }
}
