import { newPlanner, type Planner } from '../netting/planner.ts'
import { splitItemKey, type ItemKey } from '../catalogue/item.ts'
import { mouldClass } from '../catalogue/mould.ts'
import { explode } from '../design/explode.ts'
import type { Design, Module, Risk } from '../design/design.ts'
import type { NettingProblem, NettingSupply } from '../netting/problem.ts'
import { solveNetting } from '../netting/solve.ts'
import { verifyNetting } from '../netting/verify.ts'
import type { ModuleId } from '../units/ids.ts'
import type { Snapshot } from '../netting/snapshot.ts'
import type { SupplySource } from '../netting/supply-rows.ts'
import { atHand, supplyId } from '../netting/supplies.ts'

export type MockPick = { readonly source: SupplySource; readonly item: ItemKey; readonly qty: number }

export type MockUp = {
  readonly need: number
  readonly have: number
  /** Pieces for which nothing of the shape is at hand. */
  readonly missing: readonly { readonly item: ItemKey; readonly qty: number }[]
  /** What to fetch, place by place. */
  readonly picks: readonly MockPick[]
}

/**
 * Whether one repeat of a module can be tried now in any colour: donor boxes and what is loose on the shelf, whatever
 * the rest of the build wants of it; moulds of one family, size and hand pass for one another, the exact one first.
 */
export function mockUp(snapshot: Snapshot, module: ModuleId, { memory }: Planner = newPlanner()): MockUp {
  const { design, parts } = snapshot
  const alone: Design = {
    ...design,
    modules: design.modules.map((m): Module => {
      if (m.id !== module) return m.within === undefined ? { ...m, repeats: 0 } : m
      const { within: _, built: __, later: ___, ...bare } = m
      return { ...bare, repeats: 1 }
    }),
  }
  const classOf = (item: ItemKey): string => {
    const { part } = splitItemKey(item)
    const own = parts.get(part)
    return (own && memory.of(mouldClass, own)) ?? part
  }
  const requirements = explode(alone, { parts })
  const there = atHand(snapshot, memory)
  const supplies = there.map((s): NettingSupply => ({
    id: supplyId(s) ?? '',
    item: splitItemKey(s.item).part,
    qty: s.qty,
    rank: 0,
  }))
  const partsOf = new Map<string, Set<string>>()
  for (const { item } of there) {
    const kind = classOf(item)
    partsOf.set(kind, (partsOf.get(kind) ?? new Set()).add(splitItemKey(item).part))
  }
  const problem: NettingProblem = {
    lines: requirements.map((r) => {
      const { part } = splitItemKey(r.item)
      const others = [...(partsOf.get(classOf(r.item)) ?? [])].filter((p) => p !== part)
      return {
        id: r.id,
        qty: r.qty,
        accepts: [
          ...[part, ...others].map((p) => ({
            id: p as string,
            uses: [{ item: p, qty: 1 }],
            compromise: p === part ? 0 : 1,
          })),
          ...r.instead.map((uses, i) => ({
            id: `instead ${i}`,
            uses: uses.map((u) => ({ item: splitItemKey(u.item).part, qty: u.qty })),
            compromise: 1,
          })),
        ],
      }
    }),
    supplies,
  }
  const plan = solveNetting(problem)
  const [fault] = verifyNetting(problem, plan)
  if (fault) throw new Error(`the mock-up's netting does not hold: ${fault}`)
  const covered = new Map<string, number>()
  const taken = new Map<string, number>()
  for (const { line, qty, pegs } of plan.assignments) {
    covered.set(line, (covered.get(line) ?? 0) + qty)
    for (const peg of pegs) taken.set(peg.supply, (taken.get(peg.supply) ?? 0) + peg.qty)
  }
  const missing = new Map<ItemKey, number>()
  for (const { id, item, qty } of requirements) {
    const open = qty - (covered.get(id) ?? 0)
    if (open > 0) missing.set(item, (missing.get(item) ?? 0) + open)
  }
  const need = requirements.reduce((n, r) => n + r.qty, 0)
  return {
    need,
    have: need - plan.short,
    missing: [...missing].map(([item, qty]) => ({ item, qty })),
    picks: there.flatMap(({ source, item }) => {
      const qty = taken.get(supplyId({ source, item }) ?? '')
      return qty === undefined ? [] : [{ source, item, qty }]
    }),
  }
}

/** A module with risks that are still open although it was never test built. */
export type OpenRisk = { readonly module: Module; readonly risks: readonly Risk[] }

/** What should be tried before money is spent: modules needed now with open risks and no test build. */
export const openRisks = (design: Design): OpenRisk[] =>
  design.modules
    .filter((m) => !m.later && m.tested === undefined)
    .map((module) => ({ module, risks: (module.risks ?? []).filter((r) => r.state === 'open') }))
    .filter(({ risks }) => risks.length > 0)
