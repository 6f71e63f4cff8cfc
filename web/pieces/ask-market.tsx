import { useMutation } from '@tanstack/react-query'
import { RefreshCw } from 'lucide-react'
import { toast } from 'sonner'
import type { ItemKey } from '../../core/catalogue/item.ts'
import { fetchOffers } from '../store/market-client.ts'
import { useRecords } from '../store/records.tsx'
import { Button } from '../ui/button.tsx'
import { plural } from '../../core/units/numbers.ts'

/** Asks the market who has some items; what it answers is kept like any other offer. */
export function AskMarket({ items, children }: { items: readonly ItemKey[]; children: string }) {
  const records = useRecords()
  const market = useMutation({
    // The market may run on this machine: being offline elsewhere is no reason to wait.
    networkMode: 'always',
    mutationFn: () => fetchOffers(items, records),
    onSuccess: (answer) => {
      if (answer.ok) toast.success(`${plural(answer.value.offers, 'offer')} from ${plural(answer.value.shops, 'shop')}`)
      else toast.error(answer.error.message, { duration: 15_000 })
    },
  })
  return (
    <Button
      disabled={market.isPending || items.length === 0}
      onClick={() => {
        market.mutate()
      }}
    >
      <RefreshCw size={14} aria-hidden="true" /> {market.isPending ? 'Asking the market…' : children}
    </Button>
  )
}
