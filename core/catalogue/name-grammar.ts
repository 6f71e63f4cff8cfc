import { estimateMass } from './mass.ts'
import type { Family, Hand, Shape } from './shape.ts'

/** What a plain English part name says. */
export type PartReading = {
  readonly shape: Shape
  /** The name tidied: family, size, height, angle, then what else it says in its own order. */
  readonly name: string
  /** The name in a fixed word order, so that spellings of one shape meet; the trimmed input for an unknown shape. */
  readonly canonical: string
  /** False when no family word was found, or several that contradict each other: usable, but its shape is unknown. */
  readonly known: boolean
  /** What else the name says of the part, beyond family, size, height, angle and hand; in its own order. */
  readonly words: readonly string[]
}

/** Words of a family by which a part is called; `|` between words that say the same. Plurals are understood of all. */
const NOUNS: readonly (readonly [Family, string])[] = [
  ['figure head', 'head'],
  ['figure hair', 'hair'],
  ['figure hat', 'hat|helmet|cap|hood'],
  ['figure torso', 'torso'],
  ['figure arm', 'arm'],
  ['figure legs', 'leg|hip'],
  ['wedge', 'wedge'],
  ['slope', 'slope|sloped|sloping'],
  ['hinge', 'hinge|hinged'],
  ['clip plate', 'clip'],
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
  ['plant', 'plant|leaf|flower|tree|bush|grass|stem|vine|fern|branch'],
  ['accessory', 'instructions|booklet|tool|cup|lantern|telescope|bag|case|book|key|lamp|radio|bottle|shovel|broom'],
]
const NOUN_OF = new Map(NOUNS.flatMap(([family, words]) => words.split('|').map((word) => [word, family] as const)))

/** What many names end in, and what other words make of it. */
const BASES = ['tile', 'plate', 'brick'] as const
type Base = (typeof BASES)[number]
const BASE_OF = new Map<string, Base>([...BASES.map((base) => [base, base] as const), ['block', 'brick']])

/** Nouns that stand for themselves beside "brick", "plate" or "tile" ("arch brick", "hinge plate"). */
const WITH_BASE: ReadonlySet<Family> = new Set<Family>([
  'slope',
  'wedge',
  'arch',
  'cone',
  'dome',
  'hinge',
  'bracket',
  'figure head',
  'figure hair',
  'figure hat',
  'figure torso',
  'figure arm',
  'figure legs',
])
/** Nouns that say what a brick, plate or tile is like ("axle brick", "wall brick"): it is one all the same. */
const LIKENESS: ReadonlySet<Family> = new Set<Family>([
  'panel',
  'rod',
  'bar',
  'hose',
  'string',
  'fence',
  'accessory',
  'gear',
  'wheel',
  'plant',
])
/** Adjectives made of a family's noun: beside another noun they describe it ("arched window"). */
const ADJECTIVES: ReadonlySet<string> = new Set(['sloped', 'sloping', 'hinged', 'arched', 'angle'])

const isWord = (word: string) => NOUN_OF.has(word) || BASE_OF.has(word) || word === 'baseplate'
/** A word in the singular, where that is a word the grammar knows. */
function singular(word: string): string {
  const made = [word, word.replace(/s$/, ''), word.replace(/es$/, ''), word.replace(/ves$/, 'f')]
  return made.find(isWord) ?? word
}

