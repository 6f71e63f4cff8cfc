import { splitItemKey, type ItemKey } from '../catalogue/item.ts'
import type { Part } from '../catalogue/part.ts'
import type { Colour } from '../colours/colour.ts'
import { explode, type ExplodeOptions, type Requirement } from '../design/explode.ts'
import type { Design, Visibility } from '../design/design.ts'
import { inColour } from '../design/recolour.ts'
import { copyContents } from '../donors/copy-contents.ts'
import type { Copy, DonorSet } from '../donors/donor-set.ts'
import type { Accept, Assignment, NettingSupply } from '../netting/problem.ts'
import { solveNetting } from '../netting/solve.ts'
import { verifyNetting } from '../netting/verify.ts'
import { freeFor, type Holding } from '../shelf/holding.ts'
import type { Place } from '../shelf/place.ts'
import { placeStates, type PlaceState } from '../shelf/place-state.ts'
import { CONDITIONS, type Condition } from '../units/condition.ts'
import type { ColourId, CopyId, HoldingId, LineId, ModuleId, PartId, PlaceId } from '../units/ids.ts'
import type { Build } from './build.ts'
import {
  candidates,
  lengthOf,
  mayCut,
  POINTS,
  stockOf,
  wishKey,
  wishOf,
  type Candidate,
  type StandInKind,
  type Wish,
} from './stand-ins.ts'

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
  /** Known colours, for near ones; no colour is near another when left out. */
  readonly colourById?: ReadonlyMap<ColourId, Colour>
  /** Items that shops are known to sell; none known when left out. */
  readonly offered?: ReadonlySet<ItemKey>
  /** Which of the uncertain quantities, ideas for later, another colourway. */
  readonly explosion?: Omit<ExplodeOptions, 'parts'>
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
  /** Finished models that are the module. */
  | { readonly kind: 'built'; readonly places: readonly PlaceId[] }

/** Pieces drawn from a supply for a line; `item` is what is drawn, `standIn` why it is not the item asked for. */
export type TallyPeg = {
  readonly source: SupplySource
  readonly item: ItemKey
  readonly qty: number
  readonly standIn?: StandInKind
}

export type TallyLine = {
  /** Unique: a line occurs in every place of its module. */
  readonly id: string
  readonly line: LineId
  readonly module: ModuleId
  /** Modules around it, the outermost first. */
  readonly path: readonly ModuleId[]
  /** As drawn, mirrored and recoloured. */
  readonly item: ItemKey
  /** What is wanted: the item, in the colour its group took. */
  readonly wanted: ItemKey
  readonly group: string | undefined
  readonly visibility: Visibility
  readonly each: number
  readonly need: number
  readonly coverage: Coverage
  readonly pegs: readonly TallyPeg[]
  /** True when a peg rests on an estimated holding. */
  readonly estimate: boolean
  /** Short pieces for which a stand-in is at hand until they arrive. */
  readonly meanwhile: { readonly item: ItemKey; readonly qty: number } | undefined
}

/** Pieces of one item that a vendor prints to order: at least its minimum run is paid. */
export type PrintRun = {
  readonly item: ItemKey
  readonly vendor: string
  readonly qty: number
  readonly minRun: number
  /** Minor units for all of them. */
  readonly cost: number
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
  readonly shortLines: readonly (Wish & { readonly key: string; readonly qty: number })[]
  /** Points of compromise of all stand-ins. */
  readonly compromise: number
  /** Custom prints that the cover calls for, beside the runs. */
  readonly prints: number
  readonly printRuns: readonly PrintRun[]
  /** The colour each coherent group took. */
  readonly groups: ReadonlyMap<string, ColourId>
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
  /** A sticker that is no longer as new. */
  readonly applied?: boolean
}
type Variant = Pick<Supply, 'hiddenOnly' | 'donor' | 'length' | 'applied'> & { readonly key: string }

/**
 * Nets a build: gross requirements against donor copies, then the shelf, released models and what is on order, as the
 * build's rules allow, exact pieces before stand-ins. Optimal over all lines at once: fewest short, least compromise,
 * preferred sources. The cover is verified before it is returned; a fault there is a bug and throws.
 */
