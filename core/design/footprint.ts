import { PLATE_UM, STUD_UM } from '../units/length.ts'
import type { ModuleId } from '../units/ids.ts'
import type { Design, Module } from './design.ts'

/** Room for the finished build in studs and plates; open sides are null. */
export type Space = { readonly width: number | null; readonly depth: number | null; readonly height: number | null }

export type Footprint = {
  /** Ground area of all modules that do not stand on another, square studs. */
  readonly area: number
  /** Of the tallest stack, plates. */
  readonly height: number
  /** Modules without an entry. */
  readonly open: readonly ModuleId[]
  /** What does not fit the space, in words. */
  readonly faults: readonly string[]
}

/**
 * What the modules' own footprints come to. Modules of the design itself count, each repeat beside the next; one that
 * is stacked stands on the module before it and adds to its height alone. A module must fit the space either way round.
 */
export function footprint(design: Design, space: Space): Footprint {
  let area = 0
  let height = 0
  let stack = 0
  const open: ModuleId[] = []
  const faults: string[] = []
  const tops = design.modules.filter((m) => m.within === undefined && !m.later && !m.figure)
  for (const { id, name, form, repeats } of tops) {
    if (!form) {
      open.push(id)
      continue
    }
    if (form.stacked) stack += form.height * Math.max(1, repeats)
    else {
      stack = form.height
      area += form.width * form.depth * Math.max(1, repeats)
    }
    height = Math.max(height, stack)
    const { width, depth } = space
    const fits = (w: number, d: number) => (width === null || w <= width) && (depth === null || d <= depth)
    if (!fits(form.width, form.depth) && !fits(form.depth, form.width))
      faults.push(`${name} is ${form.width} × ${form.depth} studs: more than the space, either way round.`)
  }
  if (space.width !== null && space.depth !== null && area > space.width * space.depth)
    faults.push(`The modules cover ${area} square studs; the space has ${space.width * space.depth}.`)
  if (space.height !== null && height > space.height)
    faults.push(`The tallest stack is ${height} plates; the space allows ${space.height}.`)
  return { area, height, open, faults }
}

/** Height of a figure without headgear in micrometres: four bricks and a stud's rest, 40 mm; common practice. */
export const FIGURE_UM = 40_000
/** An adult's height that a figure is commonly taken for, mm; common practice. */
export const PERSON_MM = 1_700

/** Size of a module in mm, in the real thing at a scale of 1 to `scale` (m), and in figures of height. */
export function sizeOf({ width, depth, height }: NonNullable<Module['form']>, scale: number | null) {
  const mm = [width * STUD_UM, depth * STUD_UM, height * PLATE_UM].map((um) => um / 1000)
  return {
    mm,
    metres: scale === null ? undefined : mm.map((side) => Math.round((side * scale) / 10) / 100),
    /** Figures that high, one on the other. */
    figures: Math.round((height * PLATE_UM * 10) / FIGURE_UM) / 10,
  }
}

/** The scale at which a figure is as tall as a person: 1 to this. */
export const FIGURE_SCALE = (PERSON_MM * 1000) / FIGURE_UM
