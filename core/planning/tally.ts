import type { ItemKey } from '../catalogue/item.ts'
import type { Visibility } from '../design/design.ts'
import { inColour } from '../design/recolour.ts'
import type { Requirement } from '../design/explode.ts'
import { coverNeeds } from '../netting/cover.ts'
import type { CoverMemory } from '../netting/memory.ts'
import { usesOf, type CoverPlan } from '../netting/numbered.ts'
import { verifyCover } from '../netting/verify.ts'
import type { ColourId, LineId, ModuleId } from '../units/ids.ts'
import type { StandInKind } from './candidate.ts'
import { usesKey } from './decision.ts'
import { meaningOf, type Meaning } from './line-options.ts'
import { nettingTask, type NettingTask, type TaskNeed } from './netting-task.ts'
import type { PinnedPiece, PinOutcome } from './pins.ts'
import type { Snapshot } from './snapshot.ts'
import { settledWish, wishKey, type Wish } from './stand-ins.ts'
import type { SupplySource } from './inventory.ts'
import { isOnOrder } from './supplies.ts'
import { unchangedSince, type Covered } from './tally-memory.ts'

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
  readonly shortLines: readonly { readonly wish: Wish; readonly key: string; readonly qty: number }[]
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
  const { needs, supplies, memory } = task
  const plan = coverNeeds(needs, supplies, snapshot.milp, memory)
  const [fault] = verifyCover(needs, supplies, plan)
  if (fault !== undefined) throw new Error(`the netting does not hold: ${fault}`)
  return toldByLine(task, plan)
}

/** Takes pieces of a supply, by its row, for the line at hand. */
type TakePiece = (row: number, qty: number) => void

/** What a cover meant, line by line. */
type Told = Covered & {
  readonly lines: readonly TallyLine[]
  /** Of each line: its points of compromise, and the pieces that rest on estimates and on custom prints. */
  readonly points: Float64Array
  readonly guessed: Float64Array
  readonly printed: Float64Array
}
/** The last one of each memory: lines that nothing has changed for are not made again. */
const lastTold = new WeakMap<CoverMemory, Told>()

