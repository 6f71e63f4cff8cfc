import type { ItemKey } from '../catalogue/item.ts'
import { isOnOrder } from '../netting/supplies.ts'
import type { Snapshot } from '../netting/snapshot.ts'
import type { Tally, TallyLine } from '../netting/tally.ts'
import type { PriceOf } from '../offers/goods-cost.ts'
import type { Due, When } from '../orders/readiness.ts'
import { freeFor, type Holding } from '../shelf/holding.ts'
import { LOOSE, placeStates } from '../shelf/place-state.ts'
import type { LineChoice } from '../studies/line-choices.ts'
import type { LineId, ModuleId, PlaceId } from '../units/ids.ts'
import type { Unit } from './unit.ts'

/** A way out when pieces are missing, broken or wrong at the table, with how many it gives and what it costs. */
export type WayOut =
  /** Left over: nothing else wants it. */
  | { readonly kind: 'leftover'; readonly item: ItemKey; readonly qty: number }
  /** Another module that has the same piece to come, which then waits: what that piece costs to buy for it. */
  | {
      readonly kind: 'later module'
      readonly module: ModuleId
      readonly line: string
      readonly item: ItemKey
      readonly qty: number
      readonly price: number | undefined
    }
  /** Loose on the shelf, which the house rules leave out. */
  | { readonly kind: 'against the rules'; readonly holding: Holding; readonly qty: number }
  /** Another standing model, which would lack it. */
  | { readonly kind: 'model'; readonly place: PlaceId; readonly holding: Holding; readonly qty: number }
  | {
      readonly kind: 'stand-in'
      readonly uses: LineChoice['uses']
      readonly standIn: LineChoice['kind']
      readonly points: number
      readonly qty: number
    }
  | {
      readonly kind: 'on order'
      readonly from: string | undefined
      readonly likely: When
      readonly late: When
      readonly qty: number
    }
  /** Loose at the cheapest allowed offers, goods alone; minor units. */
  | { readonly kind: 'buy'; readonly qty: number; readonly price: number; readonly unavailable: number }

/** Stand-ins told at most, the least compromise first. */
const MOST_STAND_INS = 6
const MOST_MODULES = 6

/**
 * Ways out of a count for pieces of a line that are not there, as told in order: leftovers, modules that can wait, other
 * models, what stands in, what is on order, buying. `choices` are what the count knows to serve the line.
 */
export function waysOut(
  { design, holdings, places, build }: Snapshot,
  { lines }: Pick<Tally, 'lines'>,
  line: TallyLine,
  qty: number,
  choices: readonly LineChoice[],
  priceOf: PriceOf,
  due: Due,
): WayOut[] {
  const ways: WayOut[] = []
  const priced = (n: number) => {
    const { cost, unavailable } = priceOf(line.wanted, n)
    return unavailable > 0 ? undefined : cost
  }
  const exact = choices.find((c) => c.kind === 'exact')
  const spare = exact ? freeHere(exact) : 0
  if (spare > 0) ways.push({ kind: 'leftover', item: line.wanted, qty: Math.min(qty, spare) })
  const order = new Map(design.modules.map((m, i) => [m.id, i]))
  const others = lines
    .filter((l) => l.id !== line.id && l.wanted === line.wanted)
    .map((l) => ({ l, here: l.pegs.reduce((n, p) => n + (isHere(p, line.wanted) ? p.qty : 0), 0) }))
    .filter(({ here }) => here > 0)
    .sort((p, q) => (order.get(q.l.module) ?? 0) - (order.get(p.l.module) ?? 0))
  for (const { l, here } of others.slice(0, MOST_MODULES)) {
    const n = Math.min(qty, here)
    ways.push({ kind: 'later module', module: l.module, line: l.id, item: l.wanted, qty: n, price: priced(n) })
  }
  const states = placeStates(places)
  for (const holding of holdings) {
    if (holding.item !== line.wanted) continue
    const state = states.get(holding.place) ?? LOOSE
    const there = freeFor(holding, build.id, 100)
    if (build.rules.sources === 'donors' && state.kind === 'loose' && there > 0)
      ways.push({ kind: 'against the rules', holding, qty: Math.min(qty, there) })
    if (state.kind === 'model' && !state.released && there > 0)
      ways.push({ kind: 'model', place: state.model.id, holding, qty: Math.min(qty, there) })
  }
  for (const choice of choices.filter((c) => c.kind !== 'exact' && freeHere(c) > 0).slice(0, MOST_STAND_INS))
    ways.push({
      kind: 'stand-in',
      uses: choice.uses,
      standIn: choice.kind,
      points: choice.points,
      qty: Math.min(qty, freeHere(choice)),
    })
  const coming = new Map<string, Extract<WayOut, { kind: 'on order' }>>()
  for (const l of lines)
    for (const { source, item, qty: n } of l.pegs) {
      if (item !== line.wanted || !isOnOrder(source)) continue
      const { likely, late, from } = due(source)
      const known = coming.get(from ?? '')
      coming.set(from ?? '', { kind: 'on order', from, likely, late, qty: n + (known?.qty ?? 0) })
    }
  ways.push(...[...coming.values()].sort((p, q) => (p.likely < q.likely ? -1 : 1)))
  const { cost, unavailable } = priceOf(line.wanted, qty)
  ways.push({ kind: 'buy', qty, price: cost, unavailable })
  return ways
}

/** Of what a choice leaves over, required pieces that what is here would cover: nothing in the post, and no model's. */
function freeHere({ supplies, free }: LineChoice): number {
  if (supplies.length === 0) return Math.max(0, free)
  let here = 0
  for (const { supply, free: left } of supplies)
    if (!isOnOrder(supply.source) && (supply.source.kind !== 'shelf' || supply.source.state.kind === 'loose'))
      here += Math.max(0, left)
  return Math.min(Math.max(0, free), here)
}

const isHere = ({ source, item, standIn }: TallyLine['pegs'][number], wanted: ItemKey): boolean =>
  item === wanted && standIn === undefined && source.kind !== 'built' && !isOnOrder(source)

/** A piece that is in where it is hidden: it could go where it is seen, and anything could take its place. */
export type HiddenSpot = { readonly unit: Unit; readonly line: LineId; readonly qty: number }

/** Hidden places of the model, in other lines, where a piece of an item is in already. */
export const hiddenSpots = (
  units: readonly Unit[],
  item: ItemKey,
  isHidden: (line: LineId) => boolean,
  except: LineId,
): HiddenSpot[] =>
  units.flatMap((unit) =>
    unit.standsIn !== undefined
      ? []
      : unit.put.flatMap((p) =>
          p.item === item && p.line !== undefined && p.line !== except && p.kit === undefined && isHidden(p.line)
            ? [{ unit, line: p.line, qty: p.qty }]
            : [],
        ),
  )
