import type { ItemKey } from '../catalogue/item.ts'
import { explode, type Requirement } from '../design/explode.ts'
import type { Visibility } from '../design/design.ts'
import { inColour } from '../design/recolour.ts'
import type { Assignment, NettingSupply } from '../netting/problem.ts'
import { solveNetting } from '../netting/solve.ts'
import { verifyNetting } from '../netting/verify.ts'
import type { ColourId, LineId, ModuleId } from '../units/ids.ts'
import { optionFinder, variantKey } from './line-options.ts'
import type { Snapshot } from './snapshot.ts'
import { wishKey, wishOf, type StandInKind, type Wish } from './stand-ins.ts'
import { gatherSupplies, isOnOrder, type Supply, type SupplySource } from './supplies.ts'

/** Pieces by where they come from; the segments of a coverage strip. */
export type Coverage = {
  readonly donor: number
  readonly shelf: number
  readonly standIn: number
  readonly onOrder: number
  readonly short: number
}

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

/**
 * Nets a build: gross requirements against donor copies, then the shelf, released models and what is on order, as the
 * build's rules allow, exact pieces before stand-ins. Optimal over all lines at once: fewest short, least compromise,
 * preferred sources. The cover is verified before it is returned; a fault there is a bug and throws.
 */
export function tally(snapshot: Snapshot): Tally {
  const requirements = explode(snapshot.design, { parts: snapshot.parts, ...snapshot.explosion })
  const supplies = gatherSupplies(snapshot)
  const supplyById = new Map(supplies.map((s) => [s.id, s]))
  const optionsFor = optionFinder(snapshot, supplies)
  const wishes = new Map(requirements.map((r) => [r.id, wishOf(r)]))
  const optionsOf = (r: Requirement) => optionsFor(wishes.get(r.id) ?? wishOf(r))
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
