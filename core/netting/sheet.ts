import type { ItemKey } from '../catalogue/item.ts'
import { inColour } from '../design/recolour.ts'
import type { PrintSide } from '../design/design.ts'
import type { Requirement } from '../design/explode.ts'
import { itemOf, KIT, type CoverPlan, type Slack } from './kernel/cover-problem.ts'
import type { ColourId, ModuleId } from '../units/ids.ts'
import type { Candidate, StandInKind } from './stand-ins/candidate.ts'
import { COVERAGE_FIELDS, sumCoverage, type Coverage } from './coverage.ts'
import { usesKey } from '../build/decision.ts'
import { kindOf, pointsOf } from './options.ts'
import { FACT } from './inventory.ts'
import type { NettingTask, Choice } from './count-task.ts'
import type { PinnedPiece, PinOutcome } from './pins.ts'
import { demandInScheme, demandKey, type Demand } from './demand.ts'

/** Pieces of one item that a vendor prints to order: at least its minimum run is paid. */
export type PrintRun = {
  readonly item: ItemKey
  readonly vendor: string
  /** The version that is printed, where left and right differ. */
  readonly side?: PrintSide | undefined
  readonly qty: number
  readonly minRun: number
  /** Minor units for one; days until they are here, and the file with the artwork, as far as that is known. */
  readonly price: number
  readonly days?: number | undefined
  readonly artwork?: string | undefined
  /** Minor units for all of them. */
  readonly cost: number
}

/** Short pieces for which a stand-in is at hand until they arrive. */
export type Interim = { readonly item: ItemKey; readonly qty: number }

/** What a netting comes to in all. */
export type Totals = {
  readonly coverage: Coverage
  readonly byModule: ReadonlyMap<ModuleId, Coverage>
  /** Short items with their quantities, in design order. */
  readonly shortfall: ReadonlyMap<ItemKey, number>
  /** Pieces of the total that rest on estimates. */
  readonly estimated: number
  readonly need: number
  /** Short pieces by item and where they are seen, for buying stand-ins. */
  readonly shortLines: readonly { readonly demand: Demand; readonly key: string; readonly qty: number }[]
  /** Points of compromise of all stand-ins. */
  readonly compromise: number
  /** Custom prints that the cover calls for, beside the runs. */
  readonly prints: number
  readonly printRuns: readonly PrintRun[]
  /** The colour each coherent group took. */
  readonly groups: ReadonlyMap<string, ColourId>
  /** True when no other cover of the design is better by the rules, given the pins. */
  readonly proven: boolean
  /** Where it is not: options of the smallest group of lines that is not proven. */
  readonly unproven: number | undefined
  /** And how much better the best cover may be. */
  readonly slack: Slack | undefined
  /** Short pieces that are bought rather than replaced by a stand-in. */
  readonly buyInstead: number
  /** Whether compromise was weighed against prices. */
  readonly weighed: boolean
  /** What became of every pin. */
  readonly pins: readonly PinOutcome[]
}

/** Why pieces are no exact ones, their points of compromise, and all that serves for one where it takes several. */
export type PegMeaning = Pick<Candidate, 'points'> & {
  readonly kind: StandInKind
  readonly uses: Candidate['uses'] | undefined
}

/** A tally in arrays, line by line in the order of the requirements: it travels between threads at once. */
export type TallySheet = Totals & {
  readonly lines: {
    /** Five numbers a line, in the order of `Coverage`. */
    readonly coverage: Int32Array
    /** Four numbers a peg: the row of its supply or `BUILT`, pieces, its meaning or `EXACT`, and `BY`. */
    readonly pegs: Int32Array
    /** Of each line its first peg; that of the next follows its last. */
    readonly pegsFrom: Int32Array
    readonly meanings: readonly PegMeaning[]
    /** Of each line whether it rests on estimates, and its pieces that are bought rather than replaced. */
    readonly estimate: Uint8Array
    readonly buyInstead: Int32Array
    readonly interim: ReadonlyMap<number, Interim>
  }
}
export const PEG_FIELDS = 4
/** Instead of a row: finished models that are the module. Instead of a meaning: the piece itself. */
export const BUILT = -1
export const EXACT = -1
/** Who chose a peg. */
export const BY = { nobody: 0, pin: 1, acceptance: 2 } as const

/** Takes pieces of a supply, by its row, for the line at hand. */
type TakePiece = (row: number, qty: number) => void