export function tally(snapshot: Snapshot): Tally {
  const requirements = explode(snapshot.design, { parts: snapshot.parts, ...snapshot.explosion })
  const supplies = gatherSupplies(snapshot)
  const supplyById = new Map(supplies.map((s) => [s.id, s]))
  const acceptsOf = acceptFinder(snapshot, supplies)
  const wishes = new Map(requirements.map((r) => [r.id, wishOf(r)]))
  const optionsOf = (r: Requirement) => acceptsOf(wishes.get(r.id) ?? wishOf(r))
  const problem = {
    lines: requirements.map((r) => ({
      id: r.id,
      qty: r.qty - r.built,
      accepts: optionsOf(r).accepts,
      group: r.source.group,
    })),
    supplies: supplies.map((s): NettingSupply => ({ id: s.id, item: variantKey(s), qty: s.qty, rank: s.rank })),
  }
  const netting = solveNetting(problem)
  const faults = verifyNetting(problem, netting)
  if (faults.length > 0) throw new Error(`the netting does not hold: ${faults[0]}`)
  const groups = new Map((netting.schemes ?? []).map((s) => [s.group, s.scheme as ColourId]))

  const assigned = new Map<string, Assignment[]>()
  const drawn = new Map<string, number>()
  for (const assignment of netting.assignments) {
    const list = assigned.get(assignment.line)
    if (list) list.push(assignment)
    else assigned.set(assignment.line, [assignment])
    for (const { supply, qty } of assignment.pegs) drawn.set(supply, (drawn.get(supply) ?? 0) + qty)
  }
  const spareOf = spareFinder(supplies, drawn)

  let coverage = NO_COVERAGE
  let estimated = 0
  let compromise = 0
  let prints = 0
  const byModule = new Map<ModuleId, Coverage>()
  const shortfall = new Map<ItemKey, number>()
  const shortLines = new Map<string, Tally['shortLines'][number]>()
  const runs = new Map<string, Omit<PrintRun, 'cost'> & { price: number }>()
  const lines = requirements.map((r): TallyLine => {
    const wish = wishes.get(r.id) ?? wishOf(r)
    const { meaning } = optionsOf(r)
    const pegs: TallyPeg[] = []
    const count = { donor: 0, shelf: r.built, standIn: 0, onOrder: 0 }
    if (r.built > 0) pegs.push({ source: { kind: 'built', places: r.models }, item: r.item, qty: r.built })
    let covered = r.built
    let guessed = 0
    let printed = 0
    for (const { accept, qty, pegs: taken } of assigned.get(r.id) ?? []) {
      const { kind, points } = meaning.get(accept) ?? { kind: 'exact', points: 0 }
      covered += qty
      compromise += points * qty
      if (kind === 'print') printed += qty
      let late = 0
      for (const peg of taken) {
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
    for (const module of r.path) byModule.set(module, addCoverage(byModule.get(module) ?? NO_COVERAGE, lineCoverage))
    const colour = wish.group === undefined ? undefined : groups.get(wish.group)
    const wanted = colour === undefined ? r.item : inColour(r.item, colour)
    const { print, meanwhile } = r.source
    if (print) {
      const key = `${print.vendor}\n${wanted}`
      const before = runs.get(key)
      if (printed + short > 0) runs.set(key, { item: wanted, ...print, qty: (before?.qty ?? 0) + printed + short })
    } else prints += printed
    if (short > 0) {
      shortfall.set(wanted, (shortfall.get(wanted) ?? 0) + short)
      // A group has chosen its colour: what is bought for it must have that one.
      const { group, ...bare } = wish
      const settled: Wish = group === undefined ? wish : { ...bare, item: wanted, freedom: 'exact' }
      const key = wishKey(settled)
      shortLines.set(key, { ...settled, key, qty: (shortLines.get(key)?.qty ?? 0) + short })
    }
    return {
      id: r.id,
      line: r.line,
      module: r.module,
      path: r.path,
      item: r.item,
      wanted,
      group: wish.group,
      visibility: wish.visibility,
      each: r.each,
      need: r.qty,
      coverage: lineCoverage,
      pegs,
      estimate: guessed > 0,
      meanwhile: meanwhile && short > 0 ? spareOf(meanwhile, short) : undefined,
    }
  })
  return {
    lines,
    coverage,
    byModule,
    shortfall,
    estimated,
    need: requirements.reduce((sum, r) => sum + r.qty, 0),
    shortLines: [...shortLines.values()],
    compromise,
    prints,
    printRuns: [...runs.values()].map(({ price, ...run }) => ({ ...run, cost: price * Math.max(run.qty, run.minRun) })),
    groups,
    proven: netting.proven,
  }
}

/** Hands out what the cover has left over of an item, each piece once. */
function spareFinder(supplies: readonly Supply[], drawn: ReadonlyMap<string, number>) {
  const left = new Map<ItemKey, number>()
  for (const { id, item, qty, source } of supplies)
    if (!isOnOrder(source)) left.set(item, (left.get(item) ?? 0) + qty - (drawn.get(id) ?? 0))
  return (item: ItemKey, wanted: number): TallyLine['meanwhile'] => {
    const qty = Math.min(wanted, left.get(item) ?? 0)
    left.set(item, (left.get(item) ?? 0) - qty)
    return qty > 0 ? { item, qty } : undefined
  }
}

const isOnOrder = (source: SupplySource): boolean =>
  source.kind === 'copy' ? source.promised : source.kind === 'shelf' && source.state.kind === 'post'

function variantKey({ item, hiddenOnly, donor, length, applied }: Omit<Variant, 'key'> & { item: ItemKey }) {
  return `${item}\n${hiddenOnly ? 'h' : ''}${donor ? 'd' : ''}${applied ? 'a' : ''}${length ?? ''}`
}

/** The options of a line, by its wish, as the rules allow and supplies exist; kept once found. */
function acceptFinder(snapshot: Snapshot, supplies: readonly Supply[]) {
  const { build, parts, offered, colourById } = snapshot
  const { rules } = build
  const variants = new Map<ItemKey, Map<string, Variant>>()
  const totals = new Map<ItemKey, number>()
  for (const supply of supplies) {
    const key = variantKey(supply)
    const known = variants.get(supply.item) ?? new Map<string, Variant>()
    known.set(key, { ...supply, key })
    variants.set(supply.item, known)
    totals.set(supply.item, (totals.get(supply.item) ?? 0) + supply.qty)
  }
  const stock = stockOf(totals, parts, colourById)
  type Meaning = { readonly kind: StandInKind | 'exact'; readonly points: number }
  const kept = new Map<string, { accepts: Accept[]; meaning: Map<string, Meaning> }>()

  return (wish: Wish) => {
    const { item, visibility } = wish
    const name = wishKey(wish)
    const before = kept.get(name)
    if (before) return before
    const accepts: Accept[] = []
    const meaning = new Map<string, Meaning>()
    const part = parts.get(splitItemKey(item).part)
    const needed = wish.length ?? lengthOf(part)
    // Who would rather buy than compromise uses a stand-in only for what no shop sells.
    const exactOnly =
      rules.aim === 'least compromise' && rules.sources === 'donors, shelf and shops' && (offered?.has(item) ?? false)
    for (const candidate of candidates(wish, rules, stock)) {
      if (exactOnly && candidate.kind !== 'exact') continue
      const choices = candidate.uses.map((use) => draws([...(variants.get(use.item)?.values() ?? [])], use.qty))
      for (const combination of combine(choices)) {
        const used = combination.flat()
        if (used.some(({ variant: v }) => (v.hiddenOnly && visibility !== 'hidden') || (v.applied && wish.unused)))
          continue
        let { kind, points }: Meaning = candidate
        const length =
          used[0]?.variant.length ?? lengthOf(parts.get(splitItemKey(candidate.uses[0]?.item ?? item).part))
        if (needed !== undefined && length !== undefined && length !== needed) {
          if (length < needed || !mayCut(part, rules.altering)) continue
          if (kind === 'exact') [kind, points] = ['length', POINTS.length]
        }
        const id = `${kind}\n${used.map(({ variant, qty }) => `${qty} ${variant.key}`).join('\n')}`
        const scheme = schemeOf(wish, candidate)
        if (meaning.has(id)) continue
        meaning.set(id, { kind, points })
        const outside = rules.aim === 'use up the donors' && !used.every(({ variant }) => variant.donor)
        accepts.push({
          id,
          uses: used.map(({ variant, qty }) => ({ item: variant.key, qty })),
          compromise: points + (outside ? ABOVE_ALL : 0),
          ...(scheme === undefined ? {} : { scheme }),
        })
      }
    }
    const found = { accepts, meaning }
    kept.set(name, found)
    return found
  }
}

/** The colour that an option of a coherent group's line puts it in. */
function schemeOf({ group, item }: Wish, { kind, uses }: Candidate): ColourId | undefined {
  if (group === undefined) return undefined
  const [use] = uses
  return splitItemKey(kind === 'exact' || kind === 'colour' || kind === 'mould' ? (use?.item ?? item) : item).colour
}

/** Every choice of one of each. */
function combine<T>(lists: readonly (readonly T[])[]): T[][] {
  return lists.reduce<T[][]>((made, list) => made.flatMap((m) => list.map((one) => [...m, one])), [[]])
}

type Draw = { readonly variant: Variant; readonly qty: number }

/** Every way to draw so many pieces from the variants of an item; of more than a few pieces all from one variant. */
function draws(variants: readonly Variant[], qty: number): Draw[][] {
  const [variant, ...rest] = variants
  if (!variant || qty === 0) return qty === 0 ? [[]] : []
  if (rest.length === 0) return [[{ variant, qty }]]
  if (qty > MIXED_DRAWS) return variants.map((v) => [{ variant: v, qty }])
  return Array.from({ length: qty + 1 }, (_, n) => n).flatMap((n) =>
    draws(rest, qty - n).map((more) => [...(n > 0 ? [{ variant, qty: n }] : []), ...more]),
  )
}
const MIXED_DRAWS = 6

const isStickerItem = (item: ItemKey, parts: ReadonlyMap<PartId, Part>): boolean =>
  (parts.get(splitItemKey(item).part)?.shape.family ?? 'unknown').startsWith('sticker')

function gatherSupplies(snapshot: Snapshot): Supply[] {
  const { build, sets, copies, holdings, places, parts } = snapshot
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
  const used = new Set(snapshot.design.modules.flatMap((m) => m.built ?? []))
  for (const holding of holdings) {
    const where = allowed(holding.condition)
    const state = states.get(holding.place) ?? { kind: 'loose' }
    if (!where || (state.kind === 'model' && (!state.released || used.has(state.model.id)))) continue
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
      ...(isStickerItem(holding.item, parts) && holding.condition !== 'new' ? { applied: true } : {}),
    })
  }
  return supplies
}
