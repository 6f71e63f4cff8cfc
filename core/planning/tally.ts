import { splitItemKey, type ItemKey } from '../catalogue/item.ts'
import type { Part } from '../catalogue/part.ts'
import { explode } from '../design/explode.ts'
import type { Design, Visibility } from '../design/design.ts'
import { copyContents } from '../donors/copy-contents.ts'
import type { Copy, DonorSet } from '../donors/donor-set.ts'
import type { Accept, NettingSupply } from '../netting/problem.ts'
import { solveNetting } from '../netting/solve.ts'
import { verifyNetting } from '../netting/verify.ts'
import { freeFor, type Holding } from '../shelf/holding.ts'
import type { Place } from '../shelf/place.ts'
import { placeStates, type PlaceState } from '../shelf/place-state.ts'
import { CONDITIONS, type Condition } from '../units/condition.ts'
import type { CopyId, HoldingId, LineId, ModuleId, PartId, PlaceId } from '../units/ids.ts'
import type { Build } from './build.ts'
import { candidates, lengthOf, mayCut, POINTS, stockOf, type StandInKind } from './stand-ins.ts'

/** Everything one build's tally depends on. */
export type Snapshot = {
  readonly build: Build
  readonly design: Design
  readonly sets: readonly DonorSet[]
  /** Copies that serve this build. */
  readonly copies: readonly Copy[]
  readonly holdings: readonly Holding[]
  readonly places: readonly Place[]
  readonly parts: ReadonlyMap<PartId, Part>
  /** Items that shops are known to sell; none known when left out. */
  readonly offered?: ReadonlySet<ItemKey>
}

/** Pieces by where they come from; the segments of a coverage strip. */
export type Coverage = {
  readonly donor: number
  readonly shelf: number
  readonly standIn: number
  readonly onOrder: number
  readonly short: number
}

export type SupplySource =
  | { readonly kind: 'copy'; readonly copy: CopyId; readonly stage: string; readonly promised: boolean }
  | {
      readonly kind: 'shelf'
      readonly holding: HoldingId
      readonly place: PlaceId
      readonly estimate: boolean
      /** The released model the piece is built into, or that it is still in the post. */
      readonly state: PlaceState
    }

/** Pieces drawn from a supply for a line; `item` is what is drawn, `standIn` why it is not the item asked for. */
export type TallyPeg = {
  readonly source: SupplySource
  readonly item: ItemKey
  readonly qty: number
  readonly standIn?: StandInKind
}

export type TallyLine = {
  readonly line: LineId
  readonly module: ModuleId
  readonly item: ItemKey
  readonly visibility: Visibility
  readonly each: number
  readonly need: number
  readonly coverage: Coverage
  readonly pegs: readonly TallyPeg[]
  /** True when a peg rests on an estimated holding. */
  readonly estimate: boolean
}

export type Tally = {
  readonly lines: readonly TallyLine[]
  readonly coverage: Coverage
  readonly byModule: ReadonlyMap<ModuleId, Coverage>
  /** Short items with their quantities, in design order. */
  readonly shortfall: ReadonlyMap<ItemKey, number>
  /** Pieces of the total that rest on estimates. */
  readonly estimated: number
  readonly need: number
  /** Short pieces by item and where they are seen, for buying stand-ins. */
  readonly shortLines: readonly { readonly item: ItemKey; readonly visibility: Visibility; readonly qty: number }[]
  /** Points of compromise of all stand-ins. */
  readonly compromise: number
  /** Custom prints that the cover calls for. */
  readonly prints: number
  /** True when no other cover of the design is better by the rules. */
  readonly proven: boolean
}

export const NO_COVERAGE: Coverage = { donor: 0, shelf: 0, standIn: 0, onOrder: 0, short: 0 }

export const addCoverage = (p: Coverage, q: Coverage): Coverage => ({
  donor: p.donor + q.donor,
  shelf: p.shelf + q.shelf,
  standIn: p.standIn + q.standIn,
  onOrder: p.onOrder + q.onOrder,
  short: p.short + q.short,
})

export const coveredPieces = (c: Coverage): number => c.donor + c.shelf + c.standIn + c.onOrder

/** Preference of sources: donor boxes, counted pieces, estimates, models to be taken apart, what is not there yet. */
const RANKS = { donor: 0, counted: 1, estimate: 2, model: 3, onOrder: 4 } as const
const SOURCES = Object.keys(RANKS).length

/** Weight that makes any donor piece better than any other, when the aim is to use up the donors. */
const ABOVE_ALL = 10_000

/** What there is to draw from. Supplies of one item differ by what the rules say of them: those form variants. */
type Supply = {
  readonly id: string
  readonly item: ItemKey
  readonly qty: number
  readonly rank: number
  readonly source: SupplySource
  /** Only where it is hidden. */
  readonly hiddenOnly: boolean
  readonly donor: boolean
  /** Length in mm that differs from the name's. */
  readonly length: number | undefined
}
type Variant = Pick<Supply, 'hiddenOnly' | 'donor' | 'length'> & { readonly key: string }