/** What a cover means for every line, and in all. */
export function tallySheet(task: NettingTask, plan: CoverPlan): TallySheet {
  const { required, choiceOf, itemAt, pinned, decided, stock } = task
  const { list: requirements, qtyOf, builtOf, pathOf, paths, classOf, demands, leftovers } = required
  const groups = groupColours(task, plan)
  const shares = coverShares(task, plan)
  let [estimated, compromise, prints, buyInstead, need] = [0, 0, 0, 0, 0]
  // Short pieces by class, and the classes that have any in the order in which that was found.
  const [shortOf, shortClasses] = [new Float64Array(demands.length), [] as number[]]
  const runs = printRuns(groups)
  const size = requirements.length
  const [coverage, pegsFrom] = [new Int32Array(size * COVERAGE_FIELDS), new Int32Array(size + 1)]
  const [estimate, boughtOf] = [new Uint8Array(size), new Int32Array(size)]
  const pegs = pegList(2 * size)
  const meanings = meaningBook()

  // Of the line at hand: its sums, and what pieces are being drawn for.
  let [donor, shelf, standIn, onOrder] = [0, 0, 0, 0]
  let [covered, points, guessed, printed, bought, late] = [0, 0, 0, 0, 0, 0]
  let means = EXACT
  let by: number = BY.nobody
  const piece = (row: number, qty: number) => {
    pegs.add(row, qty, means, by)
    const facts = stock.factsOf(row)
    if ((facts & FACT.estimate) !== 0) guessed += qty
    if ((facts & FACT.onOrder) !== 0) late += qty
    else if (means !== EXACT) return
    else if ((facts & FACT.inCopy) !== 0) donor += qty
    else shelf += qty
  }
  const draw = supplyDrawer(task, piece)
  /** What is drawn from here on is drawn for this; then so many required pieces are booked as covered by it. */
  const begin = (meaning: number, how: number) => {
    means = meaning
    by = how
    late = 0
  }
  const end = (qty: number) => {
    covered += qty
    const meaning = means === EXACT ? undefined : meanings.list[means]
    if (meaning) {
      points += meaning.points * qty
      if (meaning.kind === 'print') printed += qty
    }
    // A stand-in that has still to arrive is waited for like any other piece.
    const waiting = Math.min(qty, late)
    onOrder += waiting
    if (meaning) standIn += qty - waiting
  }
  let accepted: readonly string[] | undefined
  const byOption = ({ options }: Choice, option: number, qty: number) => {
    const kind = kindOf(options, option)
    if (kind === undefined) {
      bought += qty
      return
    }
    const variant = itemOf(options, option)
    const uses = variant === KIT ? (options.pieces.get(option) ?? []) : undefined
    const gladly =
      accepted !== undefined && kind !== 'exact' && accepted.includes(uses ? usesKey(uses) : stock.itemOf(variant))
    begin(meanings.of(kind, pointsOf(options, option), uses), gladly ? BY.acceptance : BY.nobody)
    if (variant === KIT) for (const use of options.kits.get(option) ?? []) draw.ofVariant(use.item, use.qty * qty)
    else draw.ofVariant(variant, qty)
    end(qty)
  }
  const cover = (i: number, own: number) => {
    const built = builtOf[i] as number
    if (built > 0) {
      pegs.add(BUILT, built, EXACT, BY.nobody)
      donor = requirements[i]?.builtDonor ?? 0
      shelf = built - donor
      covered = built
    }
    const open = (qtyOf[i] as number) - built
    const number = choiceOf[own] as number
    if (number < 0) {
      begin(EXACT, BY.nobody)
      if (open > 0) end(draw.ofItem(itemAt[own] as number, open))
      return
    }
    let left = open
    if (decided) {
      for (const { row, qty, meaning } of pinned.get(i) ?? NO_PINS) {
        begin(meanings.of(meaning.kind, meaning.points, undefined), BY.pin)
        piece(row, qty)
        end(qty)
        left -= qty
      }
      accepted = (demands[own] as Demand).accepted
    }
    shares.take(number, left, byOption)
  }
  for (let i = 0; i < size; i++) {
    const own = classOf[i] as number
    donor = shelf = standIn = onOrder = 0
    covered = points = guessed = printed = bought = 0
    cover(i, own)
    pegsFrom[i + 1] = pegs.size()
    const qty = qtyOf[i] as number
    const short = qty - covered
    const at = i * COVERAGE_FIELDS
    coverage[at] = donor
    coverage[at + 1] = shelf
    coverage[at + 2] = standIn
    coverage[at + 3] = onOrder
    coverage[at + 4] = short
    if (guessed > 0) estimate[i] = 1
    boughtOf[i] = bought
    compromise += points
    estimated += guessed
    buyInstead += bought
    need += qty
    if (short > 0) {
      if (shortOf[own] === 0) shortClasses.push(own)
      shortOf[own] = (shortOf[own] as number) + short
    }
    const r = leftovers ? requirements[i] : undefined
    if (r?.source.print) runs.add(r, printed + short)
    else prints += printed
  }
  const { shortfall, shortLines } = shortOfClasses(required, shortClasses, shortOf, groups)
  const { all, byModule } = sumCoverage(coverage, pathOf, paths)
  const interim = leftovers ? interimOf(requirements, coverage, draw.spare) : new Map<number, Interim>()
  return {
    lines: {
      coverage,
      pegs: pegs.taken(),
      pegsFrom,
      meanings: meanings.list,
      estimate,
      buyInstead: boughtOf,
      interim,
    },
    coverage: all,
    byModule,
    shortfall,
    estimated,
    need,
    shortLines,
    compromise,
    prints,
    printRuns: runs.all(),
    groups,
    proven: plan.proven,
    unproven: plan.unproven,
    slack: plan.slack,
    buyInstead,
    weighed: task.weighed,
    pins: task.pins,
  }
}

