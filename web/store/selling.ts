import { toast } from 'sonner'
import type { Build } from '../../core/build/build.ts'
import { OUT_OF_MODELS } from '../../core/making/put-in.ts'
import {
  listForSale,
  moveSale,
  putAwayLeft,
  type Leaving,
  type Proceeds,
  type SurplusChange,
  type SurplusRefusal,
} from '../../core/settling/leave.ts'
import { saleState, type Sale, type SaleState } from '../../core/settling/sale.ts'
import { piecesLeft, type Left } from '../../core/settling/surplus.ts'
import type { BuildId, SaleId } from '../../core/units/ids.ts'
import { plural } from '../../core/units/numbers.ts'
import type { Result } from '../../core/units/result.ts'
import type { Change } from '../../storage/journal-entry.ts'
import { add, edit, editAsSeen, shelve, takeForBuild } from '../../storage/journal.ts'
import { fresh } from './database.ts'
import { perform } from './perform.ts'
import type { RecordsView } from './records.tsx'

const changesOf = ({ takes, copies, seen, lots }: SurplusChange): Change[] => [
  ...(copies.length > 0 ? editAsSeen('copies', seen, copies) : []),
  ...(takes.length > 0 ? [takeForBuild(takes)] : []),
  ...(lots.some((l) => l.place === OUT_OF_MODELS.id) ? [add('places', [OUT_OF_MODELS])] : []),
  ...(lots.length > 0 ? [shelve(lots)] : []),
]

/** Does something with leftovers that may be refused, and says why where it is. */
function tried<T extends object>(
  result: Result<T, SurplusRefusal>,
  then: (value: T) => Promise<boolean>,
): Promise<boolean> {
  if (result.ok) return then(result.value)
  toast.error(result.error.message, { duration: 15_000 })
  return Promise.resolve(false)
}

const sumOf = (left: readonly Left[]): number => left.reduce((n, l) => n + piecesLeft(l), 0)

/** Puts leftovers to a place; kept for a build where that is named. */
export const keepLeft = (
  left: readonly Left[],
  build: BuildId,
  place: RecordsView['places'][number],
  holdFor: Build | undefined,
): Promise<boolean> =>
  tried(putAwayLeft(left, build, place.id, holdFor?.id), (change) =>
    perform(
      `Put ${plural(sumOf(left), 'piece')} to ${place.name}${holdFor ? `, for ${holdFor.name}` : ''}`,
      changesOf(change),
    ),
  )

/** Sets leftovers aside to be sold or given away. */
export const offerLeft = (left: readonly Left[], build: BuildId, how: Leaving, today: string): Promise<boolean> =>
  tried(listForSale(left, build, how, `z-${fresh()}` as SaleId, today), ({ sale, ...change }) =>
    perform(`${how.way === 'gift' ? 'To give away' : 'For sale'}: ${sale.title}`, [
      ...changesOf(change),
      add('sales', [sale]),
    ]),
  )

export const SALE_WORDS: Readonly<Record<SaleState, string>> = {
  listed: 'for sale',
  sold: 'sold',
  sent: 'sent',
  withdrawn: 'withdrawn',
}

/** A sale one step on; withdrawn, its pieces go back to where they were. */
export const moveSaleTo = (
  sale: Sale,
  to: SaleState,
  on: string,
  proceeds: Proceeds | undefined,
  { copies, places }: Pick<RecordsView, 'copies' | 'places'>,
): Promise<boolean> =>
  tried(moveSale(sale, to, on, proceeds, { copies, places }), ({ sale: next, ...change }) =>
    perform(`${sale.title}: ${sale.way === 'gift' && to === 'sent' ? 'given away' : SALE_WORDS[saleState(next)]}`, [
      ...changesOf({ takes: [], seen: copies, ...change }),
      edit('sales', sale, next),
    ]),
  )
