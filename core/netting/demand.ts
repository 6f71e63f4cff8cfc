import type { ItemKey } from '../catalogue/item.ts'
import type { Design, Visibility, Freedom } from '../design/design.ts'
import { explode, type Requirement } from '../design/explode.ts'
import type { ModuleId, ColourId } from '../units/ids.ts'
import type { DecisionBook } from '../build/decision.ts'
import type { Snapshot } from './snapshot.ts'
import { purpose, type Memory } from '../units/memory.ts'

import type { Stock } from './stock.ts'
import type { Candidate } from './stand-ins/candidate.ts'

/** The requirements of a design, those that the same pieces fulfil in one class. */
export type Requirements = {
  readonly list: readonly Requirement[]
  /** Of each requirement its pieces, those of them that finished models are, and the modules around it (in `paths`). */
  readonly qtyOf: Int32Array
  readonly builtOf: Int32Array
  /** The colours of groups of which pieces are built in already. */
  readonly builtIn: ReadonlyMap<string, ColourId>
  readonly pathOf: Int32Array
  readonly paths: readonly (readonly ModuleId[])[]
  /** Of each requirement the number of its class. */
  readonly classOf: Int32Array
  /** What the requirements of each class ask for. */
  readonly demands: readonly Demand[]
  /** A name for what a class asks for (`demandKey`). */
  readonly keyOf: (c: number) => string
  /** The first of them, before any decision: one list as long as the design stays. */
  readonly plainDemands: readonly Demand[]
  /** Pieces of each class that are not in finished models. */
  readonly open: Float64Array
  /** Whether any line waits for what others leave over, or prints are added up to runs. */
  readonly leftovers: boolean
  /** The classes of lines with pins. */
  readonly pinned: ReadonlySet<number>
}

type Asking = Pick<Snapshot, 'design' | 'parts' | 'explosion' | 'made'>

/** The last explosion of a design: most tallies are made anew because of something else. */
type Exploded = Pick<Snapshot, 'parts' | 'made'> & { readonly list: readonly Requirement[]; found?: Requirements }
const EXPLOSIONS = purpose<Design, Exploded>('explosions of designs')

function explosionOf({ design, parts, explosion, made }: Asking, memory: Memory): Exploded {
  const options = { parts, ...(made && { made }) }
  if (explosion) return { ...options, list: explode(design, { ...options, ...explosion }) }
  const exploded = memory.for(EXPLOSIONS)
  const before = exploded.get(design)
  if (before?.parts === parts && before.made === made) return before
  const now = { ...options, list: explode(design, options) }
  exploded.set(design, now)
  return now
}

/** Everything a design needs (`explode`); the same list as long as the design stays. */
export const requirementList = (asking: Asking, memory: Memory): readonly Requirement[] =>
  explosionOf(asking, memory).list

/** Numbers demands, equal ones alike; `after` follows those that have numbers already. */
function numbering(after: readonly Demand[]) {
  const demands = [...after]
  const keys: (string | undefined)[] = []
  const known = new Map<string, number>()
  const plain: Record<Visibility, Map<ItemKey, number>> = { seen: new Map(), hidden: new Map(), structural: new Map() }
  return {
    demands,
    /** Found when first asked for: most are not. */
    keyOf: (c: number): string => (keys[c] ??= demandKey(demands[c] as Demand)),
    /** The number of a demand among those that are marked alike. */
    numberOf(demand: Demand, mark = ''): number {
      const key = demandKey(demand)
      const before = known.get(mark + key)
      if (before !== undefined) return before
      known.set(mark + key, demands.length)
      return demands.push(demand) - 1
    },
    /** The number of a demand that is an item and where it is seen, and nothing beside: most are. */
    numberOfPlain(item: ItemKey, visibility: Visibility): number {
      const before = plain[visibility].get(item)
      if (before !== undefined) return before
      plain[visibility].set(item, demands.length)
      return demands.push({ item, visibility }) - 1
    },
  }
}

function classify(list: readonly Requirement[]): Requirements {
  const { demands, keyOf, numberOf, numberOfPlain } = numbering([])
  const classOf = new Int32Array(list.length)
  const qtyOf = new Int32Array(list.length)
  const builtOf = new Int32Array(list.length)
  const builtIn = new Map<string, ColourId>()
  const pathOf = new Int32Array(list.length)
  const paths: (readonly ModuleId[])[] = []
  let leftovers = false
  for (let i = 0; i < list.length; i++) {
    const r = list[i] as Requirement
    const { visibility = 'seen', meanwhile, print } = r.source
    classOf[i] = hasConditions(r) ? numberOf(demandOf(r)) : numberOfPlain(r.item, visibility)
    qtyOf[i] = r.qty
    builtOf[i] = r.built
    if (r.builtColour !== undefined && r.source.group !== undefined && !builtIn.has(r.source.group))
      builtIn.set(r.source.group, r.builtColour)
    // Lines of one path follow one another.
    if (r.path !== paths.at(-1)) paths.push(r.path)
    pathOf[i] = paths.length - 1
    if (meanwhile !== undefined || print !== undefined) leftovers = true
  }
  const pieces = { qtyOf, builtOf, builtIn, pathOf, paths }
  const open = openPieces(pieces, classOf, demands.length)
  return { list, ...pieces, classOf, demands, keyOf, plainDemands: demands, open, leftovers, pinned: new Set() }
}

