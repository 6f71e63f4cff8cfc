import { visitLonger } from './length.ts'
import { visitOwnRules } from './own-rule.ts'
import { visitStickered } from './peel.ts'
import { splitItemKey } from '../../catalogue/item.ts'
import type { Visibility } from '../../design/design.ts'
import type { ColourId } from '../../units/ids.ts'
import type { Rules } from '../../build/house-rules.ts'
import type { Candidate } from './candidate.ts'
import { usesKey, type OwnRule } from '../../build/decision.ts'
import { itemIn, lengthOf, type SplitKit, type Stock, type StockPart } from '../stock.ts'
import type { Part } from '../../catalogue/part.ts'
import type { Demand } from '../demand.ts'
import { POINTS, IN_SIGHT } from './points.ts'
import type { CandidateVisitor, Asked } from './asked.ts'
import { freedomOf, NO_SCORES, FREEDOM_FIELD, colourScorer, type ColourScorer, ownScore, inColours } from './colour.ts'
import { mayTakeMould } from './mould.ts'
import { maySplit, SPLITS, visitSmaller } from './split.ts'
import { visitUndecorated } from './undecorated.ts'

/** No colour: all others are other colours. */
const NO_COLOUR = '' as ColourId
const VISIBILITY_FIELD: Record<Visibility, number> = { seen: 0, hidden: 1, structural: 2 }

/** What stand-ins are looked for by, and in. */
export type StandInSearch = {
  readonly rules: Rules
  readonly stock: Stock
  readonly ownRules: readonly OwnRule[]
  readonly scoresOf: ColourScorer
}

export const standInSearch = (rules: Rules, stock: Stock, ownRules: readonly OwnRule[]): StandInSearch => ({
  rules,
  stock,
  ownRules,
  scoresOf: colourScorer(rules, stock),
})

/** A number for kinds of plain demands whose other colours do not depend on their own; undefined for all others. */
function alikeField(demand: Demand, rules: Rules): number | undefined {
  if (demand.palette || demand.instead || demand.length !== undefined || demand.print || demand.unused) return undefined
  if (demand.group !== undefined || demand.forbidden || demand.accepted) return undefined
  const freedom = freedomOf(demand, rules)
  if (freedom !== 'free' && freedom !== 'palette') return undefined
  return (demand.freedom ? FREEDOM_FIELD[demand.freedom] : 0) * 3 + VISIBILITY_FIELD[demand.visibility]
}

/** Leaves out what a demand forbids, and takes the points off what it accepts. */
function judged(
  { forbidden = [], accepted = [] }: Demand,
  { items }: Stock,
  visit: CandidateVisitor,
): CandidateVisitor {
  const [never, gladly] = [new Set(forbidden), new Set(accepted)]
  const judge = (key: string, kind: Candidate['kind'], points: number): number | undefined =>
    kind !== 'exact' && never.has(key) ? undefined : gladly.has(key) ? 0 : points
  return {
    missingToo: visit.missingToo,
    one(itemIndex, kind, points) {
      const cost = judge(items[itemIndex]?.item ?? '', kind, points)
      if (cost !== undefined) visit.one(itemIndex, kind, cost)
    },
    kit(uses, kind, points) {
      const cost = judge(usesKey(uses), kind, points)
      if (cost !== undefined) visit.kit(uses, kind, cost)
    },
  }
}

const NO_PARTS: readonly StockPart[] = []
const NO_SPLITS: readonly SplitKit[] = []

/** Has what all demands of a part have alike taken note of: other colours and moulds; false when that cannot be. */
function makeAlike(
  asked: Pick<Asked, 'demand' | 'rules' | 'stock' | 'visit' | 'scoresOf'>,
  field: number,
  own: StockPart,
  mates: readonly StockPart[],
  mouldPoints: number,
): boolean {
  const { demand, rules, stock, visit, scoresOf } = asked
  const scores = scoresOf(demand, NO_COLOUR)
  const nobody = { part: own.id, colour: NO_COLOUR, decoration: '', colourIndex: undefined }
  const anybody = { demand, rules, stock, visit, scoresOf, scores, ...nobody }
  const made = visit.alike?.make(own, field, () => {
    inColours(anybody, own, 'colour', 0, false)
    for (const other of mates) inColours(anybody, other, 'mould', mouldPoints, false)
  })
  return made ?? false
}

/**
 * Visits every way the rules, the line and the user's decisions allow to get a required piece, the exact one first:
 * other colours and moulds, smaller pieces in its place, what the line takes instead, the user's own rules, longer hose
 * or string cut to length, and for stickered or printed pieces what the rules say of them. What the user forbids is
 * left out; what the user accepts costs no points. The pieces of a split share one colour. `there` is the item itself
 * in the stock, where that is known already; `splits` says which of them are looked for.
 */
