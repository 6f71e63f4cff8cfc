import { estimateMass } from './mass.ts'
import type { Family, Hand, Shape } from './shape.ts'

/** What a plain English part name says. */
export type PartReading = {
  readonly shape: Shape
  /** The name tidied: family, size, height, angle, then what else it says in its own order. */
  readonly name: string
  /** The name in a fixed word order, so that spellings of one shape meet; the trimmed input for an unknown shape. */
  readonly canonical: string
  /** False when no family word was found: the part is usable, but its shape is unknown. */
  readonly known: boolean
}

/** Family phrases, most specific first; the first whose words all occur (in any order) wins. */
const PHRASES: readonly (readonly [Family, string])[] = [
  ['accessory', 'accessory'],
  ['sticker sheet', 'sticker sheet'],
  ['sticker sheet', 'stickers'],
  ['figure head', 'head'],
  ['figure hair', 'hair'],
  ['figure hat', 'hat|helmet|cap|hood'],
  ['figure torso', 'torso'],
  ['figure arm', 'arm|arms|hand|hands figure'],
  ['figure legs', 'legs|hips'],
  ['base plate', 'baseplate'],
  ['base plate', 'base plate'],
  ['round tile', 'round tile'],
  ['round plate', 'round plate'],
  ['round brick', 'round brick'],
  ['wedge plate', 'wedge plate'],
  ['wedge', 'wedge'],
  ['inverted slope', 'inverted|upside slope|sloped|sloping'],
  ['slope', 'slope|sloped|sloping'],
  ['hinge', 'hinge|hinged'],
  ['clip plate', 'clip|clips'],
  ['bracket', 'bracket|angle'],
  ['arch', 'arch|arched'],
  ['cone', 'cone'],
  ['dome', 'dome'],
  ['door', 'door'],
  ['window', 'window|pane|shutter'],
  ['panel', 'panel|wall'],
  ['fence', 'fence|railing|lattice'],
  ['ladder', 'ladder'],
  ['hose', 'hose|tube'],
  ['string', 'string|rope|thread|chain'],
  ['rod', 'rod|axle'],
  ['bar', 'bar|lever|pole|handle|stick'],
  ['wheel', 'wheel|tyre|tire'],
  ['gear', 'gear|cog'],
  ['plant', 'plant|leaf|leaves|flower|tree|bush|grass|stem|vine|fern|branch'],
  ['accessory', 'instructions|booklet|tool|cup|lantern|telescope|bag|case|book|key|lamp|radio|bottle|shovel|broom'],
  ['tile', 'tile'],
  ['plate', 'plate'],
  ['round brick', 'round|cylinder'],
  ['brick', 'brick|block'],
]

const MATCHERS = PHRASES.map(([family, phrase]) => ({
  family,
  words: phrase.split(' ').map((alternatives) => new Set(alternatives.split('|'))),
}))

const familyOf = (words: readonly string[]) =>
  MATCHERS.find((m) => m.words.every((alternatives) => words.some((w) => alternatives.has(w))))

/** Height in plates when the name gives none. */
const DEFAULT_HEIGHT: Partial<Record<Family, number>> = {
  plate: 1,
  tile: 1,
  'round plate': 1,
  'round tile': 1,
  'wedge plate': 1,
  'clip plate': 1,
  'base plate': 1,
  hinge: 1,
  panel: 9,
  door: 18,
  window: 9,
  ladder: 12,
  'sticker sheet': 0,
}

const NUMBER_WORDS: Record<string, number> = {
  one: 1,
  two: 2,
  three: 3,
  four: 4,
  five: 5,
  six: 6,
  seven: 7,
  eight: 8,
  nine: 9,
  ten: 10,
  half: 0.5,
}

const FRACTIONS: Record<string, string> = { '½': '1/2', '⅓': '1/3', '⅔': '2/3', '¼': '1/4', '¾': '3/4' }

const NUM = String.raw`\d+(?:\.\d+)?(?:\s+\d+\/\d+)?|\d+\/\d+`
const BY = String.raw`\s*(?:x|×|\*|by)\s*`
const SIZE = new RegExp(`(?<![\\d./])(${NUM})${BY}(${NUM})(?:${BY}(${NUM}))?(?![\\d/])`)
const HIGH = new RegExp(`(?:(\\d+(?:\\.\\d+)?)|([a-z]+))[\\s-]+(bricks?|plates?)[\\s-]+(?:high|tall)`)
const ANGLE = /(\d{1,2})\s*(?:°|deg(?:rees?)?\b)/
const HAND = /\b(left|right)\b(?:[\s-]*hand(?:ed)?\b)?/

/**
 * Reads a plain English part name in any word order into family, size, hand, angle, height and an estimated mass.
 * Sizes may be written `2x8`, `2 × 8`, `2 by 8`, with fractions (`1 1/2`, `1½`); "two bricks high", "5 plates high",
 * `45°`, "left hand" are understood. A third size figure is the height in bricks. Never fails: an unreadable name
 * gives family `unknown`. Runs in time linear in the name's length.
 */
