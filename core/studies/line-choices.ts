import { newPlanner, type Planner } from '../netting/planner.ts'
import { splitItemKey } from '../catalogue/item.ts'
import type { LineId } from '../units/ids.ts'
import { decisionBook, usesKey, type Decision } from '../build/decision.ts'
import type { Snapshot } from '../netting/snapshot.ts'
import type { Candidate, StandInKind } from '../netting/stand-ins/candidate.ts'
import { candidates, standInSearch } from '../netting/stand-ins/candidates.ts'
import { demandOf } from '../netting/demand.ts'
import { supplyIndex } from '../netting/supply-index.ts'
import { supplyId } from '../netting/supplies.ts'
import type { Supply } from '../netting/supply-rows.ts'
import type { Tally, TallyLine } from '../netting/tally.ts'
import { explode } from '../design/explode.ts'

/** One way to cover a line, with what there is for it and what was decided of it. */
export type LineChoice = {
  readonly kind: StandInKind | 'exact'
  readonly uses: Candidate['uses']
  readonly points: number
  /** Required pieces that all there is would cover, and that what is left over would. */
  readonly have: number
  readonly free: number
  /** Pieces of the line that the tally covers so. */
  readonly here: number
  /** Decisions that forbid it, and that find it as good as the piece. */
  readonly forbidden: readonly Decision[]
  readonly accepted: readonly Decision[]
  /** What can be pinned to the line, the largest remainders first; empty for options of several pieces. */
  readonly supplies: readonly { readonly supply: Supply; readonly free: number }[]
}

/**
 * What could cover a line: what the rules allow, the least compromise first, what the user forbids included; then
 * the same part in colours that the rules do not allow (`chosen`), for a pin that overrides them. Only what there is.
 */
export function lineChoices(
  snapshot: Snapshot,
  result: Tally,
  line: TallyLine,
  { memory }: Planner = newPlanner(),
): LineChoice[] {
  const { build, design, parts } = snapshot
  const decisions = (snapshot.decisions ?? []).filter((d) => d.build === null || d.build === build.id)
  const book = decisionBook(decisions, build.id)
  const requirement = explode(design, { parts, ...snapshot.explosion }).find((r) => r.id === line.id)
  if (!requirement) return []
  const index = supplyIndex(snapshot, memory)
  const { stock } = index
  const drawn = new Map<string, number>()
  for (const { pegs } of result.lines)
    for (const { source, item, qty } of pegs) {
      const id = supplyId({ source, item })
      if (id !== undefined) drawn.set(id, (drawn.get(id) ?? 0) + qty)
    }
  const suppliesOf = (item: Supply['item']) =>
    index
      .variantsOf(item)
      .flatMap((v) => index.rowsOf(v).map((row) => index.supplyOf(row)))
      .map((supply) => ({ supply, free: supply.qty - (drawn.get(supplyId(supply) ?? '') ?? 0) }))
  const here = new Map<string, number>()
  for (const { item, qty, uses, standIn } of line.pegs) {
    const key = standIn && uses ? usesKey(uses) : item
    const pieces = standIn && uses ? uses.reduce((n, u) => n + u.qty, 0) : 1
    here.set(key, (here.get(key) ?? 0) + qty / pieces)
  }
  const aboutThis = (kind: 'forbid' | 'accept', key: string) =>
    decisions.filter(
      ({ what }) =>
        what.kind === kind &&
        what.item === line.item &&
        (what.line === undefined || what.line === line.line) &&
        usesKey(what.uses) === key,
    )
  const choice = ({ kind, uses, points }: Candidate): LineChoice => {
    const key = usesKey(uses)
    const held = uses.map((u) => ({ qty: u.qty, supplies: suppliesOf(u.item) }))
    const covers = (amount: (s: { supply: Supply; free: number }) => number) =>
      Math.min(...held.map((h) => Math.floor(h.supplies.reduce((n, s) => n + amount(s), 0) / h.qty)))
    return {
      kind,
      uses,
      points,
      have: covers((s) => s.supply.qty),
      free: covers((s) => s.free),
      here: Math.round(here.get(key) ?? 0),
      forbidden: aboutThis('forbid', key),
      accepted: aboutThis('accept', key),
      supplies:
        uses.length === 1 && uses[0]?.qty === 1
          ? (held[0]?.supplies ?? []).sort(
              (p, q) => q.free - p.free || ((supplyId(p.supply) ?? '') < (supplyId(q.supply) ?? '') ? -1 : 1),
            )
          : [],
    }
  }
  const demand = demandOf(requirement, { forbidden: () => [], accepted: book.accepted })
  const allowed = candidates(standInSearch(build.rules, stock, book.own), demand).map(choice)
  const { part, decoration } = splitItemKey(line.item)
  const known = new Set(allowed.map((c) => usesKey(c.uses)))
  const others = (stock.byPart.get(part)?.items ?? [])
    .filter((o) => o.decoration === decoration && !known.has(o.item))
    .map((o) => choice({ kind: 'chosen', uses: [{ item: o.item, qty: 1 }], points: 0 }))
  return [
    ...allowed.filter((c) => c.have > 0).sort((p, q) => p.points - q.points || q.free - p.free),
    ...others.filter((c) => c.have > 0).sort((p, q) => q.free - p.free),
  ]
}

/** Lines of a tally with stand-ins that the user has not looked at yet, or counts that rest on estimates. */
export const isDoubtful = ({ pegs, estimate }: TallyLine): boolean =>
  estimate || pegs.some((p) => p.standIn !== undefined && p.by === undefined)

/** Stand-ins in a tally of at most so many points that no decision is about yet, once per line. */
export function openStandIns(
  result: Tally,
  atMost: number,
): { readonly line: LineId; readonly item: TallyLine['item']; readonly uses: Candidate['uses'] }[] {
  const found = new Map<string, { line: LineId; item: TallyLine['item']; uses: Candidate['uses'] }>()
  for (const { line, item, pegs } of result.lines)
    for (const { standIn, by, uses, points = 0 } of pegs)
      if (standIn && uses && by === undefined && points <= atMost)
        found.set(`${line}\n${item}\n${usesKey(uses)}`, { line, item, uses })
  return [...found.values()]
}
