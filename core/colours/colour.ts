import * as v from 'valibot'
import { ColourIdSchema } from '../units/ids.ts'

export const FINISHES = ['opaque', 'clear', 'metal', 'shimmer', 'glow'] as const
export type Finish = (typeof FINISHES)[number]

export const ColourSchema = v.object({
  id: ColourIdSchema,
  name: v.pipe(v.string(), v.minLength(1), v.maxLength(80)),
  finish: v.picklist(FINISHES),
  /** sRGB as `#rrggbb`, lower case. */
  hex: v.pipe(v.string(), v.regex(/^#[0-9a-f]{6}$/)),
  /** Other names this colour is known by in imported lists, normalised by `colourKey`. */
  aliases: v.array(v.pipe(v.string(), v.maxLength(80))),
  /** Value and finish are guessed by the name, and nobody has said that they are right. */
  guessed: v.optional(v.boolean()),
})
export type Colour = v.InferOutput<typeof ColourSchema>

/** The form in which words are looked for: lower case, British spelling, no accents, punctuation or doubled spaces. */
export function searchKey(text: string): string {
  return text
    .toLowerCase()
    .normalize('NFKD')
    .replace(/[\u0300-\u036f]/g, '')
    .replace(/\bgray\b/g, 'grey')
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim()
}

/**
 * The form in which colour names (and codes) are compared: that of words, with the signs that stand at the end of a name
 * ("Blue+" is not "Blue"); a name of signs alone is compared as it is.
 */
export function colourKey(name: string): string {
  const words = searchKey(name)
  if (words === '') return name.trim().toLowerCase()
  const signs = /[\p{L}\p{N}]([+\-−*#]+)\s*$/u.exec(name)?.[1]
  const symbols = name.match(/\p{So}/gu)?.filter((s) => s !== '°')
  return [words, ...(signs === undefined ? [] : [signs]), ...(symbols ?? [])].join(' ')
}

/** Index from every name and alias to its colour; earlier colours win a tie. */
export function colourIndex(colours: readonly Colour[]): Map<string, Colour> {
  const index = new Map<string, Colour>()
  for (const colour of colours)
    for (const key of [colourKey(colour.name), ...colour.aliases]) if (!index.has(key)) index.set(key, colour)
  return index
}