export function readPartName(name: string): PartReading {
  const original = name.replace(/\s+/g, ' ').trim().slice(0, 200)
  // A loose sticker is named by what it shows: nothing in the rest of its name is a size or a family.
  if (/^sticker (?!sheet\b)\S/i.test(original)) return readSticker(original.toLowerCase())
  let text = original.toLowerCase().replace(/[½⅓⅔¼¾]/g, (c) => ` ${FRACTIONS[c] ?? ''}`)
  const take = (pattern: RegExp): RegExpExecArray | null => {
    const match = pattern.exec(text)
    if (match) text = `${text.slice(0, match.index)} , ${text.slice(match.index + match[0].length)}`
    return match
  }

  const high = take(HIGH)
  const angleMatch = take(ANGLE)
  const size = take(SIZE)
  const handMatch = take(HAND)
  const single = size ? null : take(/(?<![\d.])(\d{1,2})[\s-]*(?:studs?[\s-]*long|long|studs?|l)\b/)

  const words = text.match(/[\p{L}\p{N}']+/gu) ?? []
  // What follows "with" says what a part has on it, not what it is: it names the family only when nothing else does.
  const cut = words.findIndex((w) => w === 'with' || w === 'without')
  const match = (cut > 0 ? familyOf(words.slice(0, cut)) : undefined) ?? familyOf(words)
  const family = match?.family ?? (size && words.length === 0 ? 'brick' : 'unknown')
  const known = family !== 'unknown'

  const sizes = [size?.[1], size?.[2]].map((s) => (s === undefined ? 0 : quantityOf(s)))
  if (single) sizes.splice(0, 2, 1, Number(single[1]))
  const [width = 0, length = 0] = [...sizes].sort((p, q) => p - q).map((s) => Math.min(s, 96))
  const hand: Hand = handMatch ? (handMatch[1] as Hand) : 'none'
  const stated = high ? heightOf(high) : size?.[3] !== undefined ? quantityOf(size[3]) * 3 : undefined
  const height = Math.min(120, stated ?? DEFAULT_HEIGHT[family] ?? 3)
  const angle = angleMatch ? Math.min(90, Math.max(1, Number(angleMatch[1]))) : undefined

  const shape: Shape = {
    family,
    width,
    length,
    height,
    hand,
    ...(angle === undefined ? {} : { angle }),
    mass: estimateMass(family, width, length, height),
  }
  if (!known) return { shape, name: original || 'unnamed', canonical: original || 'unnamed', known }

  const said = new Set([...family.split(' '), ...(SYNONYMS[family] ?? [])])
  const extras = [...new Set(words.filter((w) => !said.has(w) && !FILLER.has(w)))]
  const spoken = { ...shape, height: stated === undefined ? undefined : height }
  return {
    shape,
    name: formatPartName(spoken, extras, single !== null),
    canonical: formatPartName(spoken, [...extras].sort()),
    known,
  }
}

/**
 * A part's plain English name from its shape, the reverse of `readPartName`: family, size, height (left out where the
 * family has it by default, or when undefined), angle, further words, hand. What has a length alone is said by it.
 */
export function formatPartName(
  shape: Pick<Shape, 'family' | 'width' | 'length' | 'hand' | 'angle'> & { readonly height: number | undefined },
  words: readonly string[] = [],
  byLength = false,
): string {
  const { family, width, length, height, angle, hand } = shape
  const size = byLength ? `${sizeText(length)} long` : `${sizeText(width)}x${sizeText(length)}`
  return [
    family,
    length > 0 ? size : '',
    height !== undefined && height !== (DEFAULT_HEIGHT[family] ?? 0) ? heightText(height) : '',
    angle === undefined ? '' : `${angle}°`,
    words.join(' '),
    hand === 'none' ? '' : `${hand} hand`,
  ]
    .filter((s) => s !== '')
    .join(' ')
}

function readSticker(name: string): PartReading {
  const mass = estimateMass('sticker', 0, 0, 0)
  const shape: Shape = { family: 'sticker', width: 0, length: 0, height: 0, hand: 'none', mass }
  return { shape, name, canonical: name, known: true }
}

/** Words that say no more than the family's name does. */
const SYNONYMS: Partial<Record<Family, readonly string[]>> = {
  slope: ['sloped', 'sloping', 'brick'],
  'inverted slope': ['upside', 'sloped', 'sloping', 'brick'],
  'base plate': ['baseplate'],
  'sticker sheet': ['stickers'],
  'round brick': ['cylinder'],
  hinge: ['hinged'],
  arch: ['arched'],
  rod: ['axle'],
  brick: ['block'],
  'figure arm': ['arms'],
}

/** Words that carry no shape. "with" and "without" stay: they tell two parts apart. */
const FILLER = new Set(['a', 'an', 'the', 'of', 'and', 'hand', 'handed'])

function quantityOf(text: string): number {
  return text
    .trim()
    .split(/\s+/)
    .reduce((sum, token) => {
      const [n = 0, d = 1] = token.split('/').map(Number)
      return sum + (d === 0 ? 0 : n / d)
    }, 0)
}

function heightOf(match: RegExpExecArray): number | undefined {
  const count = match[1] !== undefined ? Number(match[1]) : NUMBER_WORDS[match[2] ?? '']
  return count === undefined ? undefined : count * (match[3]?.startsWith('brick') ? 3 : 1)
}

const sizeText = (n: number) => String(Math.round(n * 100) / 100)

function heightText(plates: number): string {
  const [n, unit] = plates % 3 === 0 ? [plates / 3, 'brick'] : [plates, 'plate']
  return `${sizeText(n)} ${unit}${n === 1 ? '' : 's'} high`
}
