/** Condition of a piece, best first. */
export const CONDITIONS = ['new', 'used', 'worn'] as const
export type Condition = (typeof CONDITIONS)[number]

export const worseCondition = (p: Condition, q: Condition): Condition =>
  CONDITIONS.indexOf(p) > CONDITIONS.indexOf(q) ? p : q
