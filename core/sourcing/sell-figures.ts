import { figuresOf, type SourcingProblem } from './problem.ts'
import type { Decisions } from './plan.ts'
import { verifyPlan } from './verify-plan.ts'

/**
 * Decisions that sell whole figures as well, of what they leave over: first the figure that earns most beyond its pieces
 * one by one, as often as there are pieces and copies. As they are where they do not hold, or say themselves what is sold.
 */
export function withFigures(problem: SourcingProblem, decisions: Decisions): Decisions {
  const known = figuresOf(problem)
  if (known.length === 0 || (decisions.figures?.length ?? 0) > 0) return decisions
  const verdict = verifyPlan(problem, decisions)
  if (!verdict.ok) return decisions
  const left = new Map(verdict.surplus)
  const itemById = new Map(problem.items.map((i) => [i.id, i]))
  const inPieces = (pieces: (typeof known)[number]['figure']['pieces']) =>
    pieces.reduce((sum, { item, qty }) => sum + qty * (itemById.get(item)?.resale?.credit ?? 0), 0)
  const ranked = known
    .map(({ set, figure }) => ({ set, figure, gain: figure.credit - inPieces(figure.pieces) }))
    .filter(({ gain }) => gain > 0)
    .sort((p, q) => q.gain - p.gain)
  const figures: { set: string; figure: string; qty: number }[] = []
  const sold = new Map<string, number>()
  for (const { set, figure } of ranked) {
    const copies = decisions.sets.reduce((n, s) => n + (s.set === set.id ? s.copies : 0), 0)
    const need = new Map<string, number>()
    for (const { item, qty } of figure.pieces) need.set(item, (need.get(item) ?? 0) + qty)
    let qty = Math.min(copies, (figure.max ?? copies) - (sold.get(figure.id) ?? 0))
    for (const [item, each] of need) qty = Math.min(qty, Math.floor((left.get(item) ?? 0) / each))
    if (qty <= 0) continue
    for (const [item, each] of need) left.set(item, (left.get(item) ?? 0) - qty * each)
    sold.set(figure.id, (sold.get(figure.id) ?? 0) + qty)
    figures.push({ set: set.id, figure: figure.id, qty })
  }
  return figures.length > 0 ? { ...decisions, figures } : decisions
}