/** The colour of each group: as pins or what is built in fixed it, else as the cover chose it. */
const groupColours = ({ fixed }: NettingTask, { schemes }: CoverPlan): ReadonlyMap<string, ColourId> =>
  new Map([...fixed, ...(schemes as ReadonlyMap<string, ColourId>)])

const NO_PINS: readonly PinnedPiece[] = []

/** Of lines with pieces short, what stands in until they arrive, where they name something and it is to spare. */
function interimOf(
  requirements: readonly Requirement[],
  coverage: Int32Array,
  spare: (item: ItemKey, qty: number) => Interim | undefined,
): Map<number, Interim> {
  const interim = new Map<number, Interim>()
  for (const [i, { source }] of requirements.entries()) {
    const short = coverage[i * COVERAGE_FIELDS + 4] as number
    const found = source.meanwhile && short > 0 ? spare(source.meanwhile, short) : undefined
    if (found) interim.set(i, found)
  }
  return interim
}

const otherSide = (side: PrintSide | undefined): PrintSide | undefined => side && (side === 'left' ? 'right' : 'left')

/** Custom prints by vendor, version, item and price: pieces of one run are printed together. */
function printRuns(groups: ReadonlyMap<string, ColourId>) {
  const runs = new Map<string, Omit<PrintRun, 'cost'>>()
  return {
    add(requirement: Requirement, qty: number): void {
      const { print } = requirement.source
      if (!print || qty === 0) return
      const item = wantedOf(requirement, groups)
      const side = requirement.mirrored ? otherSide(print.side) : print.side
      const key = JSON.stringify([item, side, print.vendor, print.price, print.minRun])
      runs.set(key, { item, ...print, ...(side && { side }), qty: (runs.get(key)?.qty ?? 0) + qty })
    },
    all: (): PrintRun[] =>
      [...runs.values()].map((run) => ({ ...run, cost: run.price * Math.max(run.qty, run.minRun) })),
  }
}

/** What is short, by item and by demand; lines of groups in the colour their group took. */
function shortOfClasses(
  { demands, keyOf }: NettingTask['required'],
  classes: readonly number[],
  shortOf: Float64Array,
  groups: ReadonlyMap<string, ColourId>,
): Pick<Totals, 'shortfall' | 'shortLines'> {
  const shortfall = new Map<ItemKey, number>()
  const shortLines = new Map<string, { readonly demand: Demand; readonly key: string; qty: number }>()
  for (const own of classes) {
    const demand = demands[own] as Demand
    const wanted = inGroupColour(demand.item, demand.group, groups)
    const short = shortOf[own] as number
    shortfall.set(wanted, (shortfall.get(wanted) ?? 0) + short)
    const inScheme = demandInScheme(demand, wanted)
    const key = inScheme === demand ? keyOf(own) : demandKey(inScheme)
    const known = shortLines.get(key)
    if (known) known.qty += short
    else shortLines.set(key, { demand: inScheme, key, qty: short })
  }
  return { shortfall, shortLines: [...shortLines.values()] }
}

/** What is wanted: the item, in the colour its group took. */
export const wantedOf = ({ item, source }: Requirement, groups: ReadonlyMap<string, ColourId>): ItemKey =>
  inGroupColour(item, source.group, groups)

function inGroupColour(item: ItemKey, group: string | undefined, groups: ReadonlyMap<string, ColourId>): ItemKey {
  const colour = group === undefined ? undefined : groups.get(group)
  return colour === undefined ? item : inColour(item, colour)
}

/** Gathers pegs, with room for so many to begin with. */
function pegList(room: number) {
  let fields = new Int32Array(room * PEG_FIELDS)
  let end = 0
  return {
    add(row: number, qty: number, meaning: number, by: number): void {
      if (end === fields.length) {
        const more = new Int32Array(2 * end + PEG_FIELDS)
        more.set(fields)
        fields = more
      }
      fields[end] = row
      fields[end + 1] = qty
      fields[end + 2] = meaning
      fields[end + 3] = by
      end += PEG_FIELDS
    },
    size: () => end / PEG_FIELDS,
    taken: () => fields.slice(0, end),
  }
}

