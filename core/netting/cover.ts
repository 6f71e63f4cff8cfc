import type { SolveMilp } from '../solver/milp.ts'
import { roomFor, solveGroup } from './group.ts'
import { piecesIn, SEVERAL, type CoverPlan, type GroupPlan, type Need, type Stock } from './numbered.ts'
import { coverWithSchemes } from './schemes.ts'

/**
 * Covers needs from stock: fewest pieces short, then least compromise, then preferred sources, proven unless `proven`
 * says otherwise. Items that no need can exchange for one another fall into independent groups: a single item needs
 * arithmetic only, the others a flow (`solveGroup`); needs that choose a scheme together make one group, and so do the
 * needs that compete with them (`coverWithSchemes`). Items are numbered below `items`; where covers are equally good
 * the order of needs decides.
 */
export function coverNeeds(
  needs: readonly Need[],
  stockOf: (item: number) => Stock,
  items: number,
  milp?: SolveMilp,
): CoverPlan {
  const room = roomFor(items)
  const cover: (readonly number[])[] = needs.map(() => NONE)
  const schemes = new Map<string, string>()
  let proven = true
  for (const group of independent(needs, items)) {
    const own = group.map((n) => needs[n] as Need)
    let plan: GroupPlan
    if (own.some((need) => need.group !== undefined)) {
      // Once schemes are fixed, needs of one group may have nothing to do with one another.
      const chosen = coverWithSchemes(own, stockOf, (free) => {
        const bare = free.map(({ qty, options }) => ({ qty, options }))
        return coverNeeds(bare, stockOf, items, milp)
      })
      for (const [name, scheme] of chosen.schemes) schemes.set(name, scheme)
      plan = chosen
    } else plan = plainCover(own, stockOf) ?? solveGroup(own, stockOf, room, milp)
    proven &&= plan.proven
    for (const [i, n] of group.entries()) cover[n] = plan.cover[i] ?? NONE
  }
  return { cover, proven, schemes }
}

const NONE: readonly number[] = []

/**
 * Needs by what they compete for: the numbers of those that share an item or a group, however indirectly. Items are
 * numbered below `items`.
 */
export function independent(needs: readonly Need[], items: number): number[][] {
  const parent = new Int32Array(items + needs.length)
  for (let i = 0; i < parent.length; i++) parent[i] = i
  const root = (node: number): number => {
    let at = node
    for (let up = parent[at] as number; up !== at; up = parent[at] as number) {
      parent[at] = parent[up] as number
      at = parent[at] as number
    }
    return at
  }
  const firstOf = new Map<string, number>()
  for (let n = 0; n < needs.length; n++) {
    const { options, group } = needs[n] as Need
    let own = items + n
    const join = (node: number) => {
      const other = root(node)
      if (other !== own) parent[own] = other
      own = other
    }
    if (group !== undefined) {
      const first = firstOf.get(group)
      if (first === undefined) firstOf.set(group, own)
      else join(first)
    }
    for (const item of options.items) if (item !== SEVERAL) join(item)
    for (const uses of options.several.values()) for (const { item } of uses) join(item)
  }
  const groups: number[][] = []
  const numberOf = new Int32Array(parent.length).fill(-1)
  for (let n = 0; n < needs.length; n++) {
    const top = root(items + n)
    const number = numberOf[top] as number
    if (number >= 0) groups[number]?.push(n)
    else {
      numberOf[top] = groups.length
      groups.push([n])
    }
  }
  return groups
}

/** The cover of needs with nothing to choose: all take single pieces of one item, in their order. */
function plainCover(needs: readonly Need[], stockOf: (item: number) => Stock): GroupPlan | undefined {
  const item = needs[0]?.options.items[0]
  if (item === undefined) return { cover: needs.map(() => NONE), proven: true }
  if (item === SEVERAL) return undefined
  for (const { options } of needs)
    if (options.items.length !== 1 || options.items[0] !== item || (needs.length > 1 && options.compromises[0] !== 0))
      return undefined
  let left = piecesIn(stockOf(item))
  const cover = needs.map(({ qty }) => {
    const taken = Math.min(left, qty)
    left -= taken
    return [taken]
  })
  return { cover, proven: true }
}
