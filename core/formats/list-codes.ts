import { readPartName } from '../catalogue/name-grammar.ts'
import { partFromName } from '../catalogue/part.ts'
import { colourKey } from '../colours/colour.ts'
import { once } from '../units/once.ts'

/** What of a row says what it is called, and by which codes. */
type Coded = {
  readonly line: number
  readonly part: string
  readonly partCode: string
  readonly colourName: string
  readonly colourCode: string
}

/** What codes mean by earlier lists. */
export type KnownCodes = {
  /** Part name by foreign code (`codeAlias`). */
  readonly knownCodes: ReadonlyMap<string, string>
  /** The part that another part's id stands for, where parts were merged. */
  readonly sameAs?: ReadonlyMap<string, string>
}

/**
 * Tells of a row whether its code stands for two names: in this list, or here and in what is known of earlier lists. One
 * code names one part (and one colour): a column that numbers pages or bags would make one thing of many.
 */
export function codesWithTwoMeanings(
  rows: readonly Coded[],
  { knownCodes, sameAs }: KnownCodes,
): (row: Coded) => string | undefined {
  type Meaning = { readonly id: string; readonly name: string; readonly line: number }
  const parts = new Map<string, Meaning>()
  const colours = new Map<string, Meaning>()
  const doubled = new Map<string, readonly [Meaning, Meaning]>()
  const idOf = once((name: string): string => {
    const { id } = partFromName(name)
    return sameAs?.get(id) ?? id
  })
  const note = (of: Map<string, Meaning>, code: string, meaning: Meaning) => {
    const before = of.get(code)
    if (!before) of.set(code, meaning)
    else if (before.id !== meaning.id && !doubled.has(code)) doubled.set(code, [before, meaning])
  }
  for (const { partCode, part, colourCode, colourName, line } of rows) {
    if (partCode !== '') note(parts, partCode, { id: idOf(part), name: part, line })
    if (colourCode !== '' && colourName !== colourCode)
      note(colours, colourCode, { id: colourKey(colourName), name: colourName, line })
  }
  const bare = (code: string) => code.slice(code.indexOf('=') + 1).slice(0, 40)
  const short = (name: string) => (name.length > 50 ? `${name.slice(0, 50)}…` : name)
  const inList = (code: string, what: string) => {
    const pair = doubled.get(code)
    if (!pair) return undefined
    const [one, other] = pair
    return `The code "${bare(code)}" stands for "${short(one.name)}" (row ${one.line}) and "${short(other.name)}" (row ${other.line}); one code names one ${what}. Mend it, or choose no column for the ${what}'s code.`
  }
  return ({ partCode, part, colourCode }) => {
    const known = partCode === '' ? undefined : knownCodes.get(partCode)
    // Where the grammar knows neither name the code may well join two words for one part: that is what it is for.
    if (known !== undefined && readPartName(part).known && readPartName(known).known && idOf(known) !== idOf(part))
      return `The code "${bare(partCode)}" is known to be "${short(known)}"; this row says "${short(part)}". Mend one of them, or choose no column for the part's code.`
    return (
      (partCode === '' ? undefined : inList(partCode, 'part')) ??
      (colourCode === '' ? undefined : inList(colourCode, 'colour'))
    )
  }
}
