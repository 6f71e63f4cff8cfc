import type { Stock, StockPart } from '../stock.ts'
import type { ColourId } from '../../units/ids.ts'
import type { Demand } from '../demand.ts'
import type { Rules } from '../../build/house-rules.ts'
import type { Freedom } from '../../design/design.ts'
import { splitItemKey } from '../../catalogue/item.ts'
import { POINTS, IN_SIGHT } from './points.ts'
import type { CandidateVisitor, Asked, ColourScores } from './asked.ts'
import type { StandInKind } from './candidate.ts'

/** A colour of the palette in plain sight: more, and the more the rarer it is. */
const SEEN_COLOUR = 5

/** How far a line may be in other colours: as it says itself, or as the rules say. */
export function freedomOf({ freedom, visibility }: Demand, { colours, hiddenColours }: Rules): Freedom {
  if (freedom !== undefined) return freedom
  const hidden = visibility === 'hidden'
  const rule = hidden && hiddenColours !== 'as elsewhere' ? hiddenColours : colours
  if (rule === 'within the palette') return 'palette'
  if (rule === 'free where hidden') return hidden ? 'free' : 'exact'
  return rule
}

/** Points of compromise for a piece of a line in other colours: a function, undefined for colours that may not be. */
export function colourScoreOf(
  demand: Demand,
  rules: Rules,
  stock: Pick<Stock, 'plenty' | 'distances'>,
  colour = splitItemKey(demand.item).colour,
): (other: ColourId) => number | undefined {
  const hidden = demand.visibility === 'hidden'
  const freedom = freedomOf(demand, rules)
  if (freedom === 'exact') return (other) => (other === colour ? 0 : undefined)
  if (freedom === 'free') {
    const points = hidden ? POINTS.colour : POINTS.colour + IN_SIGHT
    return (other) => (other === colour ? 0 : points)
  }
  if (freedom === 'palette') {
    const palette = demand.palette ?? rules.palette
    return (other) =>
      other === colour ? 0 : palette.includes(other) ? SEEN_COLOUR + rarity(other, palette, stock.plenty) : undefined
  }
  return (other) => {
    if (other === colour) return 0
    const distance = stock.distances.apart(colour, other)
    return distance !== undefined && distance <= rules.nearLimit ? 1 + Math.ceil(distance / 3) : undefined
  }
}

export const NO_SCORES: ColourScores = { points: [], others: [] }

export const FREEDOM_FIELD: Record<Freedom, number> = { exact: 1, near: 2, palette: 3, free: 4 }

/** What other colours than a given one cost a demand. */
export type ColourScorer = (demand: Demand, colour: ColourId) => ColourScores

/** Scores under some rules in a stock; kept by what they depend on: colour, freedom, hidden or not, palette. */
export function colourScorer(rules: Rules, stock: Stock): ColourScorer {
  /** By colour; of each in fields for what else there is without a palette. */
  const usual = new Map<ColourId, (ColourScores | undefined)[]>()
  const palettes = new Map<string, ColourScores>()
  return (demand, colour) => {
    const { freedom, visibility, palette } = demand
    if (palette) {
      const key = [colour, freedom, visibility === 'hidden', ...palette].join()
      const known = palettes.get(key) ?? scoresMade(demand, colour, rules, stock)
      palettes.set(key, known)
      return known
    }
    let fields = usual.get(colour)
    if (!fields) usual.set(colour, (fields = []))
    const field = (freedom ? FREEDOM_FIELD[freedom] : 0) * 2 + (visibility === 'hidden' ? 1 : 0)
    return (fields[field] ??= scoresMade(demand, colour, rules, stock))
  }
}

function scoresMade(demand: Demand, colour: ColourId, rules: Rules, stock: Stock): ColourScores {
  const score = colourScoreOf(demand, rules, stock, colour)
  const points = stock.colours.map((other) => score(other) ?? -1)
  const others: number[] = []
  for (let colourIndex = 0; colourIndex < points.length; colourIndex++)
    if ((points[colourIndex] as number) >= 0 && stock.colours[colourIndex] !== colour) others.push(colourIndex)
  return { points, others }
}

/** Visits a part in a demand's own colour, by its number, undecorated. */
export function ownScore(
  visit: CandidateVisitor,
  colourIndex: number | undefined,
  of: StockPart,
  kind: StandInKind,
  base: number,
): void {
  const same = colourIndex === undefined ? -1 : (of.plain[colourIndex] ?? -1)
  if (same >= 0) visit.one(same, kind, base)
}

/** Visits other colours of a part, and the demand's own too when asked. */
export function inColours(asked: Asked, of: StockPart, kind: StandInKind, base: number, own: boolean): void {
  const { visit, decoration, scores, colourIndex: ownColour } = asked
  if (decoration !== '') {
    for (const other of of.items) {
      const points = scores.points[other.colourIndex] ?? -1
      if (other.decoration === decoration && points >= 0 && (own || other.colourIndex !== ownColour))
        visit.one(other.index, kind, base + points)
    }
    return
  }
  if (own) ownScore(visit, ownColour, of, kind, base)
  for (const colourIndex of scores.others) {
    const other = of.plain[colourIndex] ?? -1
    if (other >= 0) visit.one(other, kind, base + (scores.points[colourIndex] as number))
  }
}

/** 0 for the palette's most plentiful colour, 1 for the next. */
function rarity(colour: ColourId, palette: readonly ColourId[], plenty: ReadonlyMap<ColourId, number>): number {
  const own = plenty.get(colour) ?? 0
  let rarer = 0
  for (const c of palette) if (c !== colour && (plenty.get(c) ?? 0) > own) rarer++
  return rarer
}