function openPieces(
  { qtyOf, builtOf }: Pick<Requirements, 'qtyOf' | 'builtOf'>,
  classOf: Int32Array,
  classes: number,
): Float64Array {
  const open = new Float64Array(classes)
  for (let i = 0; i < classOf.length; i++) {
    const c = classOf[i] as number
    open[c] = (open[c] as number) + (qtyOf[i] as number) - (builtOf[i] as number)
  }
  return open
}

/**
 * Explodes a snapshot's design and sorts what it needs into classes. Requirements that a decision is about have classes
 * of their own, and so have lines with pins.
 */
export function requirementsOf(asking: Asking, book: DecisionBook, memory: Memory): Requirements {
  const before = explosionOf(asking, memory)
  const all = (before.found ??= classify(before.list))
  if (book.empty) return all
  const pins = new Set(book.pins.map((p) => p.pin.line))
  const pinned = new Set<number>()
  const classOf = all.classOf.slice()
  const { demands, keyOf, numberOf } = numbering(all.demands)
  for (const [i, r] of all.list.entries()) {
    const isPinned = pins.has(r.line)
    if (!isPinned && !book.concerns(r.source.id, r.item)) continue
    const number = numberOf(demandOf(r, book), isPinned ? 'pinned ' : '')
    if (isPinned) pinned.add(number)
    classOf[i] = number
  }
  return { ...all, classOf, demands, keyOf, open: openPieces(all, classOf, demands.length), pinned }
}

/** The index of what a demand asks for among the items of a stock; −1 where it is not there. */
export const indexIn = ({ indexes }: Pick<Stock, 'indexes'>, { item }: Demand): number => indexes.get(item) ?? -1

/** What a line asks for: all that decides which pieces will do. */
export type Demand = {
  readonly item: ItemKey
  readonly visibility: Visibility
  readonly freedom?: Freedom | undefined
  readonly palette?: readonly ColourId[] | undefined
  /** Length in mm, where the name's does not count. */
  readonly length?: number | undefined
  /** What will do instead, best first. */
  readonly instead?: readonly Candidate['uses'][] | undefined
  /** Printed to order. */
  readonly print?: boolean | undefined
  /** A sticker that must not have been applied. */
  readonly unused?: boolean | undefined
  /** Shares its colour with the lines of this group. */
  readonly group?: string | undefined
  /** What the user forbids, and what the user finds as good as the item: `usesKey`s. */
  readonly forbidden?: readonly string[] | undefined
  readonly accepted?: readonly string[] | undefined
}

const NONE: readonly string[] = []

/** Whether a requirement says more of what will do than its item and where it is seen. */
export const hasConditions = ({ source, instead }: Pick<Requirement, 'source' | 'instead'>): boolean =>
  source.freedom !== undefined ||
  source.length !== undefined ||
  source.print !== undefined ||
  source.use === 'unused' ||
  source.group !== undefined ||
  instead.length > 0

/** The demand of a requirement, with what the user decided of its line. */
export function demandOf(
  requirement: Pick<Requirement, 'item' | 'source' | 'instead'>,
  book?: Pick<DecisionBook, 'forbidden' | 'accepted'>,
): Demand {
  const { item, source, instead } = requirement
  const { visibility = 'seen', freedom, palette, length, print, use, group } = source
  const forbidden = book?.forbidden(source.id, item) ?? NONE
  const accepted = book?.accepted(source.id, item) ?? NONE
  if (!hasConditions(requirement) && forbidden.length === 0 && accepted.length === 0) return { item, visibility }
  return {
    item,
    visibility,
    ...(freedom && { freedom }),
    ...(freedom === 'palette' && palette && { palette }),
    ...(length !== undefined && { length }),
    ...(instead.length > 0 && { instead }),
    ...(print && { print: true }),
    ...(use === 'unused' && { unused: true }),
    ...(group !== undefined && { group }),
    ...(forbidden.length > 0 && { forbidden }),
    ...(accepted.length > 0 && { accepted }),
  }
}

/** The demand of a line whose group has chosen its colour: what is bought for it must have that one. */
export function demandInScheme(demand: Demand, wanted: ItemKey): Demand {
  if (demand.group === undefined) return demand
  const { group: _, ...bare } = demand
  return { ...bare, item: wanted, freedom: 'exact' }
}

/** Equal for demands that the same pieces fulfil; begins with the item and a line feed, unless it is the item alone. */
export function demandKey(demand: Demand): string {
  const { item, visibility } = demand
  let fields = 0
  for (const _ in demand) fields++
  // Nothing beside the two.
  if (fields === 2) return visibility === 'seen' ? item : `${item}\n${visibility}`
  if (fields === 3 && demand.freedom) return `${item}\n${visibility}\n${demand.freedom}`
  const { item: _, visibility: __, ...rest } = demand
  return `${item}\n${visibility}\n${JSON.stringify(rest)}`
}