/**
 * Nets a build: gross requirements against donor copies, then the shelf, released models and what is on order, as the
 * build's rules allow, exact pieces before stand-ins. Optimal over all lines at once: fewest short, least compromise,
 * preferred sources. The cover is verified before it is returned; a fault there is a bug and throws.
 */
export function tally(snapshot: Snapshot): Tally {
  const requirements = explode(snapshot.design)
  const visibilityOf = new Map<LineId, Visibility>()
  for (const module of snapshot.design.modules)
    for (const line of module.lines) visibilityOf.set(line.id, line.visibility ?? 'seen')
  const supplies = gatherSupplies(snapshot)
  const supplyById = new Map(supplies.map((s) => [s.id, s]))
  const acceptsOf = acceptFinder(snapshot, supplies)
  const problem = {
    lines: requirements.map((r) => ({
      id: r.line,
      qty: r.qty,
      accepts: acceptsOf(r.item, visibilityOf.get(r.line) ?? 'seen').accepts,
    })),
    supplies: supplies.map((s): NettingSupply => ({ id: s.id, item: variantKey(s), qty: s.qty, rank: s.rank })),
  }
  const netting = solveNetting(problem)
  const faults = verifyNetting(problem, netting)
  if (faults.length > 0) throw new Error(`the netting does not hold: ${faults[0]}`)

  const assigned = new Map<string, (typeof netting.assignments)[number][]>()
  for (const assignment of netting.assignments) {
    const list = assigned.get(assignment.line)
    if (list) list.push(assignment)
    else assigned.set(assignment.line, [assignment])
  }

  let coverage = NO_COVERAGE
  let estimated = 0
  let compromise = 0
  let prints = 0
  const byModule = new Map<ModuleId, Coverage>()
  const shortfall = new Map<ItemKey, number>()
  const shortLines = new Map<string, Tally['shortLines'][number]>()
  const result = requirements.map((r): TallyLine => {
    const visibility = visibilityOf.get(r.line) ?? 'seen'
    const { meaning } = acceptsOf(r.item, visibility)
    const pegs: TallyPeg[] = []
    const count = { donor: 0, shelf: 0, standIn: 0, onOrder: 0 }
    let covered = 0
    let guessed = 0
    for (const { accept, qty, pegs: drawn } of assigned.get(r.line) ?? []) {
      const { kind, points } = meaning.get(accept) ?? { kind: 'exact', points: 0 }
      covered += qty
      compromise += points * qty
      if (kind === 'print') prints += qty
      let late = 0
      for (const peg of drawn) {
        const supply = supplyById.get(peg.supply)
        if (!supply) continue
        const { source, item } = supply
        pegs.push({ source, item, qty: peg.qty, ...(kind === 'exact' ? {} : { standIn: kind }) })
        if (source.kind === 'shelf' && source.estimate) guessed += peg.qty
        if (isOnOrder(source)) late += peg.qty
        if (kind !== 'exact') continue
        if (isOnOrder(source)) count.onOrder += peg.qty
        else count[source.kind === 'copy' ? 'donor' : 'shelf'] += peg.qty
      }
      // A stand-in that has still to arrive is waited for like any other piece.
      if (kind !== 'exact') {
        const waiting = Math.min(qty, late)
        count.onOrder += waiting
        count.standIn += qty - waiting
      }
    }
    const short = r.qty - covered
    const lineCoverage: Coverage = { ...count, short }
    coverage = addCoverage(coverage, lineCoverage)
    estimated += guessed
    byModule.set(r.module, addCoverage(byModule.get(r.module) ?? NO_COVERAGE, lineCoverage))
    if (short > 0) {
      shortfall.set(r.item, (shortfall.get(r.item) ?? 0) + short)
      const key = `${r.item} ${visibility}`
      shortLines.set(key, { item: r.item, visibility, qty: (shortLines.get(key)?.qty ?? 0) + short })
    }
    return {
      line: r.line,
      module: r.module,
      item: r.item,
      visibility,
      each: r.each,
      need: r.qty,
      coverage: lineCoverage,
      pegs,
      estimate: guessed > 0,
    }
  })
  const need = requirements.reduce((sum, r) => sum + r.qty, 0)
  return {
    lines: result,
    coverage,
    byModule,
    shortfall,
    estimated,
    need,
    shortLines: [...shortLines.values()],
    compromise,
    prints,
    proven: netting.proven,
  }
}

const isOnOrder = (source: SupplySource): boolean =>
  source.kind === 'copy' ? source.promised : source.state.kind === 'post'

function variantKey({ item, hiddenOnly, donor, length }: Pick<Supply, 'item' | 'hiddenOnly' | 'donor' | 'length'>) {
  return `${item}\n${hiddenOnly ? 'h' : ''}${donor ? 'd' : ''}${length ?? ''}`
}

