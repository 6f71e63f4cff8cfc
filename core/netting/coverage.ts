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

/** Fields of a coverage in an array, in the order of `Coverage`. */
export const COVERAGE_FIELDS = 5

/** The coverage of a line, or of anything else, by its number among the fields of all. */
export const coverageAt = (fields: ArrayLike<number>, number: number): Coverage => {
  const at = number * COVERAGE_FIELDS
  return {
    donor: fields[at] as number,
    shelf: fields[at + 1] as number,
    standIn: fields[at + 2] as number,
    onOrder: fields[at + 3] as number,
    short: fields[at + 4] as number,
  }
}

/**
 * Adds up the coverage of lines, by the fields of all of them: of each module with all that is in it, and of the whole
 * design. `pathOf` says of each line which of the paths it is on.
 */
export function sumCoverage(
  lines: Int32Array,
  pathOf: Int32Array,
  paths: readonly (readonly ModuleId[])[],
): { readonly all: Coverage; readonly byModule: ReadonlyMap<ModuleId, Coverage> } {
  const sums = new Float64Array(paths.length * COVERAGE_FIELDS)
  for (let i = 0; i < pathOf.length; i++)
    for (let field = 0; field < COVERAGE_FIELDS; field++) {
      const at = (pathOf[i] as number) * COVERAGE_FIELDS + field
      sums[at] = (sums[at] as number) + (lines[i * COVERAGE_FIELDS + field] as number)
    }
  let all = NO_COVERAGE
  const byModule = new Map<ModuleId, Coverage>()
  for (const [number, path] of paths.entries()) {
    const sum = coverageAt(sums, number)
    all = addCoverage(all, sum)
    for (const module of path) byModule.set(module, addCoverage(byModule.get(module) ?? NO_COVERAGE, sum))
  }
  return { all, byModule }
}
