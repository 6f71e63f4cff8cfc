import type { OwnRule } from '../../build/decision.ts'
import type { Asked } from './asked.ts'
import { inOne } from './split.ts'

/** Visits what the user's own rules put in the place of a plain part, in the colour of the piece. */
export function visitOwnRules(asked: Asked, rules: readonly OwnRule[]): void {
  for (const rule of rules) {
    const made = rule.part === asked.part ? inOne(asked, rule.uses, asked.colour) : undefined
    if (made) asked.visit.kit(made.uses, 'own', rule.points)
  }
}
