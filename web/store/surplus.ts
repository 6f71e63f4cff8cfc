import { useMemo } from 'react'
import { mayBring, surplusOf, type Left } from '../../core/settling/surplus.ts'
import { useLooseMarket } from './ledger.ts'
import type { BuildTally } from './tallies.ts'

/** What a build leaves over, by its last count. */
export function useSurplus({ snapshot, result }: BuildTally): readonly Left[] {
  return useMemo(() => surplusOf(snapshot.build.id, snapshot, result), [snapshot, result])
}

/** What all of it may bring. */
export function useSurplusWorth(tally: BuildTally): { likely: number; hoped: number; unpriced: number } {
  const left = useSurplus(tally)
  const { build } = tally.now
  const market = useLooseMarket(build)
  return useMemo(() => {
    const sums = { likely: 0, hoped: 0, unpriced: 0 }
    const bring = mayBring(market, build.rules)
    for (const l of left) {
      const may = bring(l)
      sums.likely += may.likely
      sums.hoped += may.hoped
      sums.unpriced += may.unpriced
    }
    return sums
  }, [left, market, build.rules])
}
