import type { Build } from '../build/build.ts'
import { changingInto } from '../build/exchange-rates.ts'
import type { ItemKey } from '../catalogue/item.ts'
import { buildCost, type PrintsNeeded } from '../costs/build-cost.ts'
import type { Copy, DonorSet } from '../donors/donor-set.ts'
import type { Unit } from '../making/unit.ts'
import type { TallyLine } from '../netting/tally.ts'
import type { PriceOf } from '../offers/goods-cost.ts'
import type { LoosePrices } from '../offers/loose-prices.ts'
import type { Order } from '../orders/order.ts'
import type { PlanCost } from '../sourcing/plan.ts'
import { donorsFromNothing } from '../sourcing/what-if.ts'
import { exchanged } from '../units/exchange.ts'
import type { CopyId } from '../units/ids.ts'
import { costByModule, type ModuleCost } from './by-module.ts'
import { completionOf, countedPostings, restToBuy, type Completion } from './completion.ts'
import { sharedDonors, type CopyUse } from './donor-share.ts'
import { ledgerOf, movementsOf, outlayOf, type Ledger, type Outlay } from './ledger.ts'
import { postingsOfPurchase, type Posting, type Postings } from './postings.ts'
import { shelfWorth, threeCosts, type ThreeCosts } from './three-costs.ts'
import { orderedPieces, piecesBought, piecesByModule, usedOfCopies } from './used.ts'

/** What a build has cost, will have cost, and would cost others. */
export type Settlement = {
  readonly postings: readonly Posting[]
  /** Money that moved, the latest first; what has no day at the end. */
  readonly movements: readonly Posting[]
  /** Orders reckoned in other money than the build's, in no sum. */
  readonly unchanged: readonly string[]
  readonly ledger: Ledger
  readonly outlay: Outlay
  readonly completion: Completion
  readonly byModule: readonly ModuleCost[]
  readonly costs: ThreeCosts
}

/** The records that a settlement rests on; units and copies may be of other builds too. */
export type SettlementRecords = {
  readonly orders: readonly Order[]
  readonly units: readonly Unit[]
  readonly copies: readonly Copy[]
  readonly sets: readonly DonorSet[]
}

/** What a count says that money depends on. */
export type Counted = PrintsNeeded & {
  readonly lines: readonly Pick<TallyLine, 'module' | 'need' | 'wanted' | 'pegs'>[]
  readonly shortfall: ReadonlyMap<ItemKey, number>
  readonly need: number
}

/** A purchase plan kept for just this count: what it costs at the door, what it cannot get, and its bill. */
export type Planned = { readonly landed: number; readonly unavailable: number; readonly cost: PlanCost }

/** Postings with donors as the build takes them: whole, or by the pieces of them that it uses. */
function postingsAsShared(build: Build, whole: readonly Posting[], counted: Counted, of: SettlementRecords) {
  if (build.donorShare !== 'by pieces') return whole
  const units = of.units.filter((u) => u.build === build.id)
  const used = usedOfCopies(counted.lines, units)
  const setById = new Map(of.sets.map((s) => [s.id, s]))
  const uses = new Map<CopyId, CopyUse>()
  for (const copy of of.copies) {
    const set = copy.buildId === build.id ? setById.get(copy.setId) : undefined
    if (set) uses.set(copy.id, { label: copy.label, used: used.get(copy.id) ?? 0, held: piecesBought(set, copy) })
  }
  return [...whole, ...sharedDonors(whole, uses)]
}

/** What pieces cost each when they were last ordered, minor units of the build's money. */
function lastPrices({ currency }: Build, orders: readonly Order[]): Map<ItemKey, number> {
  return new Map(
    orders.flatMap((o) =>
      o.home === currency
        ? o.lines.map((l) => [l.item, o.rate === undefined ? l.price : exchanged(l.price, o.rate)] as const)
        : [],
    ),
  )
}

/**
 * Settles a build: its postings (`postingsOf`, donors whole) with its last count, the prices of loose pieces and, where one
 * is kept for just this count, its purchase plan. All sums in minor units of the build's money; what leftovers may bring
 * is told beside them, and in none.
 */
export function settlementOf(
  build: Build,
  { postings: whole, unchanged }: Postings,
  counted: Counted,
  of: SettlementRecords,
  planned: Planned | undefined,
  market: { readonly prices: LoosePrices; readonly priceOf: PriceOf },
): Settlement {
  const postings = postingsAsShared(build, whole, counted, of)
  const { replaces } = build
  const rate = replaces && changingInto(build.currency, build.rules.rates)(replaces.price.currency)
  const { prints } = buildCost(build, { modules: [] }, counted, 0)
  const bought = planned && { minor: planned.landed + planned.cost.credit, unavailable: planned.unavailable }
  const rest = restToBuy(build.id, counted.shortfall, of.orders, bought, market.priceOf, prints)
  const buys = rest.basis === 'plan' ? planned?.cost : undefined
  const all = buys ? [...postings, ...postingsOfPurchase(buys, rest.minor)] : postings
  const paid = countedPostings(postings)
  const uses = piecesByModule(
    counted.lines,
    of.units.filter((u) => u.build === build.id),
  )
  const last = lastPrices(build, of.orders)
  return {
    postings,
    movements: movementsOf(postings),
    unchanged,
    ledger: ledgerOf(all),
    outlay: outlayOf(postings),
    completion: completionOf(postings, rest, counted.need, {
      budget: build.rules.budget,
      replaced: replaces && rate !== undefined ? exchanged(replaces.price.minor, rate) : undefined,
    }),
    byModule: costByModule(paid, rest.minor, uses, (item) => last.get(item) ?? market.prices.get(item)?.median ?? 0),
    costs: threeCosts(
      paid,
      { rest: rest.minor, restCopies: buys?.sets ?? 0 },
      shelfWorth(uses, orderedPieces(build.id, of.orders), market.prices),
      donorsFromNothing(
        build,
        of.copies.filter((c) => c.buildId === build.id && c.state !== 'to-buy'),
        of.sets,
      ),
    ),
  }
}