/** The options of a line, by its item and where it is seen, as the rules allow and supplies exist; kept once found. */
function acceptFinder(snapshot: Snapshot, supplies: readonly Supply[]) {
  const { build, parts, offered } = snapshot
  const { rules } = build
  const variants = new Map<ItemKey, Map<string, Variant>>()
  const totals = new Map<ItemKey, number>()
  for (const supply of supplies) {
    const key = variantKey(supply)
    const known = variants.get(supply.item) ?? new Map<string, Variant>()
    known.set(key, { key, hiddenOnly: supply.hiddenOnly, donor: supply.donor, length: supply.length })
    variants.set(supply.item, known)
    totals.set(supply.item, (totals.get(supply.item) ?? 0) + supply.qty)
  }
  const stock = stockOf(totals, parts)
  type Meaning = { readonly kind: StandInKind | 'exact'; readonly points: number }
  const kept = new Map<string, { accepts: Accept[]; meaning: Map<string, Meaning> }>()

  return (item: ItemKey, visibility: Visibility) => {
    const name = `${item} ${visibility}`
    const before = kept.get(name)
    if (before) return before
    const accepts: Accept[] = []
    const meaning = new Map<string, Meaning>()
    const part = parts.get(splitItemKey(item).part)
    const needed = lengthOf(part)
    // Who would rather buy than compromise uses a stand-in only for what no shop sells.
    const exactOnly =
      rules.aim === 'least compromise' && rules.sources === 'donors, shelf and shops' && (offered?.has(item) ?? false)
    for (const candidate of candidates(item, visibility, rules, stock)) {
      if (exactOnly && candidate.kind !== 'exact') continue
      for (const combination of combine(candidate.items.map((i) => [...(variants.get(i)?.values() ?? [])]))) {
        if (combination.some((v) => v.hiddenOnly && visibility !== 'hidden')) continue
        let { kind, points }: Meaning = candidate
        const length = combination[0]?.length
        if (needed !== undefined && length !== undefined && length !== needed) {
          if (length < needed || !mayCut(part, rules.altering)) continue
          if (kind === 'exact') [kind, points] = ['length', POINTS.length]
        }
        const id = `${kind}\n${combination.map((v) => v.key).join('\n')}`
        meaning.set(id, { kind, points })
        const outside = rules.aim === 'use up the donors' && !combination.every((v) => v.donor)
        accepts.push({
          id,
          uses: combination.map((v) => ({ item: v.key, qty: 1 })),
          compromise: points + (outside ? ABOVE_ALL : 0),
        })
      }
    }
    const found = { accepts, meaning }
    kept.set(name, found)
    return found
  }
}

/** Every choice of one of each. */
function combine<T>(lists: readonly (readonly T[])[]): T[][] {
  return lists.reduce<T[][]>((made, list) => made.flatMap((m) => list.map((one) => [...m, one])), [[]])
}

function gatherSupplies(snapshot: Snapshot): Supply[] {
  const { build, sets, copies, holdings, places } = snapshot
  const { rules } = build
  const supplies: Supply[] = []
  const setById = new Map(sets.map((s) => [s.id, s]))
  const worst = CONDITIONS.indexOf(rules.condition)
  /** Whether a condition may be used: everywhere, only where hidden, or not at all. */
  const allowed = (condition: Condition | undefined): 'seen' | 'hidden' | undefined => {
    if (condition === undefined || CONDITIONS.indexOf(condition) <= worst) return 'seen'
    return rules.wornHidden ? 'hidden' : undefined
  }
  const rankOf = (source: keyof typeof RANKS, condition: Condition) =>
    RANKS[source] + (rules.aim === 'least compromise' ? CONDITIONS.indexOf(condition) * SOURCES : 0)
  const donorsFirst = rules.aim === 'use up the donors'
  for (const copy of copies) {
    const set = setById.get(copy.setId)
    const where = allowed(copy.condition)
    if (!set || copy.state === 'to-buy' || !where) continue
    const promised = copy.state === 'promised'
    for (const { stage, item, qty } of copyContents(set, copy))
      supplies.push({
        id: `${copy.id}\n${stage}\n${item}`,
        item,
        qty,
        rank: rankOf(promised ? 'onOrder' : 'donor', copy.condition ?? 'used'),
        source: { kind: 'copy', copy: copy.id, stage, promised },
        hiddenOnly: where === 'hidden',
        donor: donorsFirst,
        length: undefined,
      })
  }
  if (rules.sources === 'donors') return supplies
  const states = placeStates(places)
  for (const holding of holdings) {
    const where = allowed(holding.condition)
    const state = states.get(holding.place) ?? { kind: 'loose' }
    if (!where || (state.kind === 'model' && !state.released)) continue
    const qty = freeFor(holding, build.id, rules.estimatePercent)
    if (qty === 0) continue
    const kind = { loose: holding.estimate ? 'estimate' : 'counted', model: 'model', post: 'onOrder' } as const
    supplies.push({
      id: holding.id,
      item: holding.item,
      qty,
      rank: rankOf(kind[state.kind], holding.condition),
      source: { kind: 'shelf', holding: holding.id, place: holding.place, estimate: holding.estimate, state },
      hiddenOnly: where === 'hidden',
      donor: false,
      length: holding.length,
    })
  }
  return supplies
}