/** The family that words name, in any order; undefined when they name none, `unknown` when they contradict themselves. */
function familyOf(said: readonly string[]): Family | undefined {
  const words = new Set(said.map(singular))
  const has = (...some: readonly string[]) => some.some((w) => words.has(w))
  if (has('accessory', 'accessories')) return 'accessory'
  if ((has('sticker') && has('sheet')) || has('stickers')) return 'sticker sheet'
  if (has('figure') && has('hand', 'hands')) return 'figure arm'
  if (has('baseplate') || (has('base') && has('plate'))) return 'base plate'
  const bases = [...new Set([...words].flatMap((w) => BASE_OF.get(w) ?? []))]
  const [base, secondBase] = bases
  const nouns = new Map<Family, boolean>()
  for (const word of words) {
    const family = NOUN_OF.get(word)
    if (family) nouns.set(family, (nouns.get(family) ?? true) && ADJECTIVES.has(word))
  }
  // What is called a brick and a plate is neither beyond doubt.
  if (secondBase !== undefined && nouns.size === 0) return 'unknown'
  return base === undefined ? familyOfNouns(nouns, has) : familyOnBase(base, [...nouns.keys()], has)
}

type Says = (...some: readonly string[]) => boolean

const slopeOf = (has: Says): Family => (has('inverted', 'upside') ? 'inverted slope' : 'slope')

/** The family of a brick, plate or tile with what else its name says. */
function familyOnBase(base: Family, nouns: readonly Family[], has: Says): Family {
  const [first, other] = nouns.filter((f) => WITH_BASE.has(f))
  if (other !== undefined) return 'unknown'
  if (first === 'wedge') return has('plate') ? 'wedge plate' : 'wedge'
  if (first === 'slope') return slopeOf(has)
  if (first !== undefined) return first
  if (nouns.length === 1 && nouns[0] === 'clip plate' && base === 'plate') return 'clip plate'
  if (!nouns.every((f) => LIKENESS.has(f) || f === 'clip plate')) return 'unknown'
  if (!has('round', 'cylinder')) return base
  return base === 'tile' ? 'round tile' : base === 'plate' ? 'round plate' : 'round brick'
}

/** The family of a name without a base: the noun that is no adjective, if there is one alone. */
function familyOfNouns(nouns: ReadonlyMap<Family, boolean>, has: Says): Family | undefined {
  const things = [...nouns].filter(([, adjective]) => !adjective).map(([family]) => family)
  const [only, second] = things.length > 0 ? things : [...nouns.keys()]
  if (second !== undefined) return 'unknown'
  if (only === 'slope') return slopeOf(has)
  if (only !== undefined) return only
  return has('round', 'cylinder') ? 'round brick' : undefined
}

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

/** Studs come in halves: any other fraction is no size. */
const NUM = String.raw`\d+(?:\.\d+)?(?:\s+1\/2)?|1\/2`
const BY = String.raw`\s*(?:x|×|\*|by)\s*`
const SIZE = new RegExp(`(?<![\\d./])(${NUM})${BY}(${NUM})(?:${BY}(${NUM}))?(?![\\d/])`)
const HIGH = new RegExp(`(?:(\\d+(?:\\.\\d+)?)|([a-z]+))[\\s-]+(bricks?|plates?)[\\s-]+(?:high|tall)`)
/** Measures that are not in studs. */
const MILLIMETRES = /\d+(?:\.\d+)?(?:\s*(?:x|×|by)\s*\d+(?:\.\d+)?)*\s*(?:mm|cm)\b/
/** "height 5", "5 high": in bricks, as a third size figure is. */
const BRICKS_HIGH = /\b(?:height|h)\s*[:=]?\s*(\d{1,2})\b|(?<![\d./])(\d{1,2})\s*(?:high|tall)\b/
/** A share of a brick's height: 1/3 is a plate. */
const THIRDS = /(?<![\d/])([12])\/3(?![\d/])/
const ANGLE = /(\d{1,2})\s*(?:°|deg(?:rees?)?\b)/
const HAND = /\b(left|right)\b(?:[\s-]*hand(?:ed)?\b)?/

/** Which hand a part is, by the word for it, or by a letter in families that have hands. */
function handOf(match: RegExpExecArray | null, family: Family, words: readonly string[]) {
  if (match) return { hand: match[1] as Hand, letter: undefined }
  const letter = HANDED.has(family) ? words.find((w) => /^[lr]h?$/.test(w)) : undefined
  const hand: Hand = letter === undefined ? 'none' : letter.startsWith('l') ? 'left' : 'right'
  return { hand, letter }
}