export function eachCandidate(
  { rules, stock, ownRules, scoresOf }: StandInSearch,
  demand: Demand,
  visitor: CandidateVisitor,
  there = itemIn(stock, demand.item),
  splits: number = SPLITS.any,
): void {
  const visit = demand.forbidden || demand.accepted ? judged(demand, stock, visitor) : visitor
  const { own, known, part, colour, decoration } = subjectOf(demand, stock, there)
  if (there) visit.one(there.index, 'exact', 0)
  else if (visit.missingToo) visit.kit([{ item: demand.item, qty: 1 }], 'exact', 0)
  const inSight = demand.visibility === 'hidden' ? 0 : IN_SIGHT
  const scores = freedomOf(demand, rules) === 'exact' ? NO_SCORES : scoresOf(demand, colour)
  const colourIndex = there ? there.colourIndex : stock.colourIndexOf(colour)
  const asked: Asked = { demand, rules, stock, visit, scoresOf, part, colour, decoration, scores, colourIndex }
  if (decoration === '') visitPlain(asked, own, known, ownRules, inSight, splits)
  else if (own) inColours(asked, own, 'colour', 0, false)
  if (demand.instead) visitAlternates(asked, demand.instead)
  if (decoration !== '') visitUndecorated(asked)
  const needed = demand.length ?? (own && !own.byLength ? undefined : lengthOf(known))
  if (needed !== undefined) visitLonger(asked, known, needed)
}

/** Visits what may stand in for an undecorated piece: other colours and moulds, smaller pieces, the user's own rules. */
function visitPlain(
  asked: Asked,
  own: StockPart | undefined,
  known: Part | undefined,
  ownRules: readonly OwnRule[],
  inSight: number,
  needed: number,
): void {
  const { demand, rules, stock, visit, part, scores, colourIndex } = asked
  const { visibility } = demand
  const mouldPoints = POINTS.mould + inSight
  const mates = known && mayTakeMould(visibility, rules) ? stock.matesOf(part) : NO_PARTS
  const splits = known && needed !== SPLITS.none && maySplit(visibility, rules) ? stock.splitKitsOf(known) : NO_SPLITS
  // Who finds a piece in some colour for certain needs no other mould in another colour, which costs more.
  const pooled = own ? fromPool(asked, own, needed === SPLITS.own ? NO_PARTS : mates, mouldPoints) : false
  // Most demands have no more to look for than the piece itself in other moulds, and what they have from a pool.
  const more = (scores !== NO_SCORES && !pooled) || splits.length > 0 || ownRules.length > 0
  if (more && own && !pooled) inColours(asked, own, 'colour', 0, false)
  if (own) visitStickered(asked, own)
  for (const other of mates)
    if (!more || pooled) ownScore(visit, colourIndex, other, 'mould', mouldPoints)
    else inColours(asked, other, 'mould', mouldPoints, true)
  if (more) visitSmaller(asked, splits, POINTS.split + inSight, needed === SPLITS.own)
  visitOwnRules(asked, ownRules)
}

/** What a demand is for: the part with all that is known of it, its colour and decoration. */
function subjectOf({ item }: Demand, stock: Stock, there: ReturnType<typeof itemIn>) {
  const { colour, decoration } = there ?? splitItemKey(item)
  const part = there ? there.of.id : splitItemKey(item).part
  const own = there ? there.of : stock.byPart.get(part)
  return { own, known: own ? own.part : stock.parts.get(part), part, colour, decoration }
}

/** Whether a demand has other colours and moulds from a pool that all demands like it share. */
function fromPool(
  asked: Pick<Asked, 'demand' | 'rules' | 'stock' | 'visit' | 'scoresOf'>,
  own: StockPart,
  mates: readonly StockPart[],
  mouldPoints: number,
): boolean {
  const { alike } = asked.visit
  const kind = alike && alikeField(asked.demand, asked.rules)
  if (kind === undefined) return false
  const field = 2 * kind + (mates.length > 0 ? 1 : 0)
  return alike?.takes(own, field) ?? makeAlike(asked, field, own, mates, mouldPoints)
}

/** Visits what the line takes as well as the piece itself, best first. */
function visitAlternates({ visit }: Asked, alternates: readonly Candidate['uses'][]): void {
  for (const [i, uses] of alternates.entries()) visit.kit(uses, 'instead', POINTS.instead + i)
}

/** Every way to get a required piece (`eachCandidate`), the exact one first. */
export function candidates(search: StandInSearch, demand: Demand): Candidate[] {
  const { stock } = search
  const found: Candidate[] = []
  eachCandidate(search, demand, {
    missingToo: true,
    one(itemIndex, kind, points) {
      const one = stock.items[itemIndex]
      if (one) found.push({ kind, uses: [{ item: one.item, qty: 1 }], points })
    },
    kit(uses, kind, points) {
      found.push({ kind, uses, points })
    },
  })
  return found
}
