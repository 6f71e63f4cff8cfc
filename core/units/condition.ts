/** Condition of a piece, best first. */
export const CONDITIONS = ['new', 'used', 'worn'] as const
export type Condition = (typeof CONDITIONS)[number]

/** What is said of a piece's condition: one of them, or nothing. */
export const NOT_STATED = 'not stated'
export const STATED_CONDITIONS = [...CONDITIONS, NOT_STATED] as const
export type StatedCondition = (typeof STATED_CONDITIONS)[number]

/** What a piece counts as, where what is not stated counts as a rule says. */
export const countedAs = (stated: StatedCondition, unstated: Condition): Condition =>
  stated === NOT_STATED ? unstated : stated

/** The worse of two; what is not stated may be new and passes for less than that, and for better than used. */
export function worseCondition<T extends StatedCondition>(p: T, q: T): T {
  const rank = (c: StatedCondition) => (c === NOT_STATED ? 0.5 : CONDITIONS.indexOf(c))
  return rank(p) > rank(q) ? p : q
}
