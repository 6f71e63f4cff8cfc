import { readPartName } from '../catalogue/name-grammar.ts'
import type { Family } from '../catalogue/shape.ts'
import { colourKey, type Colour } from '../colours/colour.ts'
import { isColourWord } from '../colours/name-guess.ts'

/** A part and a colour written together. */
export type PieceText<C> = {
  /** What is left for the part's name. */
  readonly part: string
  /** The colour as written; empty where no word is one. */
  readonly colourName: string
  /** The colour that is called just so. */
  readonly colour: C | undefined
}

/** Words of a colour's name at most. */
const MOST_WORDS = 5

const keyOf = (words: readonly string[]) => colourKey(words.join(' '))
const named = (word: string | undefined): boolean => word !== undefined && isColourWord(word.replace(/[,;]+$/, ''))

/**
 * Takes a text apart into part and colour, the colour at its end or at its beginning ("plate 2x4 dark red", "Soot plate
 * 2x4"). Colours are matched whole: "dark red" is not red where only red is known, and no word of a colour stays with
 * the part. A colour that is not known is told by its words.
 */
export function readPieceText<C>(text: string, colours: ReadonlyMap<string, C>): PieceText<C> {
  const words = text
    .trim()
    .split(/[\s]+/)
    .filter((w) => w !== '' && w !== ',')
  const at = (from: number, to: number) =>
    words
      .slice(from, to)
      .join(' ')
      .replace(/[,;]+$/, '')
      .replace(/^[,;]+/, '')
      .trim()
  const most = Math.min(MOST_WORDS, words.length - 1)
  for (const end of [true, false])
    for (let size = most; size >= 1; size--) {
      const [from, to] = end ? [words.length - size, words.length] : [0, size]
      const colour = colours.get(keyOf(words.slice(from, to)))
      if (colour === undefined) continue
      // A colour's word beside it belongs to it: then it is another colour.
      const beside = end ? words[from - 1] : words[to]
      const parted = end ? /[,;]$/.test(words[from - 1] ?? '') : /[,;]$/.test(words[to - 1] ?? '')
      if (named(beside) && !parted && !isOfPart(words, end, from, to)) continue
      const part = end ? at(0, from) : at(to, words.length)
      return { part, colourName: at(from, to), colour }
    }
  for (const end of [true, false]) {
    let size = 0
    const belongs = (i: number) => {
      const word = end ? words[words.length - 1 - i] : words[i]
      // "sea" is a colour's word beside "green" alone.
      const neighbour = end ? words[words.length - i] : words[i + 1]
      return named(word) || (word !== undefined && neighbour !== undefined && named(`${word} ${neighbour}`))
    }
    while (size < most && belongs(size)) size++
    if (size === 0) continue
    const [from, to] = end ? [words.length - size, words.length] : [0, size]
    return { part: end ? at(0, from) : at(to, words.length), colourName: at(from, to), colour: undefined }
  }
  return { part: words.join(' '), colourName: '', colour: undefined }
}

/** Whether the word beside a colour is what the part is called by: nothing is left of the name without it. */
const isOfPart = (words: readonly string[], end: boolean, from: number, to: number): boolean =>
  end ? from <= 1 : words.length - to <= 1

/** Colours that share a word with a name nothing matches, the most alike first: suggestions, never taken. */
export function similarColours(name: string, colours: Iterable<Colour>): Colour[] {
  const said = new Set(
    colourKey(name)
      .split(' ')
      .filter((w) => w.length > 2),
  )
  if (said.size === 0) return []
  const share = (colour: Colour): number =>
    Math.max(
      ...[colour.name, ...colour.aliases].map((called) => {
        const words = colourKey(called).split(' ')
        return words.filter((w) => said.has(w)).length / Math.max(words.length, said.size)
      }),
    )
  return [...colours]
    .map((colour) => ({ colour, alike: share(colour) }))
    .filter(({ alike }) => alike > 0)
    .sort((p, q) => q.alike - p.alike || (p.colour.name < q.colour.name ? -1 : 1))
    .map(({ colour }) => colour)
}

/** Families whose size may be a number alone: "gear 24", "bar 3". */
const NUMBERED: ReadonlySet<Family> = new Set<Family>(['gear', 'bar', 'rod', 'hose', 'string', 'ladder', 'wheel'])

/** A number of pieces on its own: "12", "12x", "x12", "~60". */
const isCount = (word: string): boolean => /^[x×~]?\d[\d.,']*[x×?]?$/i.test(word)

/**
 * A line of count, part and colour in any order ("12 plate 2x4 Soot", "plate 2x4 12 Soot", "plate 2x4 Soot x12"); the
 * count is what stands alone at an end, else a number between part and colour. A number that a part may be called by
 * ("gear 24 Soot") stays with it. `count` is empty where none is written.
 */
export function takeCount(
  text: string,
  colours: ReadonlyMap<string, unknown>,
): { readonly count: string; readonly rest: string } {
  const words = text
    .trim()
    .split(/\s+/)
    .filter((w) => w !== '')
  const without = (i: number, n = 1) => [...words.slice(0, i), ...words.slice(i + n)].join(' ')
  const [first = '', second = ''] = words
  // "2 x 4 plate" begins with a size; "12 x plate" and "x 12 plate" with a count.
  if (isCount(first) && !(/^[x×]$|^by$/i.test(second) && /^\d/.test(words[2] ?? '')))
    return /^(?:[x×]|pcs?\.?|stk\.?|pieces)$/i.test(second)
      ? { count: first, rest: without(0, 2) }
      : { count: first, rest: without(0) }
  if (/^[x×]$/i.test(first) && isCount(second)) return { count: second, rest: without(0, 2) }
  const [last = '', before = ''] = [words.at(-1), words.at(-2)]
  if (
    isCount(last) &&
    !(/^[x×]$|^by$/i.test(before) && /\d$/.test(words.at(-3) ?? '')) &&
    mayCount(words, words.length - 1, colours)
  )
    return /^[x×]$/i.test(before)
      ? { count: last, rest: words.slice(0, -2).join(' ') }
      : { count: last, rest: without(words.length - 1) }
  for (let i = words.length - 2; i > 0; i--) {
    const word = words[i] ?? ''
    if (!isCount(word) || /^[x×]$|^by$/i.test(words[i - 1] ?? '') || /^[x×]$|^by$/i.test(words[i + 1] ?? '')) continue
    if (colours.has(keyOf(words.slice(i + 1))) || words.slice(i + 1).every((w) => named(w)))
      if (mayCount(words, i, colours)) return { count: word, rest: without(i) }
  }
  return { count: '', rest: words.join(' ') }
}

/** Whether a number is no size of the part before it. */
function mayCount(words: readonly string[], at: number, colours: ReadonlyMap<string, unknown>): boolean {
  if (/[x×~?]/i.test(words[at] ?? '')) return true
  const before = words.slice(0, at).join(' ')
  const { part, colour, colourName } = readPieceText(before, colours)
  // After the colour nothing is a size any more.
  if (colour !== undefined && part !== '' && before.trimEnd().endsWith(colourName)) return true
  const { shape } = readPartName(part === '' ? before : part)
  return !(NUMBERED.has(shape.family) && shape.length === 0)
}
