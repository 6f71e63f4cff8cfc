import type { StageContent } from '../donors/copy-contents.ts'
import type { Holding } from '../shelf/holding.ts'
import { LOOSE, type PlaceState } from '../shelf/place-state.ts'
import { CONDITIONS, NOT_STATED } from '../units/condition.ts'
import type { BuildId, PlaceId } from '../units/ids.ts'
import { splitItemKey } from '../catalogue/item.ts'
import { purpose, type Memory } from '../units/memory.ts'
import type { Snapshot } from './snapshot.ts'
import { StockBuilder, type Stock } from './stock.ts'
import { supplyRows, type CopyStage, type SupplyRows } from './supply-rows.ts'

/** Where pieces are: a stage of a copy, or a place on the shelf. */
export type RowSource = CopyStage['source'] | { readonly kind: 'shelf'; readonly state: PlaceState }

/** The condition of a copy of which none is stated: as good as any. */
export const UNSTATED = CONDITIONS.length
/** Of a holding of which none is stated: what the rules say. */
export const UNSTATED_HOLDING = UNSTATED + 1
/**
 * What is known of a supply: that it is in a copy, that it has still to arrive, that its number was estimated; that its
 * number or length has to be looked at closely (`odd`); that it is a sticker sheet.
 */
export const FACT = { inCopy: 1, onOrder: 2, estimate: 4, odd: 8, sticker: 16 } as const

/**
 * All there is in a build's copies and on the shelf, whatever the rules say of it, row by row. In arrays, as there may
 * be very many.
 */
export type Inventory = {
  readonly rows: SupplyRows
  /** Its items. */
  readonly stock: Stock
  /** Of each row: the place of its item, its source, its condition, its pieces, and its `FACT`s. */
  readonly itemOf: Int32Array
  readonly sourceOf: Int32Array
  readonly conditionOf: Uint8Array
  readonly pieces: Int32Array
  readonly facts: Uint8Array
  readonly sources: readonly RowSource[]
}

type Kept = { readonly on: readonly unknown[]; readonly inventory: Inventory }
const INVENTORIES = purpose<Snapshot['holdings'], Map<BuildId, Kept>>('inventories of builds, by holdings')

/** The inventory of a snapshot; made anew only when records it rests on have changed. */
export function inventoryOf(snapshot: Snapshot, memory: Memory): Inventory {
  const { build, sets, copies, holdings, places, parts, colourById } = snapshot
  const on = [sets, places, parts, colourById, ...copies]
  const kept = memory.for(INVENTORIES)
  const byBuild = kept.get(holdings) ?? new Map<BuildId, Kept>()
  kept.set(holdings, byBuild)
  const before = byBuild.get(build.id)
  if (before?.on.length === on.length && before.on.every((value, i) => value === on[i])) return before.inventory
  const inventory = takeStock(snapshot, memory)
  byBuild.set(build.id, { on, inventory })
  return inventory
}

function takeStock(snapshot: Snapshot, memory: Memory): Inventory {
  const { parts, colourById } = snapshot
  const rows = supplyRows(snapshot, memory)
  const { contents, stages, holdings, places } = rows
  const builder = new StockBuilder(parts, colourById, memory)
  const codes = new Map<string, number>([
    ...CONDITIONS.map((condition, code) => [condition, code] as const),
    [NOT_STATED, UNSTATED_HOLDING],
  ])
  const size = contents.length + holdings.length
  const itemOf = new Int32Array(size)
  const placeOf = new Int32Array(size)
  const conditionOf = new Uint8Array(size)
  const pieces = new Int32Array(size)
  const facts = new Uint8Array(size)
  const sources: RowSource[] = []
  // The longest loops there are: by numbers, which is quick from the first time on.
  let row = 0
  let [stage, source, code]: [CopyStage | undefined, number, number] = [undefined, -1, UNSTATED]
  for (; row < contents.length; row++) {
    const { item, qty } = contents[row] as StageContent
    const here = stages[row] as CopyStage
    if (here !== stage) {
      stage = here
      const { condition } = here.copy
      code = condition === undefined ? UNSTATED : (codes.get(condition) ?? UNSTATED)
      source = sources.push(here.source) - 1
    }
    itemOf[row] = builder.at(item)
    placeOf[row] = source
    conditionOf[row] = code
    pieces[row] = qty
    facts[row] = here.source.promised ? FACT.inCopy | FACT.onOrder : FACT.inCopy
  }
  const stickers = new Set<string>()
  for (const { id, shape } of parts.values()) if (shape.family.startsWith('sticker')) stickers.add(id)
  const here = new Map<PlaceId, number>()
  const inPost = new Set<number>()
  for (const [id, state] of places) {
    const source = sources.push({ kind: 'shelf', state }) - 1
    here.set(id, source)
    if (state.kind === 'post') inPost.add(source)
  }
  let lastCondition = ''
  for (let h = 0; h < holdings.length; h++, row++) {
    const holding = holdings[h] as Holding
    const { item, place, condition } = holding
    let at = here.get(place)
    if (at === undefined) here.set(place, (at = sources.push({ kind: 'shelf', state: LOOSE }) - 1))
    itemOf[row] = builder.at(item)
    placeOf[row] = at
    if (condition !== lastCondition) {
      lastCondition = condition
      code = codes.get(condition) ?? UNSTATED
    }
    conditionOf[row] = code
    pieces[row] = holding.qty
    let fact = holding.estimate ? FACT.estimate | FACT.odd : 0
    if (holding.length !== undefined || holding.reserved !== undefined) fact |= FACT.odd
    if (inPost.size > 0 && inPost.has(at)) fact |= FACT.onOrder
    if (stickers.size > 0 && stickers.has(splitItemKey(item).part)) fact |= FACT.sticker | FACT.odd
    facts[row] = fact
  }
  return { rows, stock: builder.build(), itemOf, sourceOf: placeOf, conditionOf, pieces, facts, sources }
}
