import { colourKey } from '../colours/colour.ts'

/** What names complete a text: in lower case, with how they are written. */
export type Completable = {
  readonly parts: readonly { readonly key: string; readonly name: string }[]
  readonly colours: readonly { readonly key: string; readonly name: string }[]
}

export const completable = (
  parts: Iterable<{ readonly name: string }>,
  colours: Iterable<{ readonly name: string }>,
): Completable => ({
  parts: [...parts].map(({ name }) => ({ key: name.toLowerCase(), name })),
  colours: [...colours].map(({ name }) => ({ key: colourKey(name), name })),
})

/** Completions that are offered. */
const MOST = 6
/** Words of a colour's name. */
const MOST_WORDS = 4

/**
 * How a line that is being typed may go on: with the names of parts that begin as its piece does (after a count), or of
 * colours that begin as its last words do. Whole lines, at most six; none for a text that ends in a name already.
 * Linear in the names.
 */
export function completions(text: string, { parts, colours }: Completable): string[] {
  const [, before = '', piece = ''] = /^(\s*(?:~?\d+\s*[x×]?\s+)?)(.*)$/i.exec(text) ?? []
  const said = piece.trimStart().toLowerCase()
  if (said.length < 2) return []
  const found: string[] = []
  for (const { key, name } of parts) {
    if (found.length >= MOST) break
    if (key.length > said.trimEnd().length && key.startsWith(said)) found.push(`${before}${name} `)
  }
  const words = piece.split(' ')
  const partly = found.length
  // The most words that begin a name are what is meant.
  for (let size = Math.min(MOST_WORDS, words.length - 1); size >= 1 && found.length === partly; size--) {
    const begun = colourKey(words.slice(-size).join(' '))
    if (begun === '') continue
    const head = words.slice(0, -size).join(' ')
    for (const { key, name } of colours) {
      if (found.length >= MOST) break
      if (key !== begun && key.startsWith(begun)) found.push(`${before}${head} ${name}`)
    }
  }
  return [...new Set(found)]
}
