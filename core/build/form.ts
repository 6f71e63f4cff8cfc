import { platesToMm, studsToMm } from '../units/length.ts'
import type { Form } from './house-rules.ts'

/** The room in mm, and what it stands for in the real thing in m at the build's scale; sides that are open are absent. */
export type Room = { readonly mm: readonly number[]; readonly metres: readonly number[] }

/** Common practice: stud pitch 8 mm, plate height 3.2 mm. */
export function roomOf({ width, depth, height, scale }: Form): Room {
  const mm = [
    ...[width, depth].flatMap((side) => (side === null ? [] : [studsToMm(side)])),
    ...(height === null ? [] : [platesToMm(height)]),
  ]
  return { mm, metres: scale === null ? [] : mm.map((side) => Math.round((side * scale) / 100) / 10) }
}
