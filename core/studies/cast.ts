import { splitItemKey, type ItemKey } from '../catalogue/item.ts'
import { explode } from '../design/explode.ts'
import type { Module } from '../design/design.ts'
import type { DonorSet } from '../donors/donor-set.ts'
import { presolve, findUnreachable } from '../sourcing/presolve.ts'
import type { SourcingPlan } from '../sourcing/plan.ts'
import type { SourcingProblem } from '../sourcing/problem.ts'
import type { ModuleId, SetId } from '../units/ids.ts'
import { type Offer } from '../offers/offer.ts'
import { termsOf, type Shop } from '../offers/shop.ts'
import type { Snapshot } from '../netting/snapshot.ts'
import type { Tally } from '../netting/tally.ts'

/** As few donor sets as possible, or as little money, with loose pieces from shops as well. */
export type CastAim = 'fewest donors' | 'least money'

export type CastTask = {
  readonly problem: SourcingProblem
  /** Slots that no donor and no shop can fill: figure, item and pieces. */
  readonly heldUp: readonly { readonly module: ModuleId; readonly item: ItemKey; readonly qty: number }[]
}

/** Copies of one set that a cast might take at most. */
const MOST_COPIES = 20

/**
 * Covering a cast of figures as a sourcing problem: a line per slot that the tally leaves short, alternatives at the
 * rules' price of compromise, every known set with a price as a donor, and loose offers when money is the aim. For the
 * fewest donors every set costs 1 and alternatives nothing, which makes it a set cover with quantities. What nobody can
 * supply is taken out and named.
 */
export function castTask(
  snapshot: Snapshot,
  result: Tally,
  aim: CastAim,
  market: { readonly shops: readonly Shop[]; readonly offers: readonly Offer[] },
): CastTask {
  const { build, design, sets, parts } = snapshot
  const figures = new Set(design.modules.filter((m) => m.figure && !m.later).map((m) => m.id))
  const sourceOf = new Map(explode(design, { parts }).map((r) => [r.id, r]))
  const lines = result.lines
    .filter((l) => l.coverage.short > 0 && l.path.some((id) => figures.has(id)))
    .map((l) => ({ line: l, instead: sourceOf.get(l.id)?.instead ?? [] }))
  const asked = new Set<ItemKey>(
    lines.flatMap(({ line, instead }) => [line.wanted, ...instead.flatMap((uses) => uses.map((u) => u.item))]),
  )
  const usable = new Set(market.shops.filter((s) => s.currency === build.currency).map((s) => s.id))
  const offers =
    aim === 'least money' ? market.offers.filter((o) => usable.has(o.shop) && asked.has(o.item) && !o.thirdParty) : []
  const donors = sets.flatMap((set) => {
    const price = priceOf(set, build.currency, aim)
    const contents = contentsOf(set, asked)
    return price === undefined || contents.length === 0
      ? []
      : [{ id: set.id as string, price, maxCopies: MOST_COPIES, contents }]
  })
  const full: SourcingProblem = {
    format: 'sourcing-problem',
    version: 1,
    id: `${build.id} cast`,
    currency: build.currency,
    maxShops: aim === 'least money' ? build.rules.maxShops : null,
    deadlineDays: build.rules.deadlineDays,
    items: [...asked].map((item) => {
      const { part, colour } = splitItemKey(item)
      return { id: item, part, colour, mass: parts.get(part)?.shape.mass ?? 1000, owned: 0, resale: null }
    }),
    lines: lines.map(({ line, instead }) => ({
      id: line.id,
      qty: line.coverage.short,
      accepts: [
        { id: 'exact', uses: [{ item: line.wanted as string, qty: 1 }], penalty: 0 },
        ...instead.map((uses, i) => ({
          id: `instead ${i + 1}`,
          uses: uses.map((u): { item: string; qty: number } => ({ ...u })),
          penalty: aim === 'least money' ? (i + 1) * build.rules.pointPrice : 0,
        })),
      ],
    })),
    shops:
      aim === 'least money'
        ? market.shops
            .filter((s) => usable.has(s.id))
            .map((shop) => ({
              ...termsOf(shop),
              status: build.rules.shops[shop.id] === 'excluded' ? ('excluded' as const) : ('free' as const),
            }))
        : [],
    offers: offers.map(({ id, shop, item, price, stock, pack }) => ({ id, shop, item, price, stock, pack })),
    sets: donors,
    onOrder: [],
  }
  const unreachable = new Map(
    findUnreachable(presolve(full)).flatMap((u) => (u.line === '' ? [] : [[u.line, u.short] as const])),
  )
  return {
    problem: {
      ...full,
      lines: full.lines
        .map((line) => ({ ...line, qty: line.qty - (unreachable.get(line.id) ?? 0) }))
        .filter((line) => line.qty > 0),
    },
    heldUp: lines.flatMap(({ line }) => {
      const qty = unreachable.get(line.id) ?? 0
      return qty > 0 ? [{ module: line.module, item: line.wanted, qty }] : []
    }),
  }
}

