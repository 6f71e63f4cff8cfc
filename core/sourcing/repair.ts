import type { ItemKey } from '../catalogue/item.ts'
import { coveredBy, pieceOf } from './plan-pieces.ts'
import { solveWithinReach, withLess, type WithinReach } from './leave-out.ts'
import type { Decisions, SourcingPlan, Unreachable } from './plan.ts'
import { dearestPiece, type SourcingProblem } from './problem.ts'
import type { SolveOptions } from './solve.ts'
import { withFigures } from './sell-figures.ts'
import { verifyPlan } from './verify-plan.ts'

/** A plan with the problem it answers. */
type Planned = {
  readonly problem: SourcingProblem
  readonly plan: Decisions & Pick<SourcingPlan, 'total'>
}

/** What became of an offer that a plan buys. */
export type OfferChange = {
  readonly offer: string
  readonly shop: string
  readonly item: ItemKey
  /** Pieces that the plan buys of it. */
  readonly pieces: number
} & (
  | { readonly kind: 'gone' }
  /** So many pieces are left, in whole packs, fewer than the plan buys. */
  | { readonly kind: 'fewer'; readonly left: number }
  /** What a piece cost then and costs now, minor units. */
  | { readonly kind: 'price'; readonly was: number; readonly is: number }
)

/**
 * What became of the offers that a plan buys, by those of a problem made of fresh ones. An offer that is sold in other
 * packs, for another piece or by a shop that may no longer be used is gone.
 */
export function offerChanges({ problem, plan }: Planned, fresh: SourcingProblem): OfferChange[] {
  const then = new Map(problem.offers.map((o) => [o.id, o]))
  const pieces = new Map(problem.items.map((i) => [i.id, pieceOf(i)]))
  const usable = new Set(fresh.shops.filter((s) => s.status !== 'excluded').map((s) => s.id))
  const now = new Map(fresh.offers.filter((o) => usable.has(o.shop)).map((o) => [o.id, o]))
  return plan.purchases.flatMap(({ offer: id, packs }): OfferChange[] => {
    const was = then.get(id)
    if (!was || packs === 0) return []
    const of = {
      ...{ offer: id, shop: was.shop, pieces: packs * was.pack },
      item: pieces.get(was.item) ?? pieceOf({ id: was.item }),
    }
    const is = now.get(id)
    if (!is || is.pack !== was.pack || is.item !== was.item || is.shop !== was.shop) return [{ ...of, kind: 'gone' }]
    const left = is.stock - (is.stock % is.pack)
    return [
      ...(left < of.pieces ? [{ ...of, kind: 'fewer' as const, left }] : []),
      ...(is.price === was.price ? [] : [{ ...of, kind: 'price' as const, was: was.price, is: is.price }]),
    ]
  })
}

/** What is bought beyond what a plan buys, as offers, sets, items and options. No id of a problem that is solved here ends so. */
const MORE = '\u0000more'
const withoutMore = (id: string): string => {
  const at = id.indexOf(MORE)
  return at < 0 ? id : id.slice(0, at)
}

/** Options of several pieces are told apart piece by piece in up to so many ways. */
const MOST_APART = 16

/** Every way to take of each use so many pieces, from none to `most` of it; that of none at all left out. */
function someOf(most: readonly number[]): readonly (readonly number[])[] {
  // Too many: all of a use or none of it; still too many: all of everything.
  const apart = most.reduce((n, qty) => n * (qty + 1), 1) <= MOST_APART
  const by = (qty: number) => (apart || qty === 0 ? Array.from({ length: qty + 1 }, (_, n) => n) : [0, qty])
  if (!apart && most.filter((qty) => qty > 0).length > Math.log2(MOST_APART)) return [most]
  return most
    .reduce<number[][]>((ways, qty) => ways.flatMap((way) => by(qty).map((n) => [...way, n])), [[]])
    .filter((way) => way.some((n) => n > 0))
}

/**
 * The same problem in which every change to a plan costs so many points that no saving makes up for it. A change is a
 * piece bought beyond what the plan buys of its offer, used or not; a piece used out of a copy of a set beyond those the
 * plan buys, which are pieces of their own; and a piece of a line covered by another option: lines are divided by the
 * options that the plan covers them with, each of which is free of points for as many, and what it leaves over is asked
 * for as well. Its optimum has the fewest changes, and among those plans costs least. Prices stay what they are, so that
 * minimums, fees and levies do.
 */