/** Numbers what pegs mean, those of one piece that mean the same alike. */
function meaningBook() {
  const list: PegMeaning[] = []
  const single = new Map<StandInKind, Map<number, number>>()
  const several = new Map<Candidate['uses'], number[]>()
  return {
    list,
    /** The number of a meaning; `uses` where one required piece takes several. */
    of(kind: Candidate['kind'], points: number, uses: Candidate['uses'] | undefined): number {
      if (kind === 'exact') return EXACT
      if (uses) {
        let same = several.get(uses)
        if (!same) several.set(uses, (same = []))
        const known = same.find((n) => list[n]?.kind === kind && list[n].points === points)
        if (known !== undefined) return known
        same.push(list.length)
      } else {
        let byPoints = single.get(kind)
        if (!byPoints) single.set(kind, (byPoints = new Map()))
        const known = byPoints.get(points)
        if (known !== undefined) return known
        byPoints.set(points, list.length)
      }
      return list.push({ kind, points, uses }) - 1
    },
  }
}

/** Hands what the options of a need cover to its requirements, in design order. */
function coverShares({ choices }: NettingTask, { cover }: CoverPlan) {
  const at = new Int32Array(choices.length)
  /** Of what it is at: negative before the first. */
  const left = new Float64Array(choices.length).fill(-1)
  return {
    take(number: number, wanted: number, give: (need: Choice, option: number, qty: number) => void): void {
      const [own, need] = [cover[number], choices[number]]
      for (let open = wanted; open > 0 && need && own;) {
        const next = at[number] as number
        if (next >= own.length) return
        if (left[number] === -1) left[number] = own[1] ?? 0
        const qty = Math.min(open, left[number] as number)
        if (qty > 0) give(need, own[next] as number, qty)
        open -= qty
        left[number] = (left[number] as number) - qty
        if (left[number] !== 0) continue
        at[number] = next + 2
        left[number] = own[next + 3] ?? 0
      }
    },
  }
}

/** Draws the pieces of lots from their supplies, in their order; `give` gets them. */
function supplyDrawer({ stock, pinned }: NettingTask, give: TakePiece) {
  const { rows, rowsFrom, lotsFrom } = stock
  /** By row: pieces that pins took. */
  const byPins = new Map<number, number>()
  for (const pieces of pinned.values()) for (const { row, qty } of pieces) byPins.set(row, (byPins.get(row) ?? 0) + qty)
  /** Of each lot: its rows that are used up, and what was drawn of the next beside. */
  const used = new Int32Array(stock.lots)
  const gone = new Int32Array(stock.lots)
  /** Draws up to so many pieces of a lot, and says how many. */
  const take = (lot: number, qty: number, spare: boolean): number => {
    stock.inOrder(lot)
    const first = rowsFrom[lot] as number
    const end = rowsFrom[lot + 1] as number
    let open = qty
    for (let at = first + (used[lot] as number); open > 0 && at < end;) {
      const row = rows[at] as number
      const there = stock.piecesIn(row) - (byPins.size === 0 ? 0 : (byPins.get(row) ?? 0)) - (gone[lot] as number)
      const part = Math.min(open, there)
      if (part > 0 && !spare) give(row, part)
      open -= part
      if (part < there) gone[lot] = (gone[lot] as number) + part
      else {
        gone[lot] = 0
        used[lot] = ++at - first
      }
    }
    return qty - open
  }
  /** From a variant by its number, preferred lots first. */
  const upTo = (variant: number, qty: number): number => {
    let open = qty
    const end = lotsFrom[variant + 1] as number
    for (let lot = lotsFrom[variant] as number; open > 0 && lot < end; lot++) open -= take(lot, open, false)
    return qty - open
  }
  return {
    ofVariant(variant: number, qty: number): void {
      if (upTo(variant, qty) < qty) throw new Error('the netting drew more than there is')
    },
    /** From the only variant of an item by its index, if there is any: up to so many pieces, and says how many. */
    ofItem: (itemIndex: number, qty: number): number =>
      itemIndex < 0 ? 0 : upTo(stock.variantsFrom[itemIndex] as number, qty),
    /** Pieces that nothing draws, each handed out once; to be asked when all is drawn. */
    spare(item: ItemKey, wanted: number): Interim | undefined {
      let open = wanted
      for (const variant of stock.variantsOf(item))
        for (let lot = lotsFrom[variant] as number; lot < (lotsFrom[variant + 1] as number); lot++) {
          const first = rows[rowsFrom[lot] as number] as number
          if ((stock.factsOf(first) & FACT.onOrder) === 0) open -= take(lot, open, true)
        }
      return open < wanted ? { item, qty: wanted - open } : undefined
    },
  }
}
