import { splitItemKey, type ItemKey } from '../catalogue/item.ts'
import type { Part } from '../catalogue/part.ts'
import {
  compromiseOf,
  itemOf,
  NO_KITS,
  KIT,
  sizeOf,
  componentsOf,
  type Options,
  type Pool,
  type Components,
} from './kernel/cover-problem.ts'
import type { ColourId } from '../units/ids.ts'
import { addUp } from '../units/quantity.ts'
import type { Candidate } from './stand-ins/candidate.ts'
import type { OwnRule } from '../build/decision.ts'
import type { Snapshot } from './snapshot.ts'
import { eachCandidate, standInSearch } from './stand-ins/candidates.ts'
import { type CandidateVisitor } from './stand-ins/asked.ts'
import { POINTS } from './stand-ins/points.ts'
import { demandKey, type Demand, type Requirements } from './demand.ts'
import { SPLITS } from './stand-ins/split.ts'
import { itemIn, lengthOf, mayCut, type StockPart } from './stock.ts'
import type { SupplyIndex } from './supply-index.ts'

/** What an option is to a line: the piece itself or why it stands in, its points of compromise and all it uses. */
export type Meaning = Candidate

/** Options that lines have alike. */
export type LinePool = Pool & {
  readonly kinds: readonly Candidate['kind'][]
  readonly points: readonly number[]
  /** The indexes in the stock of the items they take. */
  readonly indexes: readonly number[]
}

/** Options as the solver takes them, variants by their numbers, with what each is to a line. */
export type LineOptions = Options & {
  readonly pool?: LinePool | undefined
  /** Undefined for buying the piece. */
  readonly kinds: readonly (Candidate['kind'] | undefined)[]
  /** Points of compromise per required piece. */
  readonly points: readonly number[]
  /** The items of options that take several pieces. */
  readonly pieces: ReadonlyMap<number, Candidate['uses']>
}

/** Why an option stands in; undefined for buying the piece. */
export const kindOf = ({ items, kinds, pool }: LineOptions, option: number): Candidate['kind'] | undefined =>
  option < items.length ? kinds[option] : pool?.kinds[option - items.length]

/** Points of compromise of an option, per required piece. */
export const pointsOf = ({ items, points, pool }: LineOptions, option: number): number =>
  (option < items.length ? points[option] : pool?.points[option - items.length]) ?? 0

/** What an option means; undefined for buying the piece. */
export function meaningOf(options: LineOptions, option: number, stock: SupplyIndex): Meaning | undefined {
  const kind = kindOf(options, option)
  if (kind === undefined) return undefined
  const variant = itemOf(options, option)
  const uses = variant === KIT ? (options.pieces.get(option) ?? []) : [{ item: stock.itemOf(variant), qty: 1 }]
  return { kind, points: pointsOf(options, option), uses }
}

type Scheme = string | undefined

/** Gathers options, one list after the other. */
export class OptionList {
  /** Room for more than there are: what is handed out is cut to size. */
  readonly #items: number[] = []
  readonly #compromises: number[] = []
  readonly #kinds: (Candidate['kind'] | undefined)[] = []
  readonly #points: number[] = []
  #size = 0
  /** Compromises are the points themselves. */
  #alike = true
  #kits: Map<number, Components> | undefined
  #pieces: Map<number, Candidate['uses']> | undefined
  #schemes: Scheme[] | undefined
  readonly #alones = new Map<LinePool, LineOptions>()

  /** An option that takes one piece. */
  one(item: number, compromise: number, kind: Candidate['kind'] | undefined, points: number): void {
    const at = this.#size++
    this.#items[at] = item
    this.#compromises[at] = compromise
    this.#kinds[at] = kind
    this.#points[at] = points
    if (points !== compromise) this.#alike = false
  }

