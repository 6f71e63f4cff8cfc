import { splitItemKey, type ItemKey } from '../catalogue/item.ts'
import type { Part } from '../catalogue/part.ts'
import type { PartId } from '../units/ids.ts'
import type { DesignLine, Module, Slot } from './design.ts'

const GUESSES: readonly (readonly [RegExp, Slot])[] = [
  [/^figure head/, 'head'],
  [/^figure (hair|hat)/, 'hair or hat'],
  [/^figure torso/, 'torso'],
  [/^figure arm\b.*\bleft|left.*\bfigure arm/, 'left arm'],
  [/^figure arm/, 'right arm'],
  [/^figure legs/, 'hips and legs'],
  [/\b(cape|collar|scarf|beard)\b/, 'neck'],
]

/** The slot of a figure that a part belongs in by its name and hand; an accessory when it is none of the body. */
export function guessSlot(part: Part): Slot {
  const name = part.name.toLowerCase()
  const hand = part.shape.hand === 'left' ? ' left' : ''
  return GUESSES.find(([pattern]) => pattern.test(name + hand))?.[1] ?? 'accessory'
}

const TWO_FACED = /\b(two|double|second)[\s-]*(faces?|faced|sided)\b/
/** Headgear that leaves the back of a head in sight. */
const OPEN = /\b(bald|cap|band|crown|visor|bun|short|cropped|open|tiara|goggles|headphones)\b/

/** Why the back of a figure's head may be seen although a second face is printed there; undefined when it is not. */
export function secondFaceShows(
  figure: Pick<Module, 'lines'>,
  parts: ReadonlyMap<PartId, Part>,
): { readonly head: ItemKey; readonly under: ItemKey | undefined } | undefined {
  const said = (item: ItemKey) => {
    const { part, decoration } = splitItemKey(item)
    return `${parts.get(part)?.name ?? part.replace(/-/g, ' ')} ${decoration}`.toLowerCase()
  }
  const inSlot = (line: DesignLine, slot: Slot, family: RegExp) =>
    line.slot === slot || (line.slot === undefined && family.test(said(line.item)))
  const head = figure.lines.find((l) => inSlot(l, 'head', /^figure head/) && TWO_FACED.test(said(l.item)))
  if (!head) return undefined
  const headgear = figure.lines.filter((l) => inSlot(l, 'hair or hat', /^figure (hair|hat)/))
  const shows = headgear.find((l) => OPEN.test(said(l.item)))
  if (headgear.length > 0 && !shows) return undefined
  return { head: head.item, under: shows?.item }
}
