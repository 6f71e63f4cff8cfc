import { copyContents } from '../donors/copy-contents.ts'
import type { Holding } from '../shelf/holding.ts'
import { placeStates, type PlaceState } from '../shelf/place-state.ts'
import { CONDITIONS } from '../units/condition.ts'
import type { BuildId, CopyId, HoldingId, PlaceId } from '../units/ids.ts'
import { splitItemKey } from '../catalogue/item.ts'
import type { Snapshot } from './snapshot.ts'
import { StockBuilder, type Stock } from './stock.ts'

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

/** Where pieces are: a stage of a copy, or a place on the shelf. */
export type Spot =
  Extract<SupplySource, { readonly kind: 'copy' }> | { readonly kind: 'shelf'; readonly state: PlaceState }

/** The condition of a copy of which none is stated: as good as any. */
export const UNSTATED = CONDITIONS.length
/** What has to be looked at closely: something about its number or length; a sticker sheet. */
const ODD = 1
export const STICKER = 2

/**
 * All there is in a build's copies and on the shelf, whatever the rules say of it: in rows, first those of copies, then
 * the holdings in their order. In arrays, as there may be very many.
 */
export type Inventory = {
  /** Its items. */
  readonly stock: Stock
  /** Of each row: the place of its item, its spot, its condition, its pieces, and whether they may not all count. */
  readonly itemOf: Int32Array
  readonly placeOf: Int32Array
  readonly conditionOf: Uint8Array
  readonly pieces: Int32Array
  readonly special: Uint8Array
  readonly copyRows: number
  readonly holdings: readonly Holding[]
  readonly spots: readonly Spot[]
}

type Kept = { readonly on: readonly unknown[]; readonly inventory: Inventory }
const kept = new WeakMap<Snapshot['holdings'], Map<BuildId, Kept>>()

/** The inventory of a snapshot; made anew only when records it rests on have changed. */
export function inventoryOf(snapshot: Snapshot): Inventory {
  const { build, sets, copies, holdings, places, parts, colourById } = snapshot
  const on = [sets, places, parts, colourById, ...copies]
  const byBuild = kept.get(holdings) ?? new Map<BuildId, Kept>()
  kept.set(holdings, byBuild)
  const before = byBuild.get(build.id)
  if (before?.on.length === on.length && before.on.every((value, i) => value === on[i])) return before.inventory
  const inventory = takeStock(snapshot)
  byBuild.set(build.id, { on, inventory })
  return inventory
}

function takeStock({ sets, copies, holdings, places, parts, colourById }: Snapshot): Inventory {
  const setById = new Map(sets.map((s) => [s.id, s]))
  const builder = new StockBuilder(parts, colourById)
  const codes = new Map<string, number>(CONDITIONS.map((condition, code) => [condition, code]))
  const held = copies.flatMap((copy) => {
    const set = setById.get(copy.setId)
    return set && copy.state !== 'to-buy' ? [{ copy, contents: copyContents(set, copy) }] : []
  })
  const copyRows = held.reduce((n, { contents }) => n + contents.length, 0)
  const size = copyRows + holdings.length
  const itemOf = new Int32Array(size)
  const placeOf = new Int32Array(size)
  const conditionOf = new Uint8Array(size)
  const pieces = new Int32Array(size)
  const special = new Uint8Array(size)
  const spots: Spot[] = []
  let row = 0
  for (const { copy, contents } of held) {
    const stages = new Map<string, number>()
    const condition = copy.condition === undefined ? UNSTATED : (codes.get(copy.condition) ?? UNSTATED)
    for (const { stage, item, qty } of contents) {
      let spot = stages.get(stage)
      if (spot === undefined) {
        spot = spots.push({ kind: 'copy', copy: copy.id, stage, promised: copy.state === 'promised' }) - 1
        stages.set(stage, spot)
      }
      itemOf[row] = builder.at(item).index
      placeOf[row] = spot
      conditionOf[row] = condition
      pieces[row] = qty
      row++
    }
  }
  const stickers = new Set<string>()
  for (const { id, shape } of parts.values()) if (shape.family.startsWith('sticker')) stickers.add(id)
  const here = new Map<PlaceId, number>()
  for (const [id, state] of placeStates(places)) here.set(id, spots.push({ kind: 'shelf', state }) - 1)
  let lastCondition = ''
  let code: number = UNSTATED
  for (const { item, place, condition, qty, estimate, length, reserved } of holdings) {
    let spot = here.get(place)
    if (spot === undefined) here.set(place, (spot = spots.push({ kind: 'shelf', state: { kind: 'loose' } }) - 1))
    itemOf[row] = builder.at(item).index
    placeOf[row] = spot
    if (condition !== lastCondition) {
      lastCondition = condition
      code = codes.get(condition) ?? UNSTATED
    }
    conditionOf[row] = code
    pieces[row] = qty
    if (stickers.size > 0 && stickers.has(splitItemKey(item).part)) special[row] = STICKER
    else if (estimate || length !== undefined || reserved !== undefined) special[row] = ODD
    row++
  }
  return { stock: builder.build(), itemOf, placeOf, conditionOf, pieces, special, copyRows, holdings, spots }
}
