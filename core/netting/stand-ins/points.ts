import type { StandInKind } from './candidate.ts'

/** Points of compromise per piece by kind: 0 is the piece itself; common practice, our own scale. */
export const POINTS: Record<StandInKind, number> = {
  chosen: 0,
  colour: 2,
  instead: 1,
  length: 4,
  mould: 2,
  own: 1,
  peel: 1,
  plain: 3,
  print: 1,
  split: 2,
  sticker: 1,
}

/** More for what is in plain sight. */
export const IN_SIGHT = 2
