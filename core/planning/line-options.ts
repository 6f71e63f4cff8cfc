import { splitItemKey, type ItemKey } from '../catalogue/item.ts'
import type { Accept } from '../netting/problem.ts'
import type { ColourId } from '../units/ids.ts'
import type { OwnRule } from './decision.ts'
import type { Snapshot } from './snapshot.ts'
import {
  candidates,
  lengthOf,
  mayCut,
  POINTS,
  wishKey,
  type Candidate,
  type StandInKind,
  type Wish,
} from './stand-ins.ts'
import type { StockIndex } from './stock-index.ts'
import type { Variant } from './supplies.ts'

/** What an option is to a line: the piece itself or why it stands in, and its points of compromise. */
export type Meaning = {
  readonly kind: StandInKind | 'exact'
  readonly points: number
  readonly uses: Candidate['uses']
}
/** An option as the solver takes it, with the items it draws on by their place in the stock. */
export type LineOption = Accept & {
  readonly draws: readonly { readonly index: number; readonly qty: number }[]
  readonly meaning: Meaning
}
export type OptionFinder = {
  /** The options of a wish; one array for equal wishes. */
  optionsOf(wish: Wish): readonly LineOption[]
}

/** Weight that makes any donor piece better than any other, when the aim is to use up the donors. */
const ABOVE_ALL = 10_000

/** The options of lines, by their wishes, as the rules allow and supplies exist; kept once found. `weighed`: compromise counts in minor units. */
export function optionFinder(
  snapshot: Pick<Snapshot, 'build' | 'parts'>,
  { stock, variants }: StockIndex,
  own: readonly OwnRule[],
  weighed: boolean,
  priceOf: (item: ItemKey) => number | undefined,
): OptionFinder {
  const { build, parts } = snapshot
  const { rules } = build
  const byWish = new Map<string, readonly LineOption[]>()
  const byObject = new WeakMap<Wish, readonly LineOption[]>()
  const owner = {}

  const accept = (meaning: Meaning, drawn: readonly Draw[], scheme: ColourId | undefined): LineOption => {
    const { kind, points } = meaning
    let id = `${kind} ${points}`
    for (const { variant, qty } of drawn) id += `\n${qty} ${variant.key}`
    const outside = rules.aim === 'use up the donors' && !drawn.every(({ variant }) => variant.donor)
    return {
      id,
      uses: drawn.map(({ variant, qty }) => ({ item: variant.key, qty })),
      draws: drawn.map(({ variant, qty }) => ({ index: variant.index, qty })),
      meaning,
      compromise: points * (weighed ? rules.pointPrice : 1) + (outside ? ABOVE_ALL : 0),
      ...(scheme === undefined ? {} : { scheme }),
    }
  }

  /** Options of a candidate that mean the same to every line: one object for all. */
  const sharedOptions = (candidate: Candidate): readonly LineOption[] | undefined => {
    if (candidate.memo?.owner === owner) return candidate.memo.options as readonly LineOption[] | undefined
    const held = candidate.from?.variants
    const options = held?.every((v) => v.plain)
      ? held.map((variant) => accept(candidate, [{ variant, qty: 1 }], undefined))
      : undefined
    candidate.memo = { owner, options }
    return options
  }

  const optionsOf = (wish: Wish): readonly LineOption[] => {
    const known = byObject.get(wish)
    if (known) return known
    const found = findOptions(wish)
    byObject.set(wish, found)
    return found
  }

  const findOptions = (wish: Wish): readonly LineOption[] => {
    const name = wishKey(wish)
    const before = byWish.get(name)
    if (before) return before
    const { item, visibility } = wish
    const accepts: LineOption[] = []
    const part = parts.get(splitItemKey(item).part)
    const needed = wish.length ?? lengthOf(part)
    const seen = new Set<string>()
    // Who would rather buy than compromise uses a stand-in only for what no shop sells.
    const exactOnly =
      rules.aim === 'least compromise' && rules.sources === 'donors, shelf and shops' && priceOf(item) !== undefined
    for (const candidate of candidates(wish, rules, stock, own)) {
      if (exactOnly && candidate.kind !== 'exact') continue
      const shared =
        needed === undefined && wish.group === undefined && candidate.from ? sharedOptions(candidate) : undefined
      if (shared) {
        for (const one of shared) accepts.push(one)
        continue
      }
      const choices = candidate.uses.map((use) => draws(variants.get(use.item) ?? [], use.qty))
      for (const combination of combine(choices)) {
        const used = combination.flat()
        if (used.some(({ variant: v }) => (v.hiddenOnly && visibility !== 'hidden') || (v.applied && wish.unused)))
          continue
        let meaning: Meaning = candidate
        const length =
          used[0]?.variant.length ?? lengthOf(parts.get(splitItemKey(candidate.uses[0]?.item ?? item).part))
        if (needed !== undefined && length !== undefined && length !== needed) {
          if (length < needed || !mayCut(part, rules.altering)) continue
          if (meaning.kind === 'exact') meaning = { ...candidate, kind: 'length', points: POINTS.length }
        }
        const option = accept(meaning, used, schemeOf(wish, candidate))
        if (seen.has(option.id)) continue
        seen.add(option.id)
        accepts.push(option)
      }
    }
    byWish.set(name, accepts)
    return accepts
  }
  return { optionsOf }
}

/** The colour that an option of a coherent group's line puts it in. */
export function schemeOf({ group, item }: Wish, { kind, uses }: Candidate): ColourId | undefined {
  if (group === undefined) return undefined
  const [use] = uses
  const own = kind === 'exact' || kind === 'colour' || kind === 'mould' || kind === 'split' || kind === 'chosen'
  return splitItemKey(own ? (use?.item ?? item) : item).colour
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
