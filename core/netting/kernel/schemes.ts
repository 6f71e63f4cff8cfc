import {
  isBetter,
  optionsFrom,
  componentsOf,
  valueOf,
  type Cover,
  type CoverPlan,
  type GroupPlan,
  type CoverDemand,
  type Stock,
  type Value,
} from './cover-problem.ts'

/** Solved choices after which the best one found is taken unproven. */
const MAX_NODES = 2000

/** A cover with some groups' schemes fixed. */
type Node = { readonly chosen: ReadonlyMap<string, string>; readonly cover: Cover; readonly value: Value }

/**
 * The best cover where demands of a group must all use options of one scheme: schemes are fixed group by group, depth
 * first, the best-looking first. What is still open is solved as if each demand could choose for itself, which is a bound.
 */
export function coverWithSchemes(
  demands: readonly CoverDemand[],
  stock: Stock,
  solve: (demands: readonly CoverDemand[]) => GroupPlan,
): CoverPlan {
  const groups = new Map<string, string[]>()
  for (const { group, options } of demands) {
    if (group === undefined) continue
    const schemes = groups.get(group) ?? []
    for (const scheme of options.schemes ?? [])
      if (scheme !== undefined && !schemes.includes(scheme)) schemes.push(scheme)
    groups.set(group, schemes)
  }
  // Groups with the fewest schemes first: they decide most for least work.
  const order = [...groups].sort((p, q) => p[1].length - q[1].length || (p[0] < q[0] ? -1 : 1))

  let proven = true
  let unproven: number | undefined
  const nodeOf = (chosen: ReadonlyMap<string, string>): Node => {
    const narrowed = demands.map((demand) =>
      narrow(demand, demand.group === undefined ? undefined : chosen.get(demand.group)),
    )
    const free = narrowed.map((n) => n.demand)
    const plan = solve(free)
    proven &&= plan.proven
    if (plan.unproven !== undefined) unproven = Math.min(unproven ?? Infinity, plan.unproven)
    return {
      chosen,
      value: valueOf(free, plan.cover, stock),
      cover: plan.cover.map((own, n) => {
        const at = narrowed[n]?.at
        return at ? own.map((number, i) => (i % 2 === 0 ? (at[number] ?? 0) : number)) : own
      }),
    }
  }
  let best: Node | undefined
  let nodes = 0
  let cutShort = false
  const descend = (depth: number, bound: Node): void => {
    const next = order[depth]
    if (!next) {
      if (!best || isBetter(bound.value, best.value)) best = bound
      return
    }
    const [group, schemes] = next
    if (schemes.length === 0) {
      descend(depth + 1, bound)
      return
    }
    const choices = schemes.map((scheme) => {
      nodes++
      return { scheme, node: nodeOf(new Map([...bound.chosen, [group, scheme]])) }
    })
    choices.sort((p, q) =>
      isBetter(p.node.value, q.node.value)
        ? -1
        : isBetter(q.node.value, p.node.value)
          ? 1
          : p.scheme < q.scheme
            ? -1
            : 1,
    )
    for (const { node } of choices) {
      if (best && !isBetter(node.value, best.value)) return
      if (best && nodes > MAX_NODES) {
        cutShort = true
        return
      }
      descend(depth + 1, node)
    }
  }
  descend(0, nodeOf(new Map()))
  if (!best) throw new Error('a choice of schemes always exists')
  return { cover: best.cover, schemes: best.chosen, proven: proven && !cutShort, unproven }
}

/** A demand with the options of one scheme alone, and where they are among all of its options. */
function narrow(
  demand: CoverDemand,
  scheme: string | undefined,
): { readonly demand: CoverDemand; readonly at?: readonly number[] } {
  const { items, compromises, schemes, kits: several } = demand.options
  if (scheme === undefined || !schemes) return { demand }
  const at = [...items.keys()].filter((i) => schemes[i] === undefined || schemes[i] === scheme)
  const options = optionsFrom(
    at.map((i) => ({ uses: componentsOf({ items, kits: several }, i), compromise: compromises[i] ?? 0 })),
  )
  return { demand: { qty: demand.qty, options }, at }
}
