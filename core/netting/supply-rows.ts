import type { ItemKey } from '../catalogue/item.ts'
import { copyContents, type StageContent } from '../donors/copy-contents.ts'
import type { Copy, DonorSet } from '../donors/donor-set.ts'
import type { Holding } from '../shelf/holding.ts'
import { LOOSE, placeStates, type PlaceState } from '../shelf/place-state.ts'
import type { CopyId, HoldingId, OrderId, PlaceId } from '../units/ids.ts'
import { purpose, type Memory } from '../units/memory.ts'
import type { Snapshot } from './snapshot.ts'

export type SupplySource =
  | { readonly kind: 'copy'; readonly copy: CopyId; readonly stage: string; readonly promised: boolean }
  | {
      readonly kind: 'shelf'
      readonly holding: HoldingId
      readonly place: PlaceId
      readonly estimate: boolean
      /** The order with which it came, taken as right and not counted since. */
      readonly uncounted?: OrderId
      /** The released model the piece is built into, or that it is still in the post. */
      readonly state: PlaceState
    }
  /** Finished models that are the module. */
  | { readonly kind: 'built'; readonly places: readonly PlaceId[] }

/** What there is to draw from. Supplies of one item differ by what the rules say of them: those form variants. */
export type Supply = {
  readonly item: ItemKey
  readonly qty: number
  readonly source: SupplySource
}

/** A stage of a copy. */
export type CopyStage = {
  readonly copy: Copy
  readonly source: Extract<SupplySource, { readonly kind: 'copy' }>
}

/**
 * All that may be drawn from, in rows: first what the copies hold, then the holdings, each in their order. Wherever the
 * records are the same, a row stands for the same supply.
 */
export type SupplyRows = {
  readonly contents: readonly StageContent[]
  /** Of each content where it is. */
  readonly stages: readonly CopyStage[]
  readonly holdings: readonly Holding[]
  readonly places: ReadonlyMap<PlaceId, PlaceState>
}

/** What copies hold, as long as neither they nor their sets change: most tallies are made anew because of something else. */
const CONTENTS = purpose<Copy, { readonly set: DonorSet; readonly contents: readonly StageContent[] }>(
  'copies’ contents',
)

function contentsOf(set: DonorSet, copy: Copy, memory: Memory): readonly StageContent[] {
  const kept = memory.for(CONTENTS)
  const known = kept.get(copy)
  if (known?.set === set) return known.contents
  const contents = copyContents(set, copy)
  kept.set(copy, { set, contents })
  return contents
}

/** The rows of a build; copies that have still to be bought have none. */
export function supplyRows(
  { sets, copies, holdings, places }: Pick<Snapshot, 'sets' | 'copies' | 'holdings' | 'places'>,
  memory: Memory,
): SupplyRows {
  const setById = new Map(sets.map((s) => [s.id, s]))
  const contents: StageContent[] = []
  const stages: CopyStage[] = []
  for (const copy of copies) {
    const set = setById.get(copy.setId)
    if (!set || copy.state === 'to-buy') continue
    const known = new Map<string, CopyStage>()
    for (const content of contentsOf(set, copy, memory)) {
      const { stage } = content
      let at = known.get(stage)
      if (!at) {
        at = { copy, source: { kind: 'copy', copy: copy.id, stage, promised: copy.state === 'promised' } }
        known.set(stage, at)
      }
      contents.push(content)
      stages.push(at)
    }
  }
  return { contents, stages, holdings, places: placeStates(places) }
}

/** So many pieces of the supply that a row stands for. */
export function supplyAt({ contents, stages, holdings, places }: SupplyRows, row: number, qty: number): Supply {
  const content = contents[row]
  const stage = stages[row]
  if (content && stage) return { item: content.item, qty, source: stage.source }
  const holding = holdings[row - contents.length]
  if (!holding) throw new Error(`there is no supply in row ${row}`)
  const { id, item, place, estimate, uncounted } = holding
  const state = places.get(place) ?? LOOSE
  const kept = uncounted === undefined ? {} : { uncounted }
  return { item, qty, source: { kind: 'shelf', holding: id, place, estimate, state, ...kept } }
}
