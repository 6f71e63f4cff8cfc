import { useMemo } from 'react'
import type { Build } from '../../core/build/build.ts'
import type { Snapshot } from '../../core/netting/snapshot.ts'
import { goodsPricer } from '../../core/offers/goods-cost.ts'
import { loosePrices } from '../../core/offers/loose-prices.ts'
import { usableOffers } from '../../core/offers/market.ts'
import { ledgerOf } from '../../core/settling/ledger.ts'
import { postingsOf, type Postings } from '../../core/settling/postings.ts'
import { settlementOf, type Planned, type Settlement } from '../../core/settling/settlement.ts'
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

/** What a build has cost, will have cost, and would cost others: of its last count. */
export function useSettlement(tally: BuildTally): Settlement {
  const { result } = tally
  const { build } = tally.now
  const { orders, units, copies, sets } = useRecords()
  const postings = usePostings(tally.now)
  const market = useLooseMarket(build)
  const { purchase, age } = usePlan(tally)
  const planned = useMemo((): Planned | undefined => {
    const cost = age === 'fits' ? purchase?.kept.plan.cost : undefined
    if (!cost || purchase?.landed === undefined) return undefined
    return {
      landed: purchase.landed,
      unavailable: purchase.kept.unavailable.reduce((n, u) => n + u.short, 0),
      cost,
    }
  }, [purchase, age])
  return useMemo(
    () => settlementOf(build, postings, result, { orders, units, copies, sets }, planned, market),
    [build, postings, result, orders, units, copies, sets, planned, market],
  )
}
