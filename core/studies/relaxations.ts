import type { Memory } from '../units/memory.ts'
import { newPlanner } from '../netting/planner.ts'
import type { Family } from '../catalogue/shape.ts'
import { splitItemKey, type ItemKey } from '../catalogue/item.ts'
import { withLines } from '../design/arrange-modules.ts'
import type { Design, DesignLine } from '../design/design.ts'
import type { Copy, DonorSet } from '../donors/donor-set.ts'
import { placeStates } from '../shelf/place-state.ts'
import type { Place } from '../shelf/place.ts'
import { mouldClass } from '../catalogue/mould.ts'
import { ciede2000, hexToLab } from '../colours/distance.ts'
import type { CopyId, DecisionId, LineId, SetId } from '../units/ids.ts'
import type { Rules } from '../build/house-rules.ts'
import { looserSteps } from '../build/rule-steps.ts'
import type { Decision, Pin } from '../build/decision.ts'
import { goodsFor, goodsPricer, type GoodsCost } from '../offers/goods-cost.ts'
import type { Snapshot } from '../netting/snapshot.ts'
import { gatherSupplies, isOnOrder, supplyId } from '../netting/supplies.ts'
import { tally } from '../netting/count.ts'
import { type Tally, type TallyLine } from '../netting/tally.ts'

/** A house rule relaxed: what would change, the pieces short then, and what they would cost loose. */
export type Relaxation = {
  readonly label: string
  readonly change: Partial<Rules>
  readonly short: number
  /** Minor units that the goods for the shortfall would cost less; goods alone, of what is on offer. */
  readonly saved: number
}

const withRules = (snapshot: Snapshot, change: Partial<Rules>): Snapshot => ({
  ...snapshot,
  build: { ...snapshot.build, rules: { ...snapshot.build.rules, ...change } },
})

/** What the pieces short would cost loose, under the rules of a snapshot. */
function looseCost({ market, build }: Snapshot, result: Tally): GoodsCost {
  if (!market) return { cost: 0, unavailable: result.coverage.short }
  return goodsFor(result.shortfall, goodsPricer(market.offers, market.shops, build.currency, build.rules))
}

/**
 * The price of every house rule in pieces and money: each rule relaxed by itself, the design tallied again, those that
 * leave fewer pieces short, the most telling first. One tally per rule that can be relaxed.
 */
export function relaxations(
  snapshot: Snapshot,
  result: Tally,
  onStep?: () => void,
  planner = newPlanner(),
): Relaxation[] {
  if (result.coverage.short === 0) return []
  const now = looseCost(snapshot, result)
  return looserSteps(snapshot.build.rules)
    .map(({ label, change }) => {
      const relaxed = withRules(snapshot, change)
      const then = tally(relaxed, planner)
      onStep?.()
      return { label, change, short: then.coverage.short, saved: Math.max(0, now.cost - looseCost(relaxed, then).cost) }
    })
    .filter((r) => r.short < result.coverage.short)
    .sort((p, q) => p.short - q.short || q.saved - p.saved)
}

/** Something that would leave fewer pieces short, with what it changes. */
export type Remedy = {
  readonly change:
    | { readonly kind: 'rule'; readonly label: string; readonly rules: Partial<Rules> }
    /** Lines whose colour is set free, or may be near. */
    | {
        readonly kind: 'freedom'
        readonly freedom: 'near' | 'free'
        readonly family: Family | undefined
        readonly pieces: number
        readonly lines: ReadonlySet<LineId>
      }
    | { readonly kind: 'release'; readonly place: Place }
    /** Left-over pieces in another colour or of another mould, fixed to the line by hand. */
    | {
        readonly kind: 'use'
        readonly item: ItemKey
        readonly qty: number
        /** The same mould in another colour; of another finish even. */
        readonly colour: boolean
        readonly otherFinish: boolean
        readonly pins: readonly Pin[]
      }
    | { readonly kind: 'copy'; readonly set: DonorSet }
  /** Pieces of the whole design, and of the line asked about, short then. */
  readonly short: number
  readonly lineShort: number
}

/** A design with some lines as free in colour as a remedy says. */
export const withFreedom = (
  design: Design,
  { lines, freedom }: Pick<Extract<Remedy['change'], { readonly kind: 'freedom' }>, 'lines' | 'freedom'>,
): Design => withLines(design, (l) => (lines.has(l.id) ? { ...l, freedom } : l))

