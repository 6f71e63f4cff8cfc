import type { ItemKey } from '../catalogue/item.ts'
import type { LineId, ModuleId } from '../units/ids.ts'
import type { Design } from './design.ts'

/** A line's gross requirement: quantity × the module's repeats, traceable to both. */
export type Requirement = {
  readonly line: LineId
  readonly module: ModuleId
  readonly item: ItemKey
  /** Pieces in one repeat. */
  readonly each: number
  readonly qty: number
}

/** Gross requirements of a design, in design order; modules with no repeats need nothing. */
export function explode(design: Design): Requirement[] {
  return design.modules.flatMap((module) =>
    module.repeats === 0
      ? []
      : module.lines.map((line) => ({
          line: line.id,
          module: module.id,
          item: line.item,
          each: line.qty,
          qty: line.qty * module.repeats,
        })),
  )
}