/** A set's price in a cast's problem; undefined when it cannot be bought for a known price. */
function priceOf(set: DonorSet, currency: string, aim: CastAim): number | undefined {
  if (aim === 'fewest donors') return 1
  return set.retail?.currency === currency ? set.retail.minor : undefined
}

function contentsOf(set: DonorSet, asked: ReadonlySet<ItemKey>): { item: string; qty: number }[] {
  const sums = new Map<ItemKey, number>()
  for (const { item, qty } of set.lines) if (asked.has(item)) sums.set(item, (sums.get(item) ?? 0) + qty)
  return [...sums].map(([item, qty]) => ({ item, qty }))
}

/** Donor copies that a plan for a cast takes, by set. */
export const donorsTaken = (plan: SourcingPlan): { readonly set: SetId; readonly copies: number }[] =>
  plan.sets.filter((c) => c.copies > 0).map((c) => ({ set: c.set as SetId, copies: c.copies }))

/** Where the pieces of a figure come from: the donors' own figures that lend them, or other places. */
export type FigureTrace = {
  readonly figure: Module
  readonly need: number
  readonly have: number
  /** Names of figures in donor sets with the items they give. */
  readonly lenders: ReadonlyMap<string, readonly ItemKey[]>
  /** Items still short, and whether something stands in meanwhile. */
  readonly waiting: readonly { readonly item: ItemKey; readonly qty: number; readonly meanwhile: ItemKey | undefined }[]
}

/** Each figure of a design by its tally: who lends what (swapped arms and legs show here), and what it waits for. */
export function traceFigures({ design, sets, copies }: Snapshot, result: Tally): FigureTrace[] {
  const ownerOf = new Map<string, string>()
  for (const copy of copies) {
    const set = sets.find((s) => s.id === copy.setId)
    for (const line of set?.lines ?? [])
      if (line.figure !== undefined) ownerOf.set(`${copy.id}\n${line.stage}\n${line.item}`, line.figure)
  }
  return design.modules
    .filter((m) => m.figure)
    .map((figure) => {
      const lines = result.lines.filter((l) => l.path.includes(figure.id))
      const lenders = new Map<string, ItemKey[]>()
      for (const { pegs } of lines)
        for (const { source, item } of pegs) {
          if (source.kind !== 'copy') continue
          const lender = ownerOf.get(`${source.copy}\n${source.stage}\n${item}`)
          if (lender !== undefined) lenders.set(lender, [...(lenders.get(lender) ?? []), item])
        }
      return {
        figure,
        need: lines.reduce((n, l) => n + l.need, 0),
        have: lines.reduce((n, l) => n + l.need - l.coverage.short, 0),
        lenders,
        waiting: lines
          .filter((l) => l.coverage.short > 0)
          .map((l) => ({ item: l.wanted, qty: l.coverage.short, meanwhile: l.interim?.item })),
      }
    })
}
