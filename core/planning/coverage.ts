import type { ModuleId } from '../units/ids.ts'

/** Pieces by where they come from; the segments of a coverage strip. */
export type Coverage = {
  readonly donor: number
  readonly shelf: number
  readonly standIn: number
  readonly onOrder: number
  readonly short: number
}

export const NO_COVERAGE: Coverage = { donor: 0, shelf: 0, standIn: 0, onOrder: 0, short: 0 }

export const addCoverage = (p: Coverage, q: Coverage): Coverage => ({
  donor: p.donor + q.donor,
  shelf: p.shelf + q.shelf,
  standIn: p.standIn + q.standIn,
  onOrder: p.onOrder + q.onOrder,
  short: p.short + q.short,
})

export const coveredPieces = (c: Coverage): number => c.donor + c.shelf + c.standIn + c.onOrder

/** Adds up coverage by module, with all that is in it, and of the whole design. */
export function coverageSums() {
  type Sum = { -readonly [K in keyof Coverage]: number }
  const all: Sum = { ...NO_COVERAGE }
  const byModule = new Map<ModuleId, Sum>()
  let lastPath: readonly ModuleId[] | undefined
  let onPath: Sum[] = []
  return {
    /** Pieces in a place, given by the modules around it. */
    add(
      path: readonly ModuleId[],
      donor: number,
      shelf: number,
      standIn: number,
      onOrder: number,
      short: number,
    ): void {
      if (path !== lastPath) {
        lastPath = path
        onPath = [all]
        for (const module of path) {
          let sum = byModule.get(module)
          if (!sum) byModule.set(module, (sum = { ...NO_COVERAGE }))
          onPath.push(sum)
        }
      }
      for (const sum of onPath) {
        sum.donor += donor
        sum.shelf += shelf
        sum.standIn += standIn
        sum.onOrder += onOrder
        sum.short += short
      }
    },
    all,
    byModule,
  }
}
