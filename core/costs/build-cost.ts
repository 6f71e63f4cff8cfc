import type { Build } from '../build/build.ts'
import type { Design } from '../design/design.ts'
import { instructionsCost } from '../design/provenance.ts'

/** What finishing a build costs, minor units of its currency. */
export type BuildCost = {
  /** Orders at the door. */
  readonly orders: number
  readonly prints: number
  /** What someone's instructions cost. */
  readonly instructions: number
  readonly total: number
  /** How much of it is beyond the budget; 0 within it or without one. */
  readonly over: number
}

/** What a count needs printed: prints of the user's own on pieces that are there, and runs at their prices, minor units. */
export type PrintsNeeded = { readonly prints: number; readonly printRuns: readonly { readonly cost: number }[] }

/** A build's cost in all: orders, custom prints for pieces that are there, and the price of the plans it and its modules follow. */
export function buildCost(
  build: Build,
  { modules }: Pick<Design, 'modules'>,
  result: PrintsNeeded,
  orders: number,
): BuildCost {
  const instructions = instructionsCost(build.currency, build.provenance, modules)
  const prints = result.prints * build.rules.printPrice + result.printRuns.reduce((sum, run) => sum + run.cost, 0)
  const total = orders + prints + instructions
  return { orders, prints, instructions, total, over: Math.max(0, total - (build.rules.budget ?? total)) }
}
