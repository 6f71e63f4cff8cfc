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
  slackTo,
  type Least,
  type Slack,
  type Value,
} from './cover-problem.ts'
import { boundAt, cheapestScheme, leastOf, pricesOf, scaleOf, weightOf, type PriceBound, type Scale } from './prices.ts'

/** Demands of solved choices after which the best choice found is taken unproven; but so many choices however large they are. */
const MAX_WORK = 60_000
const [LEAST_NODES, MAX_NODES] = [6, 2000]

/** A cover with some groups' schemes fixed. */
type Node = {
  readonly chosen: Chosen
  readonly cover: Cover
  readonly value: Value
  /** How much better the best cover with those schemes may be. */
  readonly slack: Slack | undefined
}
type Chosen = ReadonlyMap<string, string>
const NONE: ReadonlyMap<string, string> = new Map()

/**
 * The best cover where demands of a group must all use options of one scheme. Prices (`pricesOf`) of a cover say what each
 * scheme would cost each group, and bound all covers: the schemes that are cheapest at the prices of the free cover are
 * tried first, and bettered as long as the prices of what came of that say so. What the bound does not rule out is fixed
 * group by group, depth first, the best-looking first; what is still open is solved as if each demand could choose for
 * itself, which is a bound as well. Stops after so much work, and then says what is known of all covers.
 */
export function coverWithSchemes(
  demands: readonly CoverDemand[],
  stock: Stock,
  solve: (demands: readonly CoverDemand[]) => GroupPlan,
): CoverPlan {
  const schemesOf = namesOf(demands)
  const scale = scaleOf(demands, stock)
  const most = Math.min(MAX_NODES, Math.max(LEAST_NODES, Math.floor(MAX_WORK / demands.length)))
  let proven = true as boolean
  let unproven: number | undefined
  let nodes = 0
  const nodeOf = (chosen: Chosen): Node => {
    nodes++
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
      slack: plan.slack,
      cover: plan.cover.map((own, n) => {
        const at = narrowed[n]?.at
        return at ? own.map((number, i) => (i % 2 === 0 ? (at[number] ?? 0) : number)) : own
      }),
    }
  }
  let best = undefined as Node | undefined
  const keep = (node: Node) => {
    if (!best || isBetter(node.value, best.value)) best = node
  }
  /** The cover with a choice of schemes; undefined where it is no better than the best, or nothing more may be tried. */
  const tryOut = (chosen: Chosen): Node | undefined => {
    if (nodes >= most) return undefined
    const [before, node] = [best, nodeOf(chosen)]
    keep(node)
    return best === before ? undefined : node
  }
  /** The best bound that prices gave, and what each scheme adds to it. */
  let bound: { readonly weight: number; readonly adds: ReadonlyMap<string, ReadonlyMap<string, number>> } | undefined
  /** What each scheme costs each group at the prices of a cover. */
  const pricedAt = ({ cover, chosen }: Node): PriceBound['schemes'] | undefined => {
    if (!scale) return undefined
    const prices = pricesOf(demands, cover, stock, scale, chosen)
    const { weight, schemes } = boundAt(demands, stock, prices, scale, schemesOf)
    if (!bound || weight > bound.weight) bound = { weight, adds: overLeast(schemes) }
    return schemes
  }
  /** Whether a choice may still be better than the best, by the prices. */
  const mayBeat = (chosen: Chosen): boolean => {
    if (!best || !bound || !scale) return true
    let { weight } = bound
    for (const [group, scheme] of chosen) weight += bound.adds.get(group)?.get(scheme) ?? 0
    const least = weightOf(best.value, scale)
    // Where ranks are not weighed as much as the best may still be better by those.
    return scale.ranked ? weight < least : weight <= least
  }
  const root = nodeOf(new Map())
  const priced = pricedAt(root)
  if (priced && priced.size > 0) {
    keep(nodeOf(new Map([...priced].map(([group, sums]) => [group, cheapestScheme(sums)]))))
    for (let node = best; node && nodes < most && mayBeat(NONE);) node = bettered(node, pricedAt(node), tryOut)
  }

  let cutShort = false as boolean
  const descend = (groups: readonly Group[], from: Node): void => {
    const [first, ...rest] = groups
    if (!first) {
      keep(from)
      return
    }
    const [group, schemes] = first
    const choices: Node[] = []
    for (const scheme of schemes) {
      const chosen = new Map([...from.chosen, [group, scheme]])
      if (!mayBeat(chosen)) continue
      if (best && nodes >= most) {
        cutShort = true
        return
      }
      choices.push(nodeOf(chosen))
    }
    choices.sort((p, q) => (isBetter(p.value, q.value) ? -1 : isBetter(q.value, p.value) ? 1 : 0))
    for (const node of choices) {
      if (best && (!isBetter(node.value, best.value) || !mayBeat(node.chosen))) continue
      descend(rest, node)
    }
  }
  // Groups with the fewest schemes left first: they decide most for least work.
  const open = [...schemesOf]
    .filter(([, schemes]) => schemes.length > 0)
    .map(([group, schemes]): Group => [group, schemes.filter((scheme) => mayBeat(new Map([[group, scheme]])))])
    .sort((p, q) => p[1].length - q[1].length || (p[0] < q[0] ? -1 : 1))
  if (!best || (isBetter(root.value, best.value) && mayBeat(NONE))) descend(open, root)
  if (!best) throw new Error('a choice of schemes always exists')
  const done = proven && !cutShort
  return {
    cover: best.cover,
    schemes: best.chosen,
    proven: done,
    unproven,
    ...(!done && { slack: slackTo(leastBy(root, bound, scale), best.value) }),
  }
}

