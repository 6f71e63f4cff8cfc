import { splitItemKey, type ItemKey } from '../catalogue/item.ts'
import type { Part } from '../catalogue/part.ts'
import { copyContents } from '../donors/copy-contents.ts'
import { freeFor } from '../shelf/holding.ts'
import { placeStates, type PlaceState } from '../shelf/place-state.ts'
import { CONDITIONS, type Condition } from '../units/condition.ts'
import type { CopyId, HoldingId, PartId, PlaceId } from '../units/ids.ts'
import type { Snapshot } from './snapshot.ts'

export type SupplySource =
  | { readonly kind: 'copy'; readonly copy: CopyId; readonly stage: string; readonly promised: boolean }
  | {
      readonly kind: 'shelf'
      readonly holding: HoldingId
      readonly place: PlaceId
      readonly estimate: boolean
      /** The released model the piece is built into, or that it is still in the post. */
      readonly state: PlaceState
    }
  /** Finished models that are the module. */
  | { readonly kind: 'built'; readonly places: readonly PlaceId[] }

/** A place or a stage of a copy, with how many supplies are there. */
export type Spot = { supplies: number }

/** What there is to draw from. Supplies of one item differ by what the rules say of them: those form variants. */
export type Supply = {
  readonly id: string
  readonly item: ItemKey
  readonly qty: number
  readonly rank: number
  readonly source: SupplySource
  /** Where one has to look for it; one object for all that is there. */
  readonly spot: Spot
  /** Only where it is hidden. */
  readonly hiddenOnly: boolean
  readonly donor: boolean
  /** Length in mm that differs from the name's. */
  readonly length: number | undefined
  /** A sticker that is no longer as new. */
  readonly applied?: boolean
}

/** Supplies of one item that neither the rules nor the order of sources tell apart: they are netted as one. */
export type Lot = {
  readonly id: string
  readonly variant: Variant
  readonly rank: number
  readonly supplies: Supply[]
  qty: number
}

/** Supplies of one item that the rules tell apart from its others. */
export type Variant = Pick<Supply, 'hiddenOnly' | 'donor' | 'length' | 'applied'> & {
  readonly item: ItemKey
  /** The name under which they are netted. */
  readonly key: string
  /** None of that: any line may draw on it. */
  readonly plain: boolean
  /** The place of its item in the stock. */
  readonly index: number
  readonly lots: Lot[]
}

/** Preference of sources: donor boxes, counted pieces, estimates, models to be taken apart, what is not there yet. */
const RANKS = { donor: 0, counted: 1, estimate: 2, model: 3, onOrder: 4 } as const
const SOURCES = Object.keys(RANKS).length
/** A piece that has to be bought comes after all that is owned. */
export const BUY_RANK = 100

/** The supply that is an item in a stage of a copy. */
export const copySupplyId = (copy: CopyId, stage: string, item: ItemKey): string => `${copy}\n${stage}\n${item}`

/** Whether a source has still to arrive. */
export const isOnOrder = (source: SupplySource): boolean =>
  source.kind === 'copy' ? source.promised : source.kind === 'shelf' && source.state.kind === 'post'

const isStickerItem = (item: ItemKey, parts: ReadonlyMap<PartId, Part>): boolean =>
  (parts.get(splitItemKey(item).part)?.shape.family ?? 'unknown').startsWith('sticker')

/** Everything the rules let a build draw from: donor copies, then the shelf, models that may be taken apart, the post. */
export function gatherSupplies(snapshot: Snapshot): Supply[] {
  const { build, sets, copies, holdings, places, parts } = snapshot
  const { rules } = build
  const supplies: Supply[] = []
  const setById = new Map(sets.map((s) => [s.id, s]))
  const worst = CONDITIONS.indexOf(rules.condition)
  /** Whether a condition may be used: everywhere, only where hidden, or not at all. */
  const allowed = (condition: Condition | undefined): 'seen' | 'hidden' | undefined => {
    if (condition === undefined || CONDITIONS.indexOf(condition) <= worst) return 'seen'
    return rules.wornHidden ? 'hidden' : undefined
  }
  const rankOf = (source: keyof typeof RANKS, condition: Condition) =>
    RANKS[source] + (rules.aim === 'least compromise' ? CONDITIONS.indexOf(condition) * SOURCES : 0)
  const donorsFirst = rules.aim === 'use up the donors'
  const stages = new Map<string, Spot>()
  const spotOf = (key: string): Spot => {
    let spot = stages.get(key)
    if (!spot) stages.set(key, (spot = { supplies: 0 }))
    spot.supplies++
    return spot
  }
  for (const copy of copies) {
    const set = setById.get(copy.setId)
    const where = allowed(copy.condition)
    if (!set || copy.state === 'to-buy' || !where) continue
    const promised = copy.state === 'promised'
    for (const { stage, item, qty } of copyContents(set, copy))
      supplies.push({
        id: copySupplyId(copy.id, stage, item),
        item,
        qty,
        rank: rankOf(promised ? 'onOrder' : 'donor', copy.condition ?? 'used'),
        source: { kind: 'copy', copy: copy.id, stage, promised },
        spot: spotOf(`${copy.id}\n${stage}`),
        hiddenOnly: where === 'hidden',
        donor: donorsFirst,
        length: undefined,
      })
  }
  if (rules.sources === 'donors') return supplies
  const here = new Map<PlaceId, { readonly state: PlaceState; readonly spot: Spot }>()
  for (const [id, state] of placeStates(places)) here.set(id, { state, spot: { supplies: 0 } })
  const used = new Set(snapshot.design.modules.flatMap((m) => m.built ?? []))
  for (const holding of holdings) {
    const where = allowed(holding.condition)
    let place = here.get(holding.place)
    if (!place) here.set(holding.place, (place = { state: { kind: 'loose' }, spot: { supplies: 0 } }))
    const { state, spot } = place
    if (!where || (state.kind === 'model' && (!state.released || used.has(state.model.id)))) continue
    const qty = freeFor(holding, build.id, rules.estimatePercent)
    if (qty === 0) continue
    spot.supplies++
    const kind = { loose: holding.estimate ? 'estimate' : 'counted', model: 'model', post: 'onOrder' } as const
    supplies.push({
      id: holding.id,
      item: holding.item,
      qty,
      rank: rankOf(kind[state.kind], holding.condition),
      source: { kind: 'shelf', holding: holding.id, place: holding.place, estimate: holding.estimate, state },
      spot,
      hiddenOnly: where === 'hidden',
      donor: false,
      length: holding.length,
      ...(isStickerItem(holding.item, parts) && holding.condition !== 'new' ? { applied: true } : {}),
    })
  }
  return supplies
}

/** What can be laid on the table today, whatever its condition: donor boxes that are there, and what is loose. */
export function atHand(snapshot: Snapshot): Supply[] {
  const { build } = snapshot
  const rules = { ...build.rules, condition: 'worn', sources: 'donors and shelf' } as const
  return gatherSupplies({ ...snapshot, build: { ...build, rules } }).filter(
    ({ source }) => !isOnOrder(source) && (source.kind !== 'shelf' || source.state.kind === 'loose'),
  )
}