  /** Any option. */
  add(uses: Components, compromise: number, meaning: Meaning | undefined, scheme: Scheme): void {
    const [use, more] = uses
    const single = use?.qty === 1 && !more
    const at = this.#size
    this.one(single ? use.item : KIT, compromise, meaning?.kind, meaning?.points ?? 0)
    if (!single) {
      ;(this.#kits ??= new Map()).set(at, uses)
      if (meaning) (this.#pieces ??= new Map()).set(at, meaning.uses)
    }
    if (scheme !== undefined) (this.#schemes ??= [])[at] = scheme
  }

  /** Adds those of other options that are wanted. */
  addFrom(others: LineOptions, stock: SupplyIndex, wanted: (option: number) => boolean): void {
    for (let o = 0; o < sizeOf(others); o++)
      if (wanted(o))
        this.add(componentsOf(others, o), compromiseOf(others, o), meaningOf(others, o, stock), others.schemes?.[o])
  }

  /** The options gathered, with a pool they may have; the list is empty afterwards. */
  taken(pool?: LinePool): LineOptions {
    const size = this.#size
    if (size === 0) return this.#poolAlone(pool)
    // Very many lines take their own item and nothing else.
    const exactOnly = size === 1 && this.#compromises[0] === 0 && this.#kinds[0] === 'exact'
    const compromises = exactOnly ? NO_COMPROMISE : this.#compromises.slice(0, size)
    const taken: LineOptions = {
      items: this.#items.slice(0, size),
      compromises,
      kinds: exactOnly ? EXACT_ONLY : this.#kinds.slice(0, size),
      points: this.#alike ? compromises : this.#points.slice(0, size),
      kits: this.#kits ?? NO_KITS,
      pieces: this.#pieces ?? NO_PIECES,
      schemes: this.#schemes,
      pool,
    }
    this.#size = 0
    this.#alike = true
    this.#kits = undefined
    this.#pieces = undefined
    this.#schemes = undefined
    return taken
  }

  /** The options of lines that have none of their own: one object for all of them. */
  #poolAlone(pool: LinePool | undefined): LineOptions {
    if (!pool) return NO_OPTIONS
    let alone = this.#alones.get(pool)
    if (!alone) this.#alones.set(pool, (alone = { ...NO_OPTIONS, pool }))
    return alone
  }
}
const NO_COMPROMISE: readonly number[] = [0]
const EXACT_ONLY: LineOptions['kinds'] = ['exact']
const NO_PIECES: ReadonlyMap<number, Candidate['uses']> = new Map()
const NO_OPTIONS: LineOptions = {
  items: [],
  compromises: [],
  kinds: [],
  points: [],
  kits: NO_KITS,
  pieces: NO_PIECES,
  schemes: undefined,
  pool: undefined,
}

export type OptionFinder = {
  /** The options of a demand; one object for equal demands. Its `demandKey` need not be found anew where it is known. */
  optionsOf(demand: Demand, key?: string): LineOptions
  /**
   * The options of classes of requirements by their numbers, with the splits that each may need (`SPLITS`); one object for
   * the same class of the same design and the same splits.
   */
  ofClasses(
    classes: Pick<Requirements, 'demands' | 'keyOf' | 'plainDemands'>,
    splits: ArrayLike<number>,
  ): (c: number) => LineOptions
}

/** Weight that makes any donor piece better than any other, when the aim is to use up the donors. */
const ABOVE_ALL = 10_000

/** A pool with its options in the order of their compromise, and the items they are of. */
function orderedPool(index: SupplyIndex, made: Omit<LinePool, 'indexes'>): LinePool {
  const { items, compromises } = made
  const indexes: number[] = []
  for (const variant of items) {
    // Variants of an item follow one another.
    const itemIndex = index.indexOf[variant] as number
    if (indexes.at(-1) !== itemIndex) indexes.push(itemIndex)
  }
  if (compromises.every((c, o) => o === 0 || (compromises[o - 1] as number) <= c)) return { ...made, indexes }
  const levels = [...new Set(compromises)].sort((p, q) => p - q)
  const order: number[] = []
  for (const level of levels) for (let o = 0; o < items.length; o++) if (compromises[o] === level) order.push(o)
  const inOrder = <T>(list: readonly T[]) => order.map((o) => list[o] as T)
  return {
    indexes,
    items: inOrder(items),
    compromises: inOrder(compromises),
    kinds: inOrder(made.kinds),
    points: inOrder(made.points),
  }
}

/** The options of lines, by their demands, as the rules allow and supplies exist; kept once found. `weighed`: compromise counts in minor units. */
export function optionFinder(
  snapshot: Pick<Snapshot, 'build' | 'parts'>,
  index: SupplyIndex,
  own: readonly OwnRule[],
  weighed: boolean,
  priceOf: (item: ItemKey) => number | undefined,
): OptionFinder {
  const { build, parts } = snapshot
  const { rules } = build
  const search = standInSearch(rules, index.stock, own)
  const donorsFirst = rules.aim === 'use up the donors'
  const perPoint = weighed ? rules.pointPrice : 1
  const byDemand = new Map<string, LineOptions>()

  const costOf = (points: number, fromDonors: boolean): number =>
    points * perPoint + (donorsFirst && !fromDonors ? ABOVE_ALL : 0)

  const { stock, soleAt, variantsFrom } = index
  const buysInstead = rules.aim === 'least compromise' && rules.sources === 'donors, shelf and shops'
  const isDonors = (variant: number): boolean => index.traitsOf(variant).donor
  let found = new OptionList()
  const shared = new OptionList()
  const pools = new Map<StockPart, (LinePool | null)[]>()
  // Of the demand at hand; one visitor serves them all.
  let demand: Demand
  let part: Part | undefined
  /** Length in mm, where it counts. */
  let needed: number | undefined
  /** It takes any variant, and nothing but the item. */
  let [anyVariant, exactOnly] = [false, false]
  let seen: Set<string> | undefined
  let pool: LinePool | undefined
  /** What is known of pieces, for all demands that they may serve. */
  const combinations = new WeakMap<Candidate['uses'], readonly Combination[]>()
  const combinationsOf = (uses: Candidate['uses']): readonly Combination[] => {
    const known = combinations.get(uses)
    if (known) return known
    const made = combinationsIn(index, parts, uses)
    combinations.set(uses, made)
    return made
  }
  const kit = (uses: Candidate['uses'], kind: Candidate['kind'], points: number) => {
    if (exactOnly && kind !== 'exact') return
    for (const { drawn, name, hiddenOnly, applied, length, fromDonors } of combinationsOf(uses)) {
      if ((hiddenOnly && demand.visibility !== 'hidden') || (applied && demand.unused)) continue
      let meaning: Meaning = { kind, points, uses }
      if (needed !== undefined && length !== undefined && length !== needed) {
        if (length < needed || !mayCut(part, rules.altering)) continue
        if (kind === 'exact') meaning = { kind: 'length', points: POINTS.length, uses }
      }
      // The splits of a part differ from one another and from all else.
      if (kind !== 'split') {
        const id = `${meaning.kind} ${meaning.points}\n${name}`
        if (seen?.has(id)) continue
        ;(seen ??= new Set()).add(id)
      }
      found.add(drawn, costOf(meaning.points, fromDonors), meaning, schemeOf(demand, { kind, points, uses }))
    }
  }
  const one = (itemIndex: number, kind: Candidate['kind'], points: number) => {
    const first = variantsFrom[itemIndex] as number
    if (first === variantsFrom[itemIndex + 1] || (exactOnly && kind !== 'exact')) return
    const sole = anyVariant ? (soleAt[itemIndex] as number) : -1
    if (sole >= 0) found.one(sole, costOf(points, donorsFirst && isDonors(sole)), kind, points)
    else kitsOf(itemIndex, kind, points)
  }
  const kitsOf = (itemIndex: number, kind: Candidate['kind'], points: number) => {
    const [first, end] = [variantsFrom[itemIndex] as number, variantsFrom[itemIndex + 1] as number]
    let plain = anyVariant
    for (let v = first; plain && v < end; v++) plain = index.traitsOf(v).plain
    if (!plain) kit([{ item: index.itemOf(first), qty: 1 }], kind, points)
    else for (let v = first; v < end; v++) found.one(v, costOf(points, isDonors(v)), kind, points)
  }
  /** The options gathered by `fill` as a pool; none where some take several pieces, which are told line by line. */
  const makePool = (fill: () => void): LinePool | null => {
    const outside = found
    found = shared
    fill()
    const { items, compromises, kinds, points, kits: combined } = found.taken()
    found = outside
    if (combined.size > 0) return null
    return orderedPool(index, { items, compromises, kinds: kinds as Candidate['kind'][], points })
  }
  const visitor: CandidateVisitor = {
    missingToo: false,
    one,
    kit,
    alike: {
      takes(part, field) {
        if (weighed || !anyVariant || exactOnly) return false
        const known = pools.get(part)?.[field]
        if (known) pool = known
        return known === undefined ? undefined : known !== null
      },
      make(part, field, fill) {
        const made = makePool(fill)
        const known = pools.get(part)
        if (known) known[field] = made
        else {
          const first: (LinePool | null)[] = []
          first[field] = made
          pools.set(part, first)
        }
        if (made) pool = made
        return made !== null
      },
    },
  }
  const find = (asked: Demand, splits: number, there = itemIn(stock, asked.item)): LineOptions => {
    demand = asked
    part = there ? there.of.part : parts.get(splitItemKey(asked.item).part)
    needed = asked.length ?? (there && !there.of.byLength ? undefined : lengthOf(part))
    anyVariant = needed === undefined && asked.group === undefined
    seen = undefined
    pool = undefined
    // Who would rather buy than compromise uses a stand-in only for what no shop sells.
    exactOnly = buysInstead && priceOf(asked.item) !== undefined
    eachCandidate(search, asked, visitor, there, splits)
    return found.taken(pool)
  }
  const optionsOf = (demand: Demand, key = demandKey(demand), splits: number = SPLITS.any): LineOptions => {
    const name = `${splits} ${key}`
    const before = byDemand.get(name)
    if (before) return before
    const found = find(demand, splits)
    byDemand.set(name, found)
    return found
  }
  /** By the splits that are needed, and by class. */
  let plain:
    { readonly demands: readonly Demand[]; readonly options: readonly (LineOptions | undefined)[][] } | undefined
  return {
    optionsOf,
    ofClasses({ demands, keyOf, plainDemands }, splits) {
      if (plain?.demands !== plainDemands) {
        const none = () => new Array<LineOptions | undefined>(plainDemands.length).fill(undefined)
        plain = { demands: plainDemands, options: Object.values(SPLITS).map(none) }
      }
      const { options } = plain
      const indexes = stock.indexesOf(plainDemands)
      return (c) => {
        const demand = demands[c] as Demand
        const needed = splits[c] as number
        if (c >= plainDemands.length) return optionsOf(demand, keyOf(c), needed)
        const known = options[needed] as (LineOptions | undefined)[]
        return (known[c] ??= find(demand, needed, stock.items[indexes[c] as number]))
      }
    },
  }
}

/** The colour that an option of a coherent group's line puts it in. */
export function schemeOf({ group, item }: Demand, { kind, uses }: Meaning): ColourId | undefined {
  if (group === undefined) return undefined
  const [use] = uses
  const own = kind === 'exact' || kind === 'colour' || kind === 'mould' || kind === 'split' || kind === 'chosen'
  return splitItemKey(own ? (use?.item ?? item) : item).colour
}

/** One way to draw pieces from the variants of their items, with what tells which demands it may serve. */
type Combination = {
  /** Pieces of each variant. */
  readonly drawn: Components
  readonly name: string
  /** Some are fit for hidden places alone; some are in use elsewhere. */
  readonly hiddenOnly: boolean
  readonly applied: boolean
  /** All are of donors. */
  readonly fromDonors: boolean
  /** Of the first piece in mm, where it comes by the length. */
  readonly length: number | undefined
}

/** Every way to draw pieces; none where there is not one of each. */
function combinationsIn(index: SupplyIndex, parts: Snapshot['parts'], uses: Candidate['uses']): Combination[] {
  if (uses.some(({ item }) => !index.stock.indexes.has(item))) return []
  const [first] = uses
  const usual = first && lengthOf(parts.get(splitItemKey(first.item).part))
  return combine(uses.map(({ item, qty }) => draws(index.variantsOf(item), qty))).map((combination) => {
    const used = combination.flat()
    const traits = used.map(({ variant }) => index.traitsOf(variant))
    return {
      drawn: addUp(used.map(({ variant, qty }) => ({ item: variant, qty }))),
      name: used.map(({ variant, qty }) => `${qty} ${variant}`).join(),
      hiddenOnly: traits.some((t) => t.hiddenOnly),
      applied: traits.some((t) => t.applied),
      fromDonors: traits.every((t) => t.donor),
      length: traits[0]?.length ?? usual,
    }
  })
}

/** Every choice of one of each. */
function combine<T>(lists: readonly (readonly T[])[]): T[][] {
  return lists.reduce<T[][]>((made, list) => made.flatMap((m) => list.map((one) => [...m, one])), [[]])
}

type Draw = { readonly variant: number; readonly qty: number }

/** Every way to draw so many pieces from the variants of an item; of more than a few pieces all from one variant. */
function draws(variants: readonly number[], qty: number): Draw[][] {
  const [variant, ...rest] = variants
  if (variant === undefined || qty === 0) return qty === 0 ? [[]] : []
  if (rest.length === 0) return [[{ variant, qty }]]
  if (qty > MIXED_DRAWS) return variants.map((v) => [{ variant: v, qty }])
  return Array.from({ length: qty + 1 }, (_, n) => n).flatMap((n) =>
    draws(rest, qty - n).map((more) => [...(n > 0 ? [{ variant, qty: n }] : []), ...more]),
  )
}
const MIXED_DRAWS = 6
