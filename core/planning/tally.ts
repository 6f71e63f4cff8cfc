import type { ItemKey } from '../catalogue/item.ts'
import type { Visibility } from '../design/design.ts'
import { inColour } from '../design/recolour.ts'
import type { Assignment } from '../netting/problem.ts'
import { solveNetting } from '../netting/solve.ts'
import { verifyNetting } from '../netting/verify.ts'
import type { ColourId, LineId, ModuleId } from '../units/ids.ts'
import type { Meaning } from './line-options.ts'
import { isBuying, nettingTask, type NettingTask, type PinOutcome } from './netting-task.ts'
import type { Snapshot } from './snapshot.ts'
import { usesKey } from './decision.ts'
import { settledWish, wishKey, wishOf, type StandInKind, type Wish } from './stand-ins.ts'
import { isOnOrder, type Lot, type Supply, type SupplySource } from './supplies.ts'

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
  /** Points of compromise per required piece, and all that serves for one, of a stand-in. */
  readonly points?: number
  readonly uses?: Meaning['uses']
  /** Fixed by hand; or a stand-in that the user finds as good. */
  readonly by?: 'pin' | 'acceptance'
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
  /** Short pieces that buying serves better than the stand-ins there are, at what a point of compromise is worth. */
  readonly rather: number
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
  /** True when no other cover of the design is better by the rules, given the pins. */
  readonly proven: boolean
  /** Short pieces that are bought rather than replaced by a stand-in. */
  readonly rather: number
  /** Whether compromise was weighed against prices. */
  readonly weighed: boolean
  /** What became of every pin. */
  readonly pins: readonly PinOutcome[]
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
 * build's rules and the user's decisions allow, exact pieces before stand-ins. Optimal over all lines at once: fewest
 * short, least compromise (weighed against prices where pieces may be bought and spending counts), preferred sources.
 * The cover is verified before it is returned; a fault there is a bug and throws.
 */
export function tally(snapshot: Snapshot): Tally {
  const task = nettingTask(snapshot)
  const { requirements, problem, pinned } = task
  const netting = solveNetting(problem, { milp: snapshot.milp })
  const faults = verifyNetting(problem, netting)
  if (faults.length > 0) throw new Error(`the netting does not hold: ${faults[0]}`)
  const groups = new Map((netting.schemes ?? []).map((s) => [s.group, s.scheme as ColourId]))

  const assigned = new Map<string, Assignment[]>()
  const rather = new Map<string, number>()
  for (const assignment of netting.assignments) {
    if (isBuying(assignment.accept)) {
      rather.set(assignment.line, (rather.get(assignment.line) ?? 0) + assignment.qty)
      continue
    }
    const list = assigned.get(assignment.line)
    if (list) list.push(assignment)
    else assigned.set(assignment.line, [assignment])
  }
  const draw = supplyDrawer(task)

  /** By module; of the whole design under the empty name. */
  const sums = new Map<ModuleId | '', { -readonly [K in keyof Coverage]: number }>()
  let estimated = 0
  let compromise = 0
  let prints = 0
  const shortfall = new Map<ItemKey, number>()
  const shortLines = new Map<string, Tally['shortLines'][number]>()
  const runs = new Map<string, Omit<PrintRun, 'cost'> & { price: number }>()
  const lines = requirements.map((r, i): TallyLine => {
    const wish = task.wishes[i] ?? wishOf(r)
    const pegs: TallyPeg[] = []
    const count = { donor: 0, shelf: r.built, standIn: 0, onOrder: 0 }
    if (r.built > 0) pegs.push({ source: { kind: 'built', places: r.models }, item: r.item, qty: r.built })
    let covered = r.built
    let guessed = 0
    let printed = 0
    const book = (
      { kind, points, uses }: Meaning,
      qty: number,
      taken: readonly { readonly supply: Supply; readonly qty: number }[],
      by?: TallyPeg['by'],
    ) => {
      covered += qty
      compromise += points * qty
      if (kind === 'print') printed += qty
      let late = 0
      for (const { supply, qty: pieces } of taken) {
        const { source, item } = supply
        if (kind !== 'exact') pegs.push({ source, item, qty: pieces, standIn: kind, points, uses, ...(by && { by }) })
        else if (by) pegs.push({ source, item, qty: pieces, by })
        else pegs.push({ source, item, qty: pieces })
        if (source.kind === 'shelf' && source.estimate) guessed += pieces
        if (isOnOrder(source)) late += pieces
        if (kind !== 'exact') continue
        if (isOnOrder(source)) count.onOrder += pieces
        else count[source.kind === 'copy' ? 'donor' : 'shelf'] += pieces
      }
      // A stand-in that has still to arrive is waited for like any other piece.
      if (kind !== 'exact') {
        const waiting = Math.min(qty, late)
        count.onOrder += waiting
        count.standIn += qty - waiting
      }
    }
    const own = task.settled.get(r.id)
    if (own && r.qty > r.built) book(EXACT, r.qty - r.built, draw.inOrder(own, r.qty - r.built))
    for (const { supply, qty, meaning } of pinned.get(r.id) ?? []) book(meaning, qty, [{ supply, qty }], 'pin')
    for (const { accept, qty, pegs: taken } of assigned.get(r.id) ?? []) {
      const meaning = task.meaningOf(i, accept)
      const drawnFrom = taken.flatMap((peg) => draw.from(peg.supply, peg.qty))
      const accepted = wish.accepted?.includes(usesKey(meaning.uses)) ?? false
      book(meaning, qty, drawnFrom, accepted && meaning.kind !== 'exact' ? 'acceptance' : undefined)
    }
    const short = r.qty - covered
    const lineCoverage: Coverage = { ...count, short }
    estimated += guessed
    for (const part of ['' as const, ...r.path]) {
      let sum = sums.get(part)
      if (!sum) sums.set(part, (sum = { ...NO_COVERAGE }))
      sum.donor += count.donor
      sum.shelf += count.shelf
      sum.standIn += count.standIn
      sum.onOrder += count.onOrder
      sum.short += short
    }
    const colour = wish.group === undefined ? undefined : groups.get(wish.group)
    const wanted = colour === undefined ? r.item : inColour(r.item, colour)
    const { print } = r.source
    if (print) {
      const key = `${print.vendor}\n${wanted}`
      const before = runs.get(key)
      if (printed + short > 0) runs.set(key, { item: wanted, ...print, qty: (before?.qty ?? 0) + printed + short })
    } else prints += printed
    if (short > 0) {
      shortfall.set(wanted, (shortfall.get(wanted) ?? 0) + short)
      const settled = settledWish(wish, wanted)
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
      meanwhile: undefined,
      rather: rather.get(r.id) ?? 0,
    }
  })
  for (const [i, { source }] of requirements.entries()) {
    const line = lines[i]
    if (line && source.meanwhile && line.coverage.short > 0)
      lines[i] = { ...line, meanwhile: draw.spare(source.meanwhile, line.coverage.short) }
  }
  const coverage = sums.get('') ?? NO_COVERAGE
  const byModule = new Map<ModuleId, Coverage>()
  for (const [module, sum] of sums) if (module !== '') byModule.set(module, sum)
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
    rather: [...rather.values()].reduce((n, qty) => n + qty, 0),
    weighed: task.weighed,
    pins: task.pins,
  }
}