/** Sets and models tried at most, those that hold most of what is short. */
const MOST_TRIED = 8

/** Left-over pieces that could be fixed to a line: of colours and moulds so many are tried. */
const MOST_USED = 4

/** How well an item would do for a line: the lower the rank the better. */
type Fitness = { readonly rank: number; readonly colour: boolean; readonly otherFinish: boolean }

/** Left-over pieces of an item, with the pins that would fix them to a line. */
type LeftOver = Fitness & { free: number; readonly pins: Pin[] }

/** Pieces that a count draws, by the id of their supply. */
function drawnBySupply(result: Tally): ReadonlyMap<string, number> {
  const drawn = new Map<string, number>()
  for (const { pegs } of result.lines)
    for (const { source, item, qty } of pegs) {
      const id = supplyId({ source, item })
      if (id !== undefined) drawn.set(id, (drawn.get(id) ?? 0) + qty)
    }
  return drawn
}

/** Tells of items whether they are a line's part in another colour, or another mould of its shape in its own. */
function fitnessOf(
  { colourById, parts }: Snapshot,
  line: TallyLine,
  memory: Memory,
): (item: ItemKey) => Fitness | undefined {
  const { part, colour, decoration } = splitItemKey(line.wanted)
  const own = colourById?.get(colour)
  const asked = parts.get(part)
  const mould = asked && memory.of(mouldClass, asked)
  return (item) => {
    const other = splitItemKey(item)
    if (other.decoration !== decoration) return undefined
    if (other.part !== part) {
      const alike = parts.get(other.part)
      const sameMould = mould !== undefined && alike !== undefined && memory.of(mouldClass, alike) === mould
      return other.colour === colour && sameMould ? { rank: 0, colour: false, otherFinish: false } : undefined
    }
    const target = colourById?.get(other.colour)
    if (!own || !target || own.guessed || target.guessed) return { rank: 0, colour: true, otherFinish: false }
    const otherFinish = own.finish !== target.finish
    const distance = ciede2000(hexToLab(own.hex), hexToLab(target.hex))
    return { rank: (otherFinish ? 1000 : 0) + distance, colour: true, otherFinish }
  }
}

/** Pieces nobody uses that are the line's part in another colour, or another mould of its shape: same finish first. */
function leftOverFor(
  snapshot: Snapshot,
  result: Tally,
  line: TallyLine,
  memory: Memory,
): Extract<Remedy['change'], { kind: 'use' }>[] {
  const drawn = drawnBySupply(result)
  const fits = fitnessOf(snapshot, line, memory)
  const found = new Map<ItemKey, LeftOver>()
  for (const supply of gatherSupplies(snapshot, memory)) {
    const { item, source } = supply
    if (item === line.wanted || isOnOrder(source) || (source.kind !== 'copy' && source.kind !== 'shelf')) continue
    const free = supply.qty - (drawn.get(supplyId(supply) ?? '') ?? 0)
    const fit = free > 0 ? fits(item) : undefined
    if (!fit) continue
    const entry = found.get(item) ?? { ...fit, free: 0, pins: [] }
    const open = line.coverage.short - entry.free
    if (open > 0)
      entry.pins.push({
        kind: 'pin',
        line: line.line,
        qty: Math.min(open, free),
        source:
          source.kind === 'copy'
            ? { kind: 'copy', copy: source.copy, stage: source.stage, item }
            : { kind: 'shelf', holding: source.holding, item },
      })
    entry.free += free
    found.set(item, entry)
  }
  return [...found]
    .sort(([, p], [, q]) => p.rank - q.rank)
    .slice(0, MOST_USED)
    .map(([item, { pins, colour: sameMould, otherFinish }]) => ({
      kind: 'use',
      item,
      pins,
      qty: pins.reduce((n, p) => n + p.qty, 0),
      colour: sameMould,
      otherFinish,
    }))
}

/**
 * What would help a short line, and nothing that does not: left-over pieces in other colours or moulds first, then by
 * what is most telling for it: its colour set free or near, the colour of all hidden pieces of its family set free,
 * models taken apart, one more copy of a set, house rules relaxed. Each is tried by tallying the design again. Buying is
 * always one more way, which no tally can tell.
 */
