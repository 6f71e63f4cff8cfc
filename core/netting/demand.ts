import type { ItemKey } from '../catalogue/item.ts'
import type { Design, Visibility } from '../design/design.ts'
import { explode, type Requirement } from '../design/explode.ts'
import type { ModuleId } from '../units/ids.ts'
import type { DecisionBook } from '../build/decision.ts'
import type { Snapshot } from './snapshot.ts'
import { asksForMore, wishKey, wishOf, type Wish } from './stand-ins.ts'
import type { Stock } from './stock.ts'

/** The requirements of a design, those that the same pieces fulfil in one class. */
export type Requirements = {
  readonly list: readonly Requirement[]
  /** Of each requirement its pieces, those of them that finished models are, and the modules around it (in `paths`). */
  readonly qtyOf: Int32Array
  readonly builtOf: Int32Array
  readonly pathOf: Int32Array
  readonly paths: readonly (readonly ModuleId[])[]
  /** Of each requirement the number of its class. */
  readonly classOf: Int32Array
  /** What the requirements of each class ask for. */
  readonly wishes: readonly Wish[]
  /** A name for what a class asks for (`wishKey`). */
  readonly keyOf: (c: number) => string
  /** The first of them, before any decision: one list as long as the design stays. */
  readonly plainWishes: readonly Wish[]
  /** Pieces of each class that are not in finished models. */
  readonly open: Float64Array
  /** Whether any line waits for what others leave over, or prints are added up to runs. */
  readonly leftovers: boolean
  /** The classes of lines with pins. */
  readonly pinned: ReadonlySet<number>
}

type Asking = Pick<Snapshot, 'design' | 'parts' | 'explosion'>

/** The last explosion of a design: most tallies are made anew because of something else. */
type Exploded = { readonly parts: Snapshot['parts']; readonly list: readonly Requirement[]; found?: Requirements }
const exploded = new WeakMap<Design, Exploded>()

function explosionOf({ design, parts, explosion }: Asking): Exploded {
  if (explosion) return { parts, list: explode(design, { parts, ...explosion }) }
  const before = exploded.get(design)
  if (before?.parts === parts) return before
  const now = { parts, list: explode(design, { parts }) }
  exploded.set(design, now)
  return now
}

/** Everything a design needs (`explode`); the same list as long as the design stays. */
export const requirementList = (asking: Asking): readonly Requirement[] => explosionOf(asking).list

/** Numbers wishes, equal ones alike; `after` follows those that have numbers already. */
function numbering(after: readonly Wish[]) {
  const wishes = [...after]
  const keys: (string | undefined)[] = []
  const known = new Map<string, number>()
  const plain: Record<Visibility, Map<ItemKey, number>> = { seen: new Map(), hidden: new Map(), structural: new Map() }
  return {
    wishes,
    /** Found when first asked for: most are not. */
    keyOf: (c: number): string => (keys[c] ??= wishKey(wishes[c] as Wish)),
    /** The number of a wish among those that are marked alike. */
    numberOf(wish: Wish, mark = ''): number {
      const key = wishKey(wish)
      const before = known.get(mark + key)
      if (before !== undefined) return before
      known.set(mark + key, wishes.length)
      return wishes.push(wish) - 1
    },
    /** The number of a wish that is an item and where it is seen, and nothing beside: most are. */
    numberOfPlain(item: ItemKey, visibility: Visibility): number {
      const before = plain[visibility].get(item)
      if (before !== undefined) return before
      plain[visibility].set(item, wishes.length)
      return wishes.push({ item, visibility }) - 1
    },
  }
}

function classify(list: readonly Requirement[]): Requirements {
  const { wishes, keyOf, numberOf, numberOfPlain } = numbering([])
  const classOf = new Int32Array(list.length)
  const qtyOf = new Int32Array(list.length)
  const builtOf = new Int32Array(list.length)
  const pathOf = new Int32Array(list.length)
  const paths: (readonly ModuleId[])[] = []
  let leftovers = false
  for (let i = 0; i < list.length; i++) {
    const r = list[i] as Requirement
    const { visibility = 'seen', meanwhile, print } = r.source
    classOf[i] = asksForMore(r) ? numberOf(wishOf(r)) : numberOfPlain(r.item, visibility)
    qtyOf[i] = r.qty
    builtOf[i] = r.built
    // Lines of a place follow one another.
    if (r.path !== paths.at(-1)) paths.push(r.path)
    pathOf[i] = paths.length - 1
    if (meanwhile !== undefined || print !== undefined) leftovers = true
  }
  const pieces = { qtyOf, builtOf, pathOf, paths }
  const open = openPieces(pieces, classOf, wishes.length)
  return { list, ...pieces, classOf, wishes, keyOf, plainWishes: wishes, open, leftovers, pinned: new Set() }
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
export function requirementsOf(asking: Asking, book: DecisionBook): Requirements {
  const before = explosionOf(asking)
  const all = (before.found ??= classify(before.list))
  if (book.empty) return all
  const pins = new Set(book.pins.map((p) => p.pin.line))
  const pinned = new Set<number>()
  const classOf = all.classOf.slice()
  const { wishes, keyOf, numberOf } = numbering(all.wishes)
  for (const [i, r] of all.list.entries()) {
    const isPinned = pins.has(r.line)
    if (!isPinned && !book.concerns(r.source.id, r.item)) continue
    const number = numberOf(wishOf(r, book), isPinned ? 'pinned ' : '')
    if (isPinned) pinned.add(number)
    classOf[i] = number
  }
  return { ...all, classOf, wishes, keyOf, open: openPieces(all, classOf, wishes.length), pinned }
}

/** The place of what a wish asks for among the items of a stock; −1 where it is not there. */
export const placeIn = ({ places }: Pick<Stock, 'places'>, { item }: Wish): number => places.get(item) ?? -1

/** By the items of a stock: rules may change without them. */
const placesKept = new WeakMap<Stock['items'], { readonly wishes: readonly Wish[]; readonly places: Int32Array }>()

/** The places of what wishes ask for; those of the last wishes are kept. */
export function placesIn(stock: Pick<Stock, 'places' | 'items'>, wishes: readonly Wish[]): Int32Array {
  const kept = placesKept.get(stock.items)
  if (kept?.wishes === wishes) return kept.places
  const places = new Int32Array(wishes.length)
  for (let c = 0; c < wishes.length; c++) places[c] = placeIn(stock, wishes[c] as Wish)
  placesKept.set(stock.items, { wishes, places })
  return places
}