/** What a settled line takes. */
const EXACT: Meaning = { kind: 'exact', points: 0, uses: [] }

/** Draws the pieces of lots from their supplies, in their order, and hands out what is left over. */
function supplyDrawer({ lots, stock, pinned }: NettingTask) {
  const drawn = new Map<Supply, number>()
  for (const pieces of pinned.values())
    for (const { supply, qty } of pieces) drawn.set(supply, (drawn.get(supply) ?? 0) + qty)
  const byPins = new Map(drawn)
  const cursors = new Map<Lot, { at: number; left: number }>()
  const cursorOf = (lot: Lot) => {
    let cursor = cursors.get(lot)
    if (!cursor) {
      const gone = byPins.size === 0 ? 0 : lot.supplies.reduce((n, s) => n + (byPins.get(s) ?? 0), 0)
      cursors.set(lot, (cursor = { at: 0, left: lot.qty - gone }))
    }
    return cursor
  }
  const take = (lot: Lot, qty: number, pegs: { supply: Supply; qty: number }[]) => {
    const cursor = cursorOf(lot)
    cursor.left -= qty
    for (let open = qty; open > 0;) {
      const supply = lot.supplies[cursor.at]
      if (!supply) throw new Error(`netting drew more of ${lot.id} than there is`)
      const before = drawn.get(supply) ?? 0
      const part = Math.min(open, supply.qty - before)
      if (part > 0) {
        drawn.set(supply, before + part)
        pegs.push({ supply, qty: part })
        open -= part
      }
      if (open > 0) cursor.at++
    }
  }
  return {
    from(id: string, qty: number): { supply: Supply; qty: number }[] {
      const lot = lots.get(id)
      if (!lot) throw new Error(`there is no supply ${id}`)
      const pegs: { supply: Supply; qty: number }[] = []
      take(lot, qty, pegs)
      return pegs
    },
    /** Preferred lots first. */
    inOrder(ordered: readonly Lot[], qty: number): { supply: Supply; qty: number }[] {
      const pegs: { supply: Supply; qty: number }[] = []
      let open = qty
      for (const lot of ordered) {
        const part = Math.min(open, cursorOf(lot).left)
        if (part > 0) take(lot, part, pegs)
        open -= part
      }
      if (open > 0) throw new Error('a settled line drew more than there is')
      return pegs
    },
    /** Pieces that nothing draws, each handed out once; to be asked when all is drawn. */
    spare(item: ItemKey, wanted: number): TallyLine['meanwhile'] {
      let open = wanted
      for (const { lots: own } of stock.variants.get(item) ?? [])
        for (const { supplies } of own)
          for (const supply of supplies) {
            if (open === 0 || isOnOrder(supply.source)) continue
            const before = drawn.get(supply) ?? 0
            const take = Math.min(open, supply.qty - before)
            drawn.set(supply, before + take)
            open -= take
          }
      return open < wanted ? { item, qty: wanted - open } : undefined
    },
  }
}