/** What a cover means for every line, and in all. */
function toldByLine(task: NettingTask, plan: CoverPlan): Tally {
  const { requirements, classOf, wishes, keys, needOf, itemAt, pinned } = task
  const groups = plan.schemes as ReadonlyMap<string, ColourId>
  const last = task.memory && lastTold.get(task.memory)
  const same = unchangedSince(last, { task, plan })
  const shares = coverShares(task, plan)
  const draw = supplyDrawer(task)
  const sums = coverageSums()
  let [estimated, compromise, prints, rather, need] = [0, 0, 0, 0, 0]
  const shortfall = new Map<ItemKey, number>()
  const shortLines = new Map<string, { readonly wish: Wish; readonly key: string; qty: number }>()
  const runs = new Map<string, Omit<PrintRun, 'cost'> & { price: number }>()
  const lines: TallyLine[] = []
  const size = requirements.length
  const told = { points: new Float64Array(size), guessed: new Float64Array(size), printed: new Float64Array(size) }

  // Of the line at hand: its pegs, their sums, and what pieces are being drawn for.
  let pegs: TallyPeg[] = []
  let [donor, shelf, standIn, onOrder] = [0, 0, 0, 0]
  let [covered, points, guessed, printed, bought, late] = [0, 0, 0, 0, 0, 0]
  let means = EXACT
  let by: TallyPeg['by']
  const piece = (row: number, qty: number) => {
    const { source, item } = task.stock.supplyOf(row)
    if (means.kind !== 'exact') {
      const { kind, points: each, uses } = means
      if (by) pegs.push({ source, item, qty, standIn: kind, points: each, uses, by })
      else pegs.push({ source, item, qty, standIn: kind, points: each, uses })
    } else if (by) pegs.push({ source, item, qty, by })
    else pegs.push({ source, item, qty })
    if (source.kind === 'shelf' && source.estimate) guessed += qty
    if (isOnOrder(source)) late += qty
    else if (means.kind !== 'exact') return
    else if (source.kind === 'copy') donor += qty
    else shelf += qty
  }
  /** What is drawn from here on is drawn for this; then so many required pieces are booked as covered by it. */
  const begin = (meaning: Meaning, how: TallyPeg['by']) => {
    means = meaning
    by = how
    late = 0
  }
  const end = (qty: number) => {
    covered += qty
    points += means.points * qty
    if (means.kind === 'print') printed += qty
    // A stand-in that has still to arrive is waited for like any other piece.
    const waiting = Math.min(qty, late)
    onOrder += waiting
    if (means.kind !== 'exact') standIn += qty - waiting
  }
  let accepted: readonly string[] | undefined
  const byOption = ({ options }: TaskNeed, option: number, qty: number) => {
    const meaning = meaningOf(options, option, task.stock)
    if (!meaning) {
      bought += qty
      return
    }
    const gladly = meaning.kind !== 'exact' && (accepted?.includes(usesKey(meaning.uses)) ?? false)
    begin(meaning, gladly ? 'acceptance' : undefined)
    for (const use of usesOf(options, option)) draw.ofVariant(use.item, use.qty * qty, piece)
    end(qty)
  }
  const cover = (r: Requirement, i: number, wish: Wish) => {
    if (r.built > 0) {
      pegs.push({ source: { kind: 'built', places: r.models }, item: r.item, qty: r.built })
      shelf += r.built
      covered += r.built
    }
    const open = r.qty - r.built
    const own = classOf[i] as number
    const number = needOf[own] as number
    if (number < 0) {
      if (open === 0) return
      begin(EXACT, undefined)
      draw.ofItem(itemAt[own] as number, open, piece)
      end(open)
      return
    }
    let left = open
    for (const { row, qty, meaning } of pinned.get(i) ?? NO_PINS) {
      begin(meaning, 'pin')
      piece(row, qty)
      end(qty)
      left -= qty
    }
    accepted = wish.accepted
    shares.take(number, left, byOption)
  }
  for (let i = 0; i < requirements.length; i++) {
    const r = requirements[i] as Requirement
    const wish = wishes[classOf[i] as number] as Wish
    const before = same?.[i] === 1 ? last?.lines[i] : undefined
    if (before && last) {
      points = last.points[i] as number
      guessed = last.guessed[i] as number
      printed = last.printed[i] as number
      bought = before.rather
      covered = r.qty - before.coverage.short
    } else {
      pegs = []
      donor = shelf = standIn = onOrder = 0
      covered = points = guessed = printed = bought = 0
      cover(r, i, wish)
    }
    told.points[i] = points
    told.guessed[i] = guessed
    told.printed[i] = printed
    const short = r.qty - covered
    const coverage: Coverage = before?.coverage ?? { donor, shelf, standIn, onOrder, short }
    compromise += points
    estimated += guessed
    rather += bought
    need += r.qty
    sums.add(r.path, coverage)
    const colour = wish.group === undefined ? undefined : groups.get(wish.group)
    const wanted = colour === undefined ? r.item : inColour(r.item, colour)
    const { print } = r.source
    if (print) {
      const key = `${print.vendor}\n${wanted}`
      const run = runs.get(key)
      if (printed + short > 0) runs.set(key, { item: wanted, ...print, qty: (run?.qty ?? 0) + printed + short })
    } else prints += printed
    if (short > 0) {
      shortfall.set(wanted, (shortfall.get(wanted) ?? 0) + short)
      const settled = settledWish(wish, wanted)
      const key = settled === wish ? (keys[classOf[i] as number] as string) : wishKey(settled)
      const known = shortLines.get(key)
      if (known) known.qty += short
      else shortLines.set(key, { wish: settled, key, qty: short })
    }
    if (before) {
      lines.push(before)
      continue
    }
    lines.push({
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
      coverage,
      pegs,
      estimate: guessed > 0,
      meanwhile: undefined,
      rather: bought,
    })
  }
  for (const [i, { source }] of task.leftovers ? requirements.entries() : []) {
    const line = source.meanwhile === undefined ? undefined : lines[i]
    if (line && source.meanwhile && line.coverage.short > 0)
      lines[i] = { ...line, meanwhile: draw.spare(source.meanwhile, line.coverage.short) }
  }
  if (task.memory) lastTold.set(task.memory, { task, plan, lines, ...told })
  return {
    lines,
    ...sums.done(),
    shortfall,
    estimated,
    need,
    shortLines: [...shortLines.values()],
    compromise,
    prints,
    printRuns: [...runs.values()].map(({ price, ...run }) => ({ ...run, cost: price * Math.max(run.qty, run.minRun) })),
    groups,
    proven: plan.proven,
    rather,
    weighed: task.weighed,
    pins: task.pins,
  }
}

