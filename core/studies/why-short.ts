import { newPlanner, type Planner } from '../netting/planner.ts'
import type { ItemKey } from '../catalogue/item.ts'
import { countsFor } from '../shelf/holding.ts'
import { placeStates } from '../shelf/place-state.ts'
import { CONDITIONS, countedAs } from '../units/condition.ts'
import type { BuildId, ModuleId, PlaceId } from '../units/ids.ts'
import type { Snapshot } from '../netting/snapshot.ts'
import { gatherSupplies, supplyId } from '../netting/supplies.ts'
import type { Tally, TallyLine } from '../netting/tally.ts'

/**
 * Where pieces of a short line's item are, and why the line has none of them; counts of just the item, in its colour and
 * decoration. Each piece that exists is told once.
 */
export type WhyShort = {
  readonly item: ItemKey
  /** Pieces that this line and others have got, by module where it is another line. */
  readonly here: number
  readonly taken: readonly { readonly module: ModuleId; readonly qty: number }[]
  /** On the shelf, promised to other builds. */
  readonly reserved: readonly { readonly build: BuildId; readonly qty: number }[]
  /** In finished models that may not be taken apart. */
  readonly models: readonly { readonly place: PlaceId; readonly qty: number }[]
  /** On the shelf in a worse condition than the rules allow here. */
  readonly worn: number
  /** On the shelf, where the rules count donor boxes alone. */
  readonly notCounted: number
  /** Pieces of estimated holdings that the rules do not count on. */
  readonly doubted: number
  /** Counted and used by nobody: something else keeps the line from them. */
  readonly leftOver: number
}

/** Why a line of a count is short. The result must be of the snapshot. */
export function whyShort(
  snapshot: Snapshot,
  result: Tally,
  line: TallyLine,
  { memory }: Planner = newPlanner(),
): WhyShort {
  const { build, holdings, places } = snapshot
  const { rules } = build
  const item = line.wanted
  const hidden = line.visibility === 'hidden'
  const worst = CONDITIONS.indexOf(hidden && rules.wornHidden ? 'worn' : rules.condition)
  const states = placeStates(places)
  const reserved = new Map<BuildId, number>()
  const models = new Map<PlaceId, number>()
  let [worn, notCounted, doubted] = [0, 0, 0]
  for (const holding of holdings) {
    if (holding.item !== item) continue
    const state = states.get(holding.place)
    if (rules.sources === 'donors') notCounted += holding.qty
    else if (state?.kind === 'model' && !state.released)
      models.set(state.model.id, (models.get(state.model.id) ?? 0) + holding.qty)
    else if (CONDITIONS.indexOf(countedAs(holding.condition, rules.unstated)) > worst) worn += holding.qty
    else {
      const counted = countsFor(holding, rules.estimatePercent)
      doubted += holding.qty - counted
      let open = counted
      for (const { build: other, qty } of holding.reserved ?? []) {
        const promised = other === build.id ? 0 : Math.min(open, qty)
        if (promised > 0) reserved.set(other, (reserved.get(other) ?? 0) + promised)
        open -= promised
      }
    }
  }
  const drawn = new Map<string, number>()
  let here = 0
  const taken: { module: ModuleId; qty: number }[] = []
  for (const other of result.lines) {
    let own = 0
    for (const { source, item: of, qty } of other.pegs) {
      if (of !== item || source.kind === 'built') continue
      own += qty
      const id = supplyId({ source, item: of })
      if (id !== undefined) drawn.set(id, (drawn.get(id) ?? 0) + qty)
    }
    if (own === 0) continue
    if (other.id === line.id) here += own
    else taken.push({ module: other.module, qty: own })
  }
  let leftOver = 0
  for (const supply of gatherSupplies(snapshot, memory)) {
    if (supply.item !== item) continue
    const id = supplyId(supply)
    if (id !== undefined) leftOver += Math.max(0, supply.qty - (drawn.get(id) ?? 0))
  }
  return {
    item,
    here,
    taken,
    reserved: [...reserved].map(([other, qty]) => ({ build: other, qty })),
    models: [...models].map(([place, qty]) => ({ place, qty })),
    worn,
    notCounted,
    doubted,
    leftOver,
  }
}