/** A name that names no family: it stands for itself. */
const unread = (original: string, shape: Shape, words: readonly string[]): PartReading => {
  const name = original === '' ? 'unnamed' : original
  return { shape, name, canonical: name, known: false, words }
}

type Heights = Readonly<Record<'high' | 'tall' | 'thirds' | 'size', RegExpExecArray | null>>

/** The height in plates that a name states, in words, bricks or thirds of one; undefined when it states none. */
function statedHeight({ high, tall, thirds, size }: Heights, family: Family, words: readonly string[]) {
  if (high) return heightOf(high)
  // A bracket's third figure is of its other face.
  const third = family === 'bracket' ? undefined : size?.[3]
  const bricks = tall?.[1] ?? tall?.[2] ?? third
  if (bricks !== undefined) return quantityOf(bricks) * 3
  if (thirds) return Number(thirds[1])
  return family === 'hinge' && words.some((w) => BASE_OF.get(singular(w)) === 'brick') ? 3 : undefined
}

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

  const measures = take(MILLIMETRES)
  const high = take(HIGH)
  const angleMatch = take(ANGLE)
  const size = take(SIZE)
  const tall = high ? null : take(BRICKS_HIGH)
  const thirds = high || tall ? null : take(THIRDS)
  const handMatch = take(HAND)
  const single = size ? null : take(/(?<![\d.])(\d{1,2})[\s-]*(?:studs?[\s-]*long|long|studs?|l)\b/)

  // Signs and pictures tell parts apart as words do: "A+" is not "A-", a star is not a moon.
  const words = (text.match(/[\p{L}\p{N}']+\+*|\p{So}+/gu) ?? []).filter((w) => w !== '°')
  // What follows "with" says what a part has on it, not what it is: it names the family only when nothing else does.
  const cut = words.findIndex((w) => w === 'with' || w === 'without')
  const named = (cut > 0 ? familyOf(words.slice(0, cut)) : undefined) ?? familyOf(words)
  const family = named ?? (size && words.length === 0 ? 'brick' : 'unknown')
  const known = family !== 'unknown'
  const { hand, letter } = handOf(handMatch, family, words)

  const sizes = single
    ? [1, Number(single[1])]
    : [size?.[1], size?.[2]].map((s) => (s === undefined ? 0 : quantityOf(s)))
  const [width = 0, length = 0] = [...sizes].sort((p, q) => p - q).map((s) => Math.min(s, 96))
  const stated = statedHeight({ high, tall, thirds, size }, family, words)
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
  if (!known) return unread(original, shape, words)

  const said = new Set([...family.split(' '), ...(SYNONYMS[family] ?? []), ...(letter ? [letter] : [])])
  const extras = [...new Set(words.filter((w) => !said.has(w) && !said.has(singular(w)) && !FILLER.has(w)))]
  if (measures) extras.push(measures[0].replace(/\s+/g, ''))
  // A bracket's other face tells two of them apart.
  const face = family === 'bracket' ? size?.[3] : undefined
  if (face !== undefined) extras.push(`face${face.trim()}`)
  const spoken = { ...shape, height: stated === undefined ? undefined : height }
  return {
    shape,
    name: formatPartName(spoken, extras, single !== null),
    canonical: formatPartName(spoken, [...extras].sort()),
    known,
    words: extras,
  }
}

/** Families whose parts come in a left and a right one, where a letter may say which. */
const HANDED: ReadonlySet<Family> = new Set<Family>([
  'wedge',
  'wedge plate',
  'slope',
  'inverted slope',
  'door',
  'panel',
  'window',
  'hinge',
  'bracket',
  'figure arm',
])

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
  return { shape, name, canonical: name, known: true, words: [] }
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