const NO_PINS: readonly PinnedPiece[] = []
/** What a settled line takes. */
const EXACT: Meaning = { kind: 'exact', points: 0, uses: [] }

/** Adds up coverage by module and of the whole design. */
function coverageSums() {
  type Sum = { -readonly [K in keyof Coverage]: number }
  const all: Sum = { ...NO_COVERAGE }
  const byModule = new Map<ModuleId, Sum>()
  let lastPath: readonly ModuleId[] | undefined
  let onPath: Sum[] = []
  return {
    add(path: readonly ModuleId[], count: Coverage): void {
      if (path !== lastPath) {
        lastPath = path
        onPath = [all]
        for (const module of path) {
          let sum = byModule.get(module)
          if (!sum) byModule.set(module, (sum = { ...NO_COVERAGE }))
          onPath.push(sum)
        }
      }
      for (const sum of onPath) {
        sum.donor += count.donor
        sum.shelf += count.shelf
        sum.standIn += count.standIn
        sum.onOrder += count.onOrder
        sum.short += count.short
      }
    },
    done: (): Pick<Tally, 'coverage' | 'byModule'> => ({ coverage: all, byModule }),
  }
}

/** Hands what the options of a need cover to its requirements, in design order. */
function coverShares({ needs }: NettingTask, { cover }: CoverPlan) {
  const at = new Int32Array(needs.length)
  const left = new Float64Array(needs.length)
  for (let n = 0; n < needs.length; n++) left[n] = cover[n]?.[0] ?? 0
  return {
    take(number: number, wanted: number, give: (need: TaskNeed, option: number, qty: number) => void): void {
      const [own, need] = [cover[number], needs[number]]
      for (let open = wanted; open > 0 && need && own;) {
        const option = at[number] as number
        if (option >= own.length) return
        const qty = Math.min(open, left[number] as number)
        if (qty > 0) give(need, option, qty)
        open -= qty
        left[number] = (left[number] as number) - qty
        if (left[number] !== 0) continue
        at[number] = option + 1
        left[number] = own[option + 1] ?? 0
      }
    },
  }
}

/** Draws the pieces of lots from their supplies, in their order, and hands out what is left over. */
function supplyDrawer({ stock, pinned }: NettingTask) {
  /** By row: pieces that pins took. */
  const byPins = new Map<number, number>()
  for (const pieces of pinned.values()) for (const { row, qty } of pieces) byPins.set(row, (byPins.get(row) ?? 0) + qty)
  /** Of each lot: the supply that is next, and what was drawn of it beside. */
  const at = new Int32Array(stock.lots)
  const gone = new Int32Array(stock.lots)
  /** Draws up to so many pieces of a lot, and says how many. */
  const take = (lot: number, qty: number, give: TakePiece): number => {
    let open = qty
    while (open > 0) {
      const row = stock.rowAt(lot, at[lot] as number)
      if (row < 0) break
      const there = stock.piecesIn(row) - (byPins.size === 0 ? 0 : (byPins.get(row) ?? 0)) - (gone[lot] as number)
      const part = Math.min(open, there)
      if (part > 0) give(row, part)
      open -= part
      if (part < there) gone[lot] = (gone[lot] as number) + part
      else {
        at[lot] = (at[lot] as number) + 1
        gone[lot] = 0
      }
    }
    return qty - open
  }
  /** From a variant by its number, preferred lots first. */
  const ofVariant = (variant: number, qty: number, give: TakePiece): void => {
    let open = qty
    for (let lot = stock.lotsFrom[variant] as number; open > 0 && lot < (stock.lotsFrom[variant + 1] as number); lot++)
      open -= take(lot, open, give)
    if (open > 0) throw new Error('the netting drew more than there is')
  }
  return {
    ofVariant,
    /** From the only variant of an item by its place. */
    ofItem(place: number, qty: number, give: TakePiece): void {
      ofVariant(stock.variantsFrom[place] as number, qty, give)
    },
    /** Pieces that nothing draws, each handed out once; to be asked when all is drawn. */
    spare(item: ItemKey, wanted: number): TallyLine['meanwhile'] {
      let open = wanted
      for (const variant of stock.variantsOf(item))
        for (let lot = stock.lotsFrom[variant] as number; lot < (stock.lotsFrom[variant + 1] as number); lot++) {
          if (isOnOrder(stock.supplyOf(stock.rowAt(lot, 0)).source)) continue
          open -= take(lot, open, () => undefined)
        }
      return open < wanted ? { item, qty: wanted - open } : undefined
    },
  }
}
