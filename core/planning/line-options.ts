import { splitItemKey, type ItemKey } from '../catalogue/item.ts'
import type { Accept } from '../netting/problem.ts'
import type { ColourId } from '../units/ids.ts'
import type { Snapshot } from './snapshot.ts'
import {
  candidates,
  lengthOf,
  mayCut,
  POINTS,
  stockOf,
  wishKey,
  type Candidate,
  type StandInKind,
  type Wish,
} from './stand-ins.ts'
import type { Supply } from './supplies.ts'

/** What an option is to a line: the piece itself or why it stands in, and its points of compromise. */
export type Meaning = { readonly kind: StandInKind | 'exact'; readonly points: number }
export type LineOptions = { readonly accepts: readonly Accept[]; readonly meaning: ReadonlyMap<string, Meaning> }

/** Weight that makes any donor piece better than any other, when the aim is to use up the donors. */
const ABOVE_ALL = 10_000

/** Supplies of one item that the rules tell apart. */
type Variant = Pick<Supply, 'hiddenOnly' | 'donor' | 'length' | 'applied'> & { readonly key: string }

/** The name under which a supply is netted: its item and variant. */
export function variantKey({ item, hiddenOnly, donor, length, applied }: Omit<Variant, 'key'> & { item: ItemKey }) {
  return `${item}\n${hiddenOnly ? 'h' : ''}${donor ? 'd' : ''}${applied ? 'a' : ''}${length ?? ''}`
}

/** The options of a line, by its wish, as the rules allow and supplies exist; kept once found. */
export function optionFinder(snapshot: Snapshot, supplies: readonly Supply[]) {
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
  const kept = new Map<string, LineOptions>()

  return (wish: Wish): LineOptions => {
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
