import type { Build } from '../build/build.ts'
import { comingOut, withMissing, type MakingChange } from '../making/put-in.ts'
import type { Copy } from '../donors/donor-set.ts'
import type { Holding } from '../shelf/holding.ts'
import type { LotPieces } from '../shelf/lot.ts'
import type { Place } from '../shelf/place.ts'
import { NOT_STATED } from '../units/condition.ts'
import type { CopyId, PlaceId, SaleId } from '../units/ids.ts'
import { refuse, ok, type Fault, type Result } from '../units/result.ts'
import type { ItemKey } from '../catalogue/item.ts'
import { saleState, type Sale, type SaleLot, type SaleState } from './sale.ts'
import type { Left } from './surplus.ts'

/** What an act on surplus changes: what leaves holdings and copies, and what comes to places. */
export type SurplusChange = Pick<MakingChange, 'takes' | 'copies' | 'lots'> & {
  /** The copies as they were counted: what is written rests on them, and on nothing that changed since. */
  readonly seen: readonly Copy[]
}

export type SurplusRefusal = Fault<'nothing' | 'not there' | 'not from here' | 'before the step before' | 'no amount'>

/** Takes leftovers out of where they lie. */
function taken(
  left: readonly Left[],
  build: Build['id'],
): Omit<SurplusChange, 'lots'> & { readonly lots: readonly SaleLot[] } {
  const lots: SaleLot[] = []
  const takes: { seen: Holding; qty: number; build: Build['id'] }[] = []
  const gone = new Map<CopyId, { readonly copy: Copy; readonly items: Map<ItemKey, number> }>()
  for (const { pieces, from, figure } of left)
    for (const { item, qty } of pieces) {
      const of = figure?.lacks.length === 0 ? { figure: figure.name } : {}
      if (from.kind === 'copy') {
        const own = gone.get(from.copy.id) ?? { copy: from.copy, items: new Map<ItemKey, number>() }
        gone.set(from.copy.id, own)
        own.items.set(item, (own.items.get(item) ?? 0) + qty)
        lots.push({
          ...{ item, qty, from: { kind: 'copy', copy: from.copy.id }, condition: from.copy.condition ?? NOT_STATED },
          ...of,
        })
      } else {
        const { place, condition, length, uncounted, reserved = [] } = from.holding
        const mine = reserved.reduce((n, r) => n + (r.build === build ? r.qty : 0), 0)
        takes.push({ seen: from.holding, qty, build })
        lots.push({
          ...{ item, qty, from: { kind: 'place', place, reserved: Math.min(qty, mine) }, condition },
          ...(length !== undefined && { length }),
          ...(uncounted !== undefined && { uncounted }),
          ...of,
        })
      }
    }
  const copies = [...gone.values()]
  return {
    lots,
    takes,
    seen: copies.map(({ copy }) => copy),
    copies: copies.map(({ copy, items }) => withMissing(copy, items)),
  }
}

const NOTHING_CHOSEN = refuse('nothing' as const, 'Choose what is to go first.')

/**
 * Leftovers put to a place, reserved for a build where that is named: they leave their copies and holdings. No piece appears
 * or vanishes.
 */
export function putAwayLeft(
  left: readonly Left[],
  build: Build['id'],
  place: PlaceId,
  reserveFor?: Build['id'],
): Result<SurplusChange, SurplusRefusal> {
  if (left.length === 0) return NOTHING_CHOSEN
  const { lots, ...change } = taken(left, build)
  return ok({
    ...change,
    lots: lots.map(({ item, qty, condition, length, uncounted }): LotPieces => ({
      ...{ place, item, qty, estimate: false, condition },
      ...(length !== undefined && { length }),
      ...(uncounted !== undefined && { uncounted }),
      ...(reserveFor !== undefined && { reserved: [{ build: reserveFor, qty }] }),
    })),
  })
}

/** How leftovers are to leave. */
export type Leaving = Pick<Sale, 'title' | 'way' | 'currency'> &
  Partial<Pick<Sale, 'ask' | 'likely' | 'hoped' | 'note'>>

/** Sets leftovers aside to be sold or given away: they are in no box any more until they come back or leave for good. */
export function listForSale(
  left: readonly Left[],
  build: Build['id'],
  how: Leaving,
  id: SaleId,
  on: string,
): Result<SurplusChange & { readonly sale: Sale }, SurplusRefusal> {
  if (left.length === 0) return NOTHING_CHOSEN
  if (how.likely !== undefined && how.hoped !== undefined && how.likely > how.hoped)
    return refuse('no amount', 'What is hoped for is less than what is likely: exchange the two.')
  const { lots, ...change } = taken(left, build)
  return ok({
    ...change,
    lots: [],
    sale: { id, build, ...how, lots: [...lots], history: [{ state: 'listed', on }] },
  })
}

/** What may become of a sale next; a gift is sent without being sold. */
export const saleMoves = (sale: Pick<Sale, 'history' | 'way'>): readonly SaleState[] => {
  switch (saleState(sale)) {
    case 'listed':
      return sale.way === 'gift' ? ['sent', 'withdrawn'] : ['sold', 'withdrawn']
    case 'sold':
      return ['sent', 'withdrawn']
    default:
      return []
  }
}

/** What a buyer paid and what selling took of it, minor units of the sale's money; the rate of that day, where one is needed. */
export type Proceeds = { readonly got: number; readonly costs?: number; readonly rate?: number }

/**
 * A sale one step on. Sold, it says what came in; withdrawn, its pieces go back to where they were, and what was paid is
 * paid back. Sent, they have left for good.
 */
export function moveSale(
  sale: Sale,
  to: SaleState,
  on: string,
  proceeds: Proceeds | undefined,
  stock: { readonly copies: readonly Copy[]; readonly places: readonly Place[] },
): Result<Pick<SurplusChange, 'lots' | 'copies'> & { readonly sale: Sale }, SurplusRefusal> {
  if (!saleMoves(sale).includes(to)) return refuse('not from here', 'The sale cannot come to that from where it is.')
  if (on < (sale.history.at(-1)?.on ?? on))
    return refuse('before the step before', 'That day is before the last step of the sale.')
  if (to === 'sold' && !proceeds) return refuse('no amount', 'Say what was paid, 0 where nothing was.')
  const history = [...sale.history, { state: to, on }]
  if (to !== 'withdrawn')
    return ok({ sale: { ...sale, ...(to === 'sold' && proceeds), history }, lots: [], copies: [] })
  const { got: _, costs: __, rate: ___, ...bare } = sale
  return ok({ sale: { ...bare, history }, ...piecesBack(sale, stock) })
}

/** What of a sale goes back to where it was, when it is withdrawn or its build is gone. */
export const piecesBack = (
  { build, lots }: Pick<Sale, 'build' | 'lots'>,
  { copies, places }: { readonly copies: readonly Copy[]; readonly places: readonly Place[] },
): Pick<SurplusChange, 'lots' | 'copies'> => comingOut(build, lots, { kind: 'back' }, copies, places)