function fewestChanges(problem: SourcingProblem, kept: Planned): SourcingProblem {
  const { plan } = kept
  const bought = new Map(plan.purchases.map((p) => [p.offer, p.packs]))
  const asked = problem.lines.reduce((n, l) => n + l.qty, 0)
  const dearest = dearestPiece(problem)
  // More than a plan may cost in all; beyond a million it would ask too much of a solver's numbers.
  const sold = problem.items.reduce((sum, { resale }) => sum + (resale ? resale.credit * resale.max : 0), 0)
  const change = Math.min(Math.max(plan.total ?? 0, 1000) + asked * dearest + sold, 1_000_000)
  const offers = problem.offers.flatMap((offer) => {
    const stock = offer.stock - (offer.stock % offer.pack)
    const still = Math.min(stock, (bought.get(offer.id) ?? 0) * offer.pack)
    return [
      ...(still > 0 ? [{ ...offer, stock: still }] : []),
      ...(stock > still
        ? [{ ...offer, id: `${offer.id}${MORE}`, stock: stock - still, penalty: (offer.penalty ?? 0) + change }]
        : []),
    ]
  })
  const further = new Set<string>()
  const copies = new Map(plan.sets.map((s) => [s.set, s.copies]))
  const sets = problem.sets.flatMap(({ figures: _, ...set }) => {
    // What was bought to be sold whole is among what stays.
    const { minCopies: least = 0, maxCopies: most, contents } = set
    const still = Math.min(most, copies.get(set.id) ?? 0)
    if (most > still) for (const { item } of contents) further.add(item)
    return [
      ...(still > 0 ? [{ ...set, minCopies: Math.min(least, still), maxCopies: still }] : []),
      ...(most > still
        ? [
            {
              ...{ ...set, id: `${set.id}${MORE}`, minCopies: Math.max(0, least - still), maxCopies: most - still },
              contents: contents.map((c) => ({ ...c, item: `${c.item}${MORE}` })),
            },
          ]
        : []),
    ]
  })
  const optionsOf = ({ accepts }: Line, own: string | undefined): Line['accepts'] =>
    accepts.flatMap((accept) => {
      const pieces = accept.uses.reduce((n, u) => n + u.qty, 0)
      const changed = accept.id === own ? 0 : pieces * change
      const most = accept.uses.map((u) => (further.has(u.item) ? u.qty : 0))
      return [
        { ...accept, penalty: accept.penalty + changed },
        ...someOf(most).map((moved) => ({
          ...accept,
          id: `${accept.id}${MORE} ${moved.join()}`,
          uses: accept.uses.flatMap((u, i) =>
            [
              { item: u.item, qty: u.qty - (moved[i] ?? 0) },
              { item: `${u.item}${MORE}`, qty: moved[i] ?? 0 },
            ].filter(({ qty }) => qty > 0),
          ),
          penalty: accept.penalty + Math.max(changed, moved.reduce((n, qty) => n + qty, 0) * change),
        })),
      ]
    })
  const covered = new Map<string, { accept: string; qty: number }[]>()
  for (const { line, accept, qty } of coveredBy(kept.problem, plan))
    covered.set(line.id, [...(covered.get(line.id) ?? []), { accept: accept.id, qty }])
  const spare = leftOverOf(problem, kept)
  const none = spare.reduce((n, [, qty]) => n + qty, 0)
  return {
    ...problem,
    offers,
    sets,
    items: [
      ...problem.items.flatMap((item) =>
        further.has(item.id) ? [item, { ...item, id: `${item.id}${MORE}`, owned: 0, resale: null }] : [item],
      ),
      ...(none > 0 ? [{ id: MORE, part: '', colour: '', mass: 0, owned: none, resale: null }] : []),
    ],
    lines: [
      ...spare.map(([item, qty]) => ({
        id: `${MORE} ${item}`,
        qty,
        accepts: [
          { id: 'kept', uses: [{ item, qty: 1 }], penalty: 0 },
          { id: 'dropped', uses: [{ item: MORE, qty: 1 }], penalty: change },
        ],
      })),
      ...problem.lines.flatMap((line) => {
        let left = line.qty
        const parts = (covered.get(line.id) ?? []).flatMap(({ accept, qty: then }, i) => {
          const qty = Math.min(left, then)
          left -= qty
          return qty > 0 ? [{ ...line, id: `${line.id}${MORE} ${i}`, qty, accepts: optionsOf(line, accept) }] : []
        })
        return left > 0 ? [...parts, { ...line, qty: left, accepts: optionsOf(line, undefined) }] : parts
      }),
    ],
  }
}

/**
 * What a plan buys beyond what it uses, to a minimum, in packs and copies or to sell it: that stays as well where it can.
 * What is owned of the same and not used is told with it, as it would be taken first.
 */
function leftOverOf(
  { items, onOrder }: SourcingProblem,
  { problem, plan }: Planned,
): (readonly [item: string, qty: number])[] {
  const verdict = verifyPlan(problem, plan)
  if (!verdict.ok) return []
  const free = new Map(items.map((i) => [i.id, i.owned]))
  for (const { item, qty } of onOrder) free.set(item, (free.get(item) ?? 0) + qty)
  for (const { accept, qty } of coveredBy(problem, plan))
    for (const use of accept.uses) free.set(use.item, (free.get(use.item) ?? 0) - qty * use.qty)
  const known = new Set(items.map((i) => i.id))
  return [...verdict.surplus].flatMap(([item, qty]) =>
    qty > 0 && known.has(item) ? [[item, qty + Math.max(0, free.get(item) ?? 0)] as const] : [],
  )
}

type Line = SourcingProblem['lines'][number]

