import { splitItemKey, type ItemKey } from '../catalogue/item.ts'
import type { Part } from '../catalogue/part.ts'
import type { Colour } from '../colours/colour.ts'
import { ciede2000, hexToLab, type Lab } from '../colours/distance.ts'
import { LOOK_ALIKE } from '../studies/recolouring.ts'
import type { ColourId, PartId } from '../units/ids.ts'

/** Two items that are taken for one another at the table, and how alike they are: 1 the same to the eye, towards 0 less. */
export type Confusable = {
  readonly one: ItemKey
  readonly other: ItemKey
  readonly by: 'colour' | 'shape'
  readonly alike: number
}

/** How alike two moulds of one colour are that differ in hand, slope or mould alone; and those one stud longer. */
const SAME_FOOTPRINT = 0.6
const A_STUD_LONGER = 0.3
/** Below this length in studs one stud more is seen at a glance. */
const LONG = 5

/**
 * Which of some items are taken for one another: the same part in colours of one finish that look alike (CIEDE2000 below
 * `LOOK_ALIKE`), and parts of one colour that differ in hand, slope, mould or a stud of length. Parts and colours
 * that are not known are alike to none. Grows with the items of one part, and of one colour and family.
 */
export function confusables(
  items: readonly ItemKey[],
  parts: ReadonlyMap<PartId, Part>,
  colours: ReadonlyMap<ColourId, Colour>,
): Confusable[] {
  const labs = new Map<ColourId, Lab>()
  const labOf = (id: ColourId): Lab | undefined => {
    const known = labs.get(id)
    const colour = known ? undefined : colours.get(id)
    if (colour && colour.guessed !== true) labs.set(id, hexToLab(colour.hex))
    return labs.get(id)
  }
  const byMould = new Map<string, { readonly item: ItemKey; readonly colour: ColourId }[]>()
  const byShape = new Map<string, { readonly item: ItemKey; readonly part: Part }[]>()
  for (const item of new Set(items)) {
    const { part: id, colour, decoration } = splitItemKey(item)
    push(byMould, `${id}\n${decoration}`, { item, colour })
    const part = parts.get(id)
    if (part && part.shape.width > 0)
      push(byShape, `${part.shape.family} ${part.shape.width} ${colour} ${decoration}`, { item, part })
  }
  const found: Confusable[] = []
  for (const own of byMould.values())
    for (const [i, p] of own.entries())
      for (const q of own.slice(i + 1)) {
        const [a, b] = [labOf(p.colour), labOf(q.colour)]
        const oneFinish = colours.get(p.colour)?.finish === colours.get(q.colour)?.finish
        const distance = a && b && oneFinish ? ciede2000(a, b) : Infinity
        if (distance < LOOK_ALIKE)
          found.push({ one: p.item, other: q.item, by: 'colour', alike: 1 - distance / LOOK_ALIKE / 2 })
      }
  for (const own of byShape.values())
    for (const [i, p] of own.entries())
      for (const q of own.slice(i + 1)) {
        const alike = shapesAlike(p.part, q.part)
        if (alike > 0) found.push({ one: p.item, other: q.item, by: 'shape', alike })
      }
  return found
}

function shapesAlike({ shape: p }: Part, { shape: q }: Part): number {
  if (p.height !== q.height) return 0
  if (p.length === q.length) return SAME_FOOTPRINT
  return Math.abs(p.length - q.length) <= 1 && Math.min(p.length, q.length) >= LONG ? A_STUD_LONGER : 0
}

function push<K, T>(lists: Map<K, T[]>, key: K, value: T): void {
  const list = lists.get(key)
  if (list) list.push(value)
  else lists.set(key, [value])
}
