import { useMemo } from 'react'
import type { Build } from '../../core/build/build.ts'
import { buildCost } from '../../core/costs/build-cost.ts'
import type { Snapshot } from '../../core/netting/snapshot.ts'
import { goodsPricer } from '../../core/offers/goods-cost.ts'
import { loosePrices } from '../../core/offers/loose-prices.ts'
import { usableOffers } from '../../core/offers/market.ts'
import { costByModule, type ModuleCost } from '../../core/settling/by-module.ts'
import { completionOf, countedPostings, restToBuy, type Completion } from '../../core/settling/completion.ts'
import { sharedDonors, type CopyUse } from '../../core/settling/donor-share.ts'
import { ledgerOf, movementsOf, outlayOf, type Ledger, type Outlay } from '../../core/settling/ledger.ts'
import { postingsOf, postingsOfPurchase, type Posting, type Postings } from '../../core/settling/postings.ts'
import { shelfWorth, threeCosts, type ThreeCosts } from '../../core/settling/three-costs.ts'
import { orderedPieces, piecesBought, piecesByModule, usedOfCopies } from '../../core/settling/used.ts'
import { donorsFromNothing } from '../../core/sourcing/what-if.ts'
import { changingInto } from '../../core/build/exchange-rates.ts'
import { exchanged } from '../../core/units/exchange.ts'
import type { CopyId } from '../../core/units/ids.ts'
import { usePlan } from './purchases.ts'
import { useRecords } from './records.tsx'
import type { BuildTally } from './tallies.ts'

const NO_POSTINGS: Postings = { postings: [], unchanged: [] }

/** All that is posted to a build's ledger, donors as a whole; nothing while there is no build. */
function usePostings(now: Pick<Snapshot, 'build' | 'design'> | undefined): Postings {
  const { orders, copies, sales, entries } = useRecords()
  const [build, modules] = [now?.build, now?.design.modules]
  return useMemo(
    () => (build && modules ? postingsOf(build, modules, { orders, copies, sales, entries }) : NO_POSTINGS),
    [build, modules, orders, copies, sales, entries],
  )
}

/** What a build has cost so far, minor units of its money; 0 before it is counted. */
export function useNetCost(tally: BuildTally | undefined): number {
  const { postings } = usePostings(tally?.now)
  return useMemo(() => ledgerOf(postings).net, [postings])
}

/** Prices of loose pieces under a build's rules, by the offers known. */
export function useLooseMarket({ currency, rules }: Build) {
  const { offers, shops } = useRecords()
  return useMemo(
    () => ({
      prices: loosePrices(usableOffers({ offers, shops }, currency, rules)),
      priceOf: goodsPricer(offers, shops, currency, rules),
    }),
    [offers, shops, currency, rules],
  )
}

export type Settlement = {
  readonly postings: readonly Posting[]
  /** Money that moved, the latest first; what has no day at the end. */
  readonly movements: readonly Posting[]
  readonly unchanged: readonly string[]
  readonly ledger: Ledger
  readonly outlay: Outlay
  readonly completion: Completion
  readonly byModule: readonly ModuleCost[]
  readonly costs: ThreeCosts
}

/** What a build has cost, will have cost, and would cost others: of its last count. */
export function useSettlement(tally: BuildTally): Settlement {
  const { snapshot, result } = tally
  const { build } = tally.now
  const { orders, units: all, copies, sets } = useRecords()
  const { postings: whole, unchanged } = usePostings(tally.now)
  const market = useLooseMarket(build)
  const { purchase, age } = usePlan(tally)
  const planned = age === 'fits' ? purchase : undefined
  const units = useMemo(() => all.filter((u) => u.build === build.id), [all, build.id])
  const postings = useMemo(() => {
    if (build.donorShare !== 'by pieces') return whole
    const used = usedOfCopies(result.lines, units)
    const uses = new Map<CopyId, CopyUse>()
    for (const copy of copies) {
      const set = copy.buildId === build.id ? sets.find((s) => s.id === copy.setId) : undefined
      if (set) uses.set(copy.id, { label: copy.label, used: used.get(copy.id) ?? 0, held: piecesBought(set, copy) })
    }
    return [...whole, ...sharedDonors(whole, uses)]
  }, [build, whole, result, units, copies, sets])
  return useMemo(() => {
    const changing = changingInto(build.currency, build.rules.rates)
    const { replaces } = build
    const rate = replaces && changing(replaces.price.currency)
    const prints = buildCost(build, { modules: [] }, result, 0).prints
    const cost = planned?.kept.plan.cost
    // What leftovers may bring is told beside it, and in no sum.
    const bought =
      planned?.landed === undefined || !cost
        ? undefined
        : {
            minor: planned.landed + cost.credit,
            unavailable: planned.kept.unavailable.reduce((n, u) => n + u.short, 0),
          }
    const rest = restToBuy(build.id, result.shortfall, orders, bought, market.priceOf, prints)
    const all = cost && bought !== undefined ? [...postings, ...postingsOfPurchase(cost, rest.minor)] : postings
    const counted = countedPostings(postings)
    const uses = piecesByModule(result.lines, units)
    const own = copies.filter((c) => c.buildId === build.id && c.state !== 'to-buy')
    const lastPrice = new Map(
      orders.flatMap((o) =>
        o.home === build.currency
          ? o.lines.map((l) => [l.item, o.rate === undefined ? l.price : exchanged(l.price, o.rate)] as const)
          : [],
      ),
    )
    return {
      postings,
      movements: movementsOf(postings),
      unchanged,
      ledger: ledgerOf(all),
      outlay: outlayOf(postings),
      completion: completionOf(postings, rest, result.need, {
        budget: build.rules.budget,
        replaced: replaces && rate !== undefined ? exchanged(replaces.price.minor, rate) : undefined,
      }),
      byModule: costByModule(
        counted,
        rest.minor,
        uses,
        (item) => lastPrice.get(item) ?? market.prices.get(item)?.median ?? 0,
      ),
      costs: threeCosts(
        counted,
        { rest: rest.minor, restCopies: cost?.sets ?? 0 },
        shelfWorth(uses, orderedPieces(build.id, orders), market.prices),
        donorsFromNothing(build, own, snapshot.sets),
      ),
    }
  }, [build, postings, unchanged, result, orders, planned, market, units, copies, snapshot])
}