/** A plan of the problem with changes, as one of the problem itself. */
function asItself({ purchases, assignments, sets }: Decisions, lines: SourcingProblem['lines']): Decisions {
  const packs = new Map<string, number>()
  for (const p of purchases) packs.set(withoutMore(p.offer), (packs.get(withoutMore(p.offer)) ?? 0) + p.packs)
  const covered = new Map<string, Map<string, number>>()
  for (const { line, accept, qty } of assignments) {
    const own = covered.get(withoutMore(line)) ?? new Map<string, number>()
    own.set(withoutMore(accept), (own.get(withoutMore(accept)) ?? 0) + qty)
    covered.set(withoutMore(line), own)
  }
  const copies = new Map<string, number>()
  for (const s of sets) copies.set(withoutMore(s.set), (copies.get(withoutMore(s.set)) ?? 0) + s.copies)
  return {
    sets: [...copies].map(([set, n]) => ({ set, copies: n })),
    figures: [],
    purchases: [...packs].map(([offer, n]) => ({ offer, packs: n })),
    assignments: lines.flatMap(({ id }) =>
      [...(covered.get(id) ?? [])].map(([accept, qty]) => ({ line: id, accept, qty })),
    ),
  }
}

/** The decisions of a plan of the problem with changes, with what goes unsaid in it: lines of a single option. */
const withUnsaid = (changed: SourcingProblem, { plan, problem }: WithinReach): Decisions => ({
  ...plan,
  assignments:
    plan.total === null
      ? []
      : [...coveredBy({ lines: changed.lines.filter((l) => problem.lines.some((k) => k.id === l.id)) }, plan)].map(
          ({ line, accept, qty }) => ({
            line: line.id,
            accept: accept.id,
            qty: Math.min(qty, problem.lines.find((k) => k.id === line.id)?.qty ?? qty),
          }),
        ),
})

/** What is left out, line by line as the problem has them. */
function leftOutOf(found: readonly Unreachable[]): Unreachable[] {
  const byLine = new Map<string, Unreachable>()
  for (const u of found) {
    const line = withoutMore(u.line)
    if (line === '') continue
    const known = byLine.get(line)
    byLine.set(line, { ...u, line, short: u.short + (known?.short ?? 0) })
  }
  return [...byLine.values()]
}

/** A plan that was mended. */
export type Repaired = WithinReach & {
  /** That no plan changes fewer pieces is proven. */
  readonly fewest: boolean
}

/**
 * Mends a plan by fresh offers with as few changes as possible: as many of its pieces as there still are stay bought
 * where they were, and the rest is bought at the least cost that leaves them so. Its total is counted by `verifyPlan`;
 * nothing is proven of how much less another plan might cost. `asked` is all that is to be bought now.
 */
export function repairPlan(asked: SourcingProblem, kept: Planned, options: SolveOptions): Repaired {
  const changed = fewestChanges(asked, kept)
  const found = solveWithinReach(changed, options)
  const leftOut = leftOutOf(found.leftOut)
  const problem = withLess(asked, new Map(leftOut.map((u) => [u.line, u.short])))
  const itself = asItself(withUnsaid(changed, found), problem.lines)
  const decisions = { ...found.plan, ...withFigures(problem, itself) }
  const verdict = found.plan.total === null ? undefined : verifyPlan(problem, decisions)
  if (!verdict?.ok)
    return { leftOut, problem, plan: { ...decisions, total: null, cost: null, bound: null, gap: null }, fewest: false }
  const { total, cost } = verdict
  return {
    problem,
    leftOut,
    fewest: found.plan.status === 'optimal',
    plan: { ...decisions, total, cost, bound: null, gap: null, status: 'feasible' },
  }
}

/** Pieces of an item that a plan buys from a shop more (or fewer, below 0) than another. */
export type PieceChange = { readonly item: ItemKey; readonly shop: string; readonly pieces: number }

/** In what a plan buys otherwise than another, shop by shop. */
export function piecesChanged(before: Planned, after: Planned): PieceChange[] {
  const changed = new Map<string, { item: ItemKey; shop: string; pieces: number }>()
  const add = ({ problem, plan }: Planned, sign: 1 | -1) => {
    const offers = new Map(problem.offers.map((o) => [o.id, o]))
    const pieces = new Map(problem.items.map((i) => [i.id, pieceOf(i)]))
    for (const { offer: id, packs } of plan.purchases) {
      const offer = offers.get(id)
      if (!offer) continue
      const item = pieces.get(offer.item) ?? pieceOf({ id: offer.item })
      const key = JSON.stringify([item, offer.shop])
      const known = changed.get(key) ?? { item, shop: offer.shop, pieces: 0 }
      known.pieces += sign * packs * offer.pack
      changed.set(key, known)
    }
  }
  add(before, -1)
  add(after, 1)
  return [...changed.values()]
    .filter((c) => c.pieces !== 0)
    .sort((p, q) => (p.item < q.item ? -1 : p.item > q.item ? 1 : p.pieces - q.pieces))
}
