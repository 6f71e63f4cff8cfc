import { pricesIn } from '../../../core/offers/loose-prices.ts'
import { useMemo } from 'react'
import { knownItems } from '../../../core/catalogue/availability.ts'
import { useRecords } from '../../store/records.tsx'

/** What is known of items, for marks and suggestions. */
export function useKnown(currency: string) {
  const { holdings, sets, copies, offers, shops } = useRecords()
  return useMemo(
    () => knownItems({ holdings, sets, copies, prices: pricesIn({ offers, shops }, currency) }),
    [holdings, sets, copies, offers, shops, currency],
  )
}
