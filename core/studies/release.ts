import { newPlanner } from '../netting/planner.ts'
import type { PlaceId } from '../units/ids.ts'
import type { Snapshot } from '../netting/snapshot.ts'
import { tally } from '../netting/count.ts'

/** What a build takes of a model once it may be taken apart, and how many fewer pieces are short than `short`. */
export function releaseOf(
  snapshot: Snapshot,
  model: PlaceId,
  short: number,
  planner = newPlanner(),
): { readonly taken: number; readonly saved: number } {
  const places = snapshot.places.map((p) => (p.id === model ? { ...p, released: true } : p))
  const then = tally({ ...snapshot, places }, planner)
  let taken = 0
  for (const { pegs } of then.lines)
    for (const { source, qty } of pegs)
      if (source.kind === 'shelf' && source.state.kind === 'model' && source.state.model.id === model) taken += qty
  return { taken, saved: short - then.coverage.short }
}
