/** Pieces that cover one required piece together; items by number. */
export type Components = readonly { readonly item: number; readonly qty: number }[]

/** Options of one piece each that many demands have alike: the least compromise first. One object for all of them. */
export type Pool = {
  readonly items: readonly number[]
  readonly compromises: readonly number[]
}

/**
 * The ways to cover a required piece, by their numbers; in arrays, as there may be very many. Those of the pool follow
 * the demand's own; an item of both is had at the lesser compromise.
 */
export type Options = {
  /** The item each takes one piece of; `KIT` where it takes more than that. */
  readonly items: readonly number[]
  readonly compromises: readonly number[]
  /** What those take that take several pieces. */
  readonly kits: ReadonlyMap<number, Components>
  /** The scheme of the demand's group that each belongs to, where it is not any scheme. */
  readonly schemes?: readonly (string | undefined)[] | undefined
  readonly pool?: Pool | undefined
}
export const KIT = -1
/** For options that take one piece each. */
export const NO_KITS: ReadonlyMap<number, Components> = new Map()

/** Lines that accept the same: so many pieces, each covered by one of the options. */
export type CoverDemand = {
  readonly qty: number
  readonly options: Options
  /** Demands of one group are covered by options of one scheme. */
  readonly group?: string | undefined
}
/**
 * What there is of each item, in tiers of one rank, lowest first. The tiers of an item lie side by side: from `from` of
 * it up to that of the next, so `from` has one number more than there are items.
 */
export type Stock = {
  readonly from: ArrayLike<number>
  readonly rank: ArrayLike<number>
  readonly qty: ArrayLike<number>
}

/** What covers a demand: in turn an option and the required pieces it covers, in the order of the options. */
export type Covered = readonly number[]
/** What covers each demand. */
export type Cover = readonly Covered[]
/** A cover of some demands; `proven` when none is better. */
export type GroupPlan = {
  readonly cover: Cover
  readonly proven: boolean
  /** Options of the smallest group that is not proven. */
  readonly unproven?: number | undefined
  /** Where it is not proven how much better the best cover may be. */
  readonly slack?: Slack | undefined
}
export type CoverPlan = GroupPlan & {
  /** The scheme each group of demands took. */
  readonly schemes: ReadonlyMap<string, string>
}
/**
 * How much better than a cover the best one may be at most: so many pieces fewer short; where none, by so much less
 * compromise.
 */
export type Slack = { readonly short: number; readonly compromise: number }

/** What is known of all covers of some demands: none leaves fewer short, and one that leaves as few compromises no less. */
export type Least = { readonly short: number; readonly compromise: number }

/** How much better than a cover of some value the best one may be, by what is known of all. */
export const slackTo = (least: Least, { short, compromise }: Least): Slack => ({
  short: Math.max(0, short - least.short),
  compromise: least.short < short ? compromise : Math.max(0, compromise - least.compromise),
})

/** What a cover is judged by, first to last. */
export type Value = { readonly short: number; readonly compromise: number; readonly rank: number }

/** How many options there are, those of the pool included. */
export const sizeOf = ({ items, pool }: Pick<Options, 'items' | 'pool'>): number =>
  pool ? items.length + pool.items.length : items.length

/** The item that an option takes one piece of, or `KIT`. */
export const itemOf = ({ items, pool }: Pick<Options, 'items' | 'pool'>, option: number): number =>
  (option < items.length ? items[option] : pool?.items[option - items.length]) as number

export const compromiseOf = ({ compromises, pool }: Pick<Options, 'compromises' | 'pool'>, option: number): number =>
  (option < compromises.length ? compromises[option] : pool?.compromises[option - compromises.length]) as number

export const componentsOf = (options: Pick<Options, 'items' | 'kits' | 'pool'>, option: number): Components => {
  const item = itemOf(options, option)
  return item === KIT ? (options.kits.get(option) ?? []) : [{ item, qty: 1 }]
}

/** The same options, all of them the demand's own, by the same numbers. */
export function withoutPool(options: Options): Options {
  const { pool, ...own } = options
  if (!pool) return own
  return {
    ...own,
    items: [...own.items, ...pool.items],
    compromises: [...own.compromises, ...pool.compromises],
  }
}

/** Options made elsewhere, one object each. */
export function optionsFrom(
  list: readonly { readonly uses: Components; readonly compromise: number; readonly scheme?: string | undefined }[],
): Options {
  const several = new Map<number, Components>()
  const items = list.map(({ uses }, i) => {
    const [use] = uses
    if (use?.qty === 1 && uses.length === 1) return use.item
    several.set(i, uses)
    return KIT
  })
  const schemes = list.some((o) => o.scheme !== undefined) ? list.map((o) => o.scheme) : undefined
  return {
    items,
    compromises: list.map((o) => o.compromise),
    kits: several.size > 0 ? several : NO_KITS,
    ...(schemes && { schemes }),
  }
}

/** Nothing covers a demand. */
export const UNCOVERED: Covered = []

/** What covers a demand with so many pieces more by an option; a demand of which nothing was known before gets a list of its own. */
export function addCovered(covered: Covered, option: number, pieces: number): Covered {
  if (pieces === 0) return covered
  if (covered === UNCOVERED) return [option, pieces]
  const own = covered as number[]
  let at = 0
  while (at < own.length && own[at] < option) at += 2
  if (own[at] === option) own[at + 1] += pieces
  else if (at === own.length) return withMore(own, option, pieces)
  else own.splice(at, 0, option, pieces)
  return own
}

/** Pushing would make room for many more. */
function withMore(own: Covered, option: number, pieces: number): Covered {
  const more = new Array<number>(own.length + 2)
  for (let i = 0; i < own.length; i++) more[i] = own[i]
  more[own.length] = option
  more[own.length + 1] = pieces
  return more
}

/** The pieces that an option covers. */
export function piecesCovered(covered: Covered | undefined, option: number): number {
  for (let at = 0; covered && at < covered.length; at += 2) if (covered[at] === option) return covered[at + 1]
  return 0
}

/** Items are numbered below this. */
export const itemsIn = ({ from }: Stock): number => from.length - 1

export const piecesIn = ({ from, qty }: Stock, item: number): number => {
  let pieces = 0
  for (let tier = from[item]; tier < from[item + 1]; tier++) pieces += qty[tier]
  return pieces
}

/** Whether a value is better than another: fewer short, then less compromise, then preferred sources. */
export const isBetter = (p: Value, q: Value): boolean =>
  p.short !== q.short
    ? p.short < q.short
    : p.compromise !== q.compromise
      ? p.compromise < q.compromise
      : p.rank < q.rank

/** What a cover is worth; within an item, sources of the lowest rank are drawn first. */
export function valueOf(demands: readonly CoverDemand[], cover: Cover, stock: Stock): Value {
  let [short, compromise, rank] = [0, 0, 0]
  const drawn = new Map<number, number>()
  for (const [n, { qty, options }] of demands.entries()) {
    short += qty
    const own = cover[n] ?? []
    for (let at = 0; at < own.length; at += 2) {
      const [o, covered] = [own[at], own[at + 1]]
      short -= covered
      compromise += covered * compromiseOf(options, o)
      for (const use of componentsOf(options, o)) drawn.set(use.item, (drawn.get(use.item) ?? 0) + use.qty * covered)
    }
  }
  for (const [item, pieces] of drawn) {
    let open = pieces
    for (let tier = stock.from[item]; tier < stock.from[item + 1]; tier++) {
      const taken = Math.min(open, stock.qty[tier])
      rank += taken * stock.rank[tier]
      open -= taken
    }
  }
  return { short, compromise, rank }
}