export function remedies(
  snapshot: Snapshot,
  result: Tally,
  line: LineId,
  onStep?: () => void,
  planner = newPlanner(),
): Remedy[] {
  const { build, design, parts, sets, places, holdings } = snapshot
  const shortOf = (t: Tally) => t.lines.reduce((n, l) => n + (l.line === line ? l.coverage.short : 0), 0)
  const lineNow = shortOf(result)
  const found: Remedy[] = []
  const trial = (change: Remedy['change'], changed: Snapshot) => {
    const then = tally(changed, planner)
    onStep?.()
    const remedy = { change, short: then.coverage.short, lineShort: shortOf(then) }
    if (remedy.lineShort < lineNow) found.push(remedy)
  }
  const shortest = result.lines.find((l) => l.line === line && l.coverage.short > 0)
  for (const change of shortest ? leftOverFor(snapshot, result, shortest, planner.memory) : [])
    trial(change, {
      ...snapshot,
      decisions: [
        ...(snapshot.decisions ?? []),
        ...change.pins.map((what, i): Decision => ({ id: `d-trial-${i}` as DecisionId, build: build.id, what })),
      ],
    })
  const need = new Map<LineId, number>()
  for (const l of result.lines) need.set(l.line, (need.get(l.line) ?? 0) + l.need)
  const freed = (freedom: 'near' | 'free', family: Family | undefined, which: (l: DesignLine) => boolean) => {
    const lines = new Set<LineId>()
    let pieces = 0
    for (const l of design.modules.flatMap((m) => m.lines)) {
      if (l.freedom === freedom || !which(l)) continue
      lines.add(l.id)
      pieces += need.get(l.id) ?? 0
    }
    if (pieces === 0) return
    const change = { kind: 'freedom', freedom, family, pieces, lines } as const
    trial(change, { ...snapshot, design: withFreedom(design, change) })
  }
  const own = design.modules.flatMap((m) => m.lines).find((l) => l.id === line)
  const familyOf = (l: DesignLine) => parts.get(splitItemKey(l.item).part)?.shape.family
  const family = own && familyOf(own)
  freed('near', undefined, (l) => l.id === line)
  freed('free', undefined, (l) => l.id === line)
  if (family) freed('free', family, (l) => l.visibility === 'hidden' && familyOf(l) === family)
  for (const { label, change } of looserSteps(build.rules))
    trial({ kind: 'rule', label, rules: change }, withRules(snapshot, change))

  const holds = (pieces: readonly { readonly item: ItemKey; readonly qty: number }[]) =>
    pieces.reduce((n, { item, qty }) => n + Math.min(qty, result.shortfall.get(item) ?? 0), 0)
  if (build.rules.sources !== 'donors') {
    const states = placeStates(places)
    const inModel = new Map<Place, { item: ItemKey; qty: number }[]>()
    for (const holding of holdings) {
      const state = states.get(holding.place)
      if (state?.kind !== 'model' || state.released) continue
      inModel.set(state.model, [...(inModel.get(state.model) ?? []), holding])
    }
    for (const [place] of [...inModel]
      .map(([place, pieces]) => [place, holds(pieces)] as const)
      .filter(([, n]) => n > 0)
      .sort((p, q) => q[1] - p[1])
      .slice(0, MOST_TRIED))
      trial(
        { kind: 'release', place },
        { ...snapshot, places: places.map((p) => (p.id === place.id ? { ...p, released: true } : p)) },
      )
  }
  const more = (setId: SetId): Copy => ({
    id: 'y-one-more' as CopyId,
    setId,
    label: 'One more',
    buildId: build.id,
    state: 'owned',
    stages: 'all',
    spares: true,
    missing: [],
  })
  for (const [set] of sets
    .map((set) => [set, holds(set.lines)] as const)
    .filter(([, n]) => n > 0)
    .sort((p, q) => q[1] - p[1])
    .slice(0, MOST_TRIED))
    trial({ kind: 'copy', set }, { ...snapshot, copies: [...snapshot.copies, more(set.id)] })
  const first = (r: Remedy) => (r.change.kind === 'use' ? 0 : 1)
  return found.sort((p, q) => first(p) - first(q) || p.lineShort - q.lineShort || p.short - q.short)
}
