import type { Design } from '../design/design.ts'
import type { ItemKey } from '../catalogue/item.ts'
import { isOnOrder } from '../netting/supplies.ts'
import type { TallyLine } from '../netting/tally.ts'
import type { LineId, ModuleId, PlaceId } from '../units/ids.ts'

/** A stand-in that serves until the right piece is here, and how far that is. */
export type Temporary = {
  /** Unique: the line in its place. */
  readonly id: string
  readonly line: LineId
  readonly module: ModuleId
  readonly wanted: ItemKey
  readonly by: ItemKey
  /** Right pieces that are here: so many can be swapped now. */
  readonly here: number
  /** Right pieces on their way, and where the first of them are. */
  readonly onOrder: number
  readonly place: PlaceId | undefined
  /** Pieces that nothing is ordered for. */
  readonly short: number
}

/** Every line for which something stands in until the right piece is here; those that can be swapped now first. */
export function temporaries(design: Pick<Design, 'modules'>, lines: readonly TallyLine[]): Temporary[] {
  const meanwhile = new Map<LineId, ItemKey>()
  for (const module of design.modules)
    for (const line of module.lines) if (line.meanwhile !== undefined) meanwhile.set(line.id, line.meanwhile)
  if (meanwhile.size === 0) return []
  return lines
    .flatMap(({ id, line, module, wanted, pegs, coverage }): Temporary[] => {
      const by = meanwhile.get(line)
      if (by === undefined) return []
      const coming = pegs.filter((p) => isOnOrder(p.source))
      const onOrder = coming.reduce((n, p) => n + p.qty, 0)
      const here = pegs.reduce((n, p) => n + (p.standIn === undefined ? p.qty : 0), 0) - onOrder
      const first = coming.find((p) => p.source.kind === 'shelf' && p.source.state.kind === 'post')?.source
      const place = first?.kind === 'shelf' && first.state.kind === 'post' ? first.state.at.id : undefined
      return [{ id, line, module, wanted, by, here: Math.max(0, here), onOrder, place, short: coverage.short }]
    })
    .sort((p, q) => q.here - p.here || q.onOrder - p.onOrder)
}