/**
 * A better choice next to one: the groups that would rather have another scheme at its prices change theirs, all at once; where
 * that overshoots the half of them with most to gain, and so on down to one; then each of the others by itself.
 */
function bettered(
  { chosen }: Node,
  priced: PriceBound['schemes'] | undefined,
  tryOut: (chosen: Chosen) => Node | undefined,
): Node | undefined {
  const gains = [...(priced ?? [])]
    .map(([group, sums]) => {
      const to = cheapestScheme(sums)
      return { group, to, gain: (sums.get(chosen.get(group) ?? '') ?? Infinity) - (sums.get(to) ?? 0) }
    })
    .filter(({ gain }) => gain > 0)
    .sort((p, q) => q.gain - p.gain || (p.group < q.group ? -1 : 1))
  const changed = (some: typeof gains) =>
    tryOut(new Map([...chosen, ...some.map(({ group, to }) => [group, to] as const)]))
  for (let many = gains.length; many >= 1; many = Math.floor(many / 2)) {
    const found = changed(gains.slice(0, many))
    if (found) return found
  }
  for (const one of gains.slice(1)) {
    const found = changed([one])
    if (found) return found
  }
  return undefined
}

/** A group and its schemes. */
type Group = readonly [group: string, schemes: readonly string[]]

/** The schemes of each group, as its demands name them. */
function namesOf(demands: readonly CoverDemand[]): Map<string, string[]> {
  const groups = new Map<string, string[]>()
  for (const { group, options } of demands) {
    if (group === undefined) continue
    const schemes = groups.get(group) ?? []
    for (const scheme of options.schemes ?? [])
      if (scheme !== undefined && !schemes.includes(scheme)) schemes.push(scheme)
    groups.set(group, schemes)
  }
  return groups
}

/** What each scheme costs beyond the cheapest of its group. */
const overLeast = (
  schemes: ReadonlyMap<string, ReadonlyMap<string, number>>,
): ReadonlyMap<string, ReadonlyMap<string, number>> =>
  new Map(
    [...schemes].map(([group, sums]) => {
      const least = Math.min(...sums.values())
      return [group, new Map([...sums].map(([scheme, sum]) => [scheme, sum - least]))]
    }),
  )

/** What is known of all covers: by the free one, as far as it is proven, or by prices where those say more. */
function leastBy(
  { value, slack }: Node,
  bound: { readonly weight: number } | undefined,
  scale: Scale | undefined,
): Least {
  const short = value.short - (slack?.short ?? 0)
  const free = { short, compromise: short < value.short ? 0 : value.compromise - (slack?.compromise ?? 0) }
  const priced = bound && scale && leastOf(bound.weight, scale)
  return priced && isBetter({ ...free, rank: 0 }, { ...priced, rank: 0 }) ? priced : free
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
