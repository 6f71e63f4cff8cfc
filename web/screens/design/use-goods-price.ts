import { useMemo } from 'react'
import type { Build } from '../../../core/planning/build.ts'
import { goodsPricer } from '../../../core/planning/goods-cost.ts'
import { useRecords } from '../../data/records.tsx'

/** What loose pieces cost under the build's rules: goods alone, the cheapest allowed offers first. */
export function useGoodsPrice({ currency, rules }: Build) {
  const { offers, shops } = useRecords()
  return useMemo(() => goodsPricer(offers, shops, currency, rules), [offers, shops, currency, rules])
}
