import { searchKey } from '../colours/colour.ts'
import { CONDITIONS, NOT_STATED, STATED_CONDITIONS, type StatedCondition } from '../units/condition.ts'

/** What lists call conditions, in the languages of their headings (ordinary words, from memory). */
const WORDS: Record<StatedCondition, string> = {
  new: `new, n, mint, unused, sealed, brand new, neu, ungebraucht, neuf, neuve, nuevo, nueva, nuovo, nuova, nieuw, novo, nova, nowy, nowa, nowe,
    nový, nová, ny, nytt, ovp, originalverpackt`,
  used: `used, u, good, very good, acceptable, second hand, secondhand, pre owned, played, played with, as new, like new, nearly new, yes,
    gebraucht, bespielt, gut, sehr gut, wie neu, neuwertig, occasion, d occasion, usagé, usagée, bon état, très bon, comme neuf, usado, usada, buen estado,
    usato, usata, buono, buone condizioni, gebruikt, goed, zo goed als nieuw, bom estado, używany, używane, dobry, použitý, použité, begagnad, begagnat,
    bra skick, brugt`,
  worn: `worn, w, poor, damaged, yellowed, scratched, chipped, broken, cracked, abgenutzt, beschädigt, vergilbt, verkratzt, schlecht, usé, usée, endommagé,
    jauni, mauvais état, gastado, dañado, mal estado, danneggiato, ingiallito, consumato, versleten, beschadigd, slecht, danificado, gasto, uszkodzony,
    zniszczony, poškozený, opotřebený, skadad, sliten, slidt, beskadiget`,
  'not stated': `not stated, unknown, unbekannt, inconnu, desconocido, sconosciuto, onbekend, nieznany, neznámý, okänd, ukendt`,
}
const MEANT: ReadonlyMap<string, StatedCondition> = new Map(
  STATED_CONDITIONS.flatMap((condition) =>
    WORDS[condition].split(',').map((word) => [searchKey(word), condition] as const),
  ),
)

/** A word that says a condition beyond doubt, by the words themselves: nothing need be told of it. */
export function isPlainCondition(text: string): boolean {
  const key = searchKey(text)
  return STATED_CONDITIONS.some((c) => c === key)
}

/**
 * The condition a word means: as the user said in earlier lists (`learnt`, by `searchKey`), else as its language has it;
 * of several words ("used - good") the worst, if all of them are known. Nothing written is not stated, unless the user
 * said what it means (as the empty word). `undefined` for a word nobody knows.
 */
export function readCondition(text: string, learnt: ReadonlyMap<string, StatedCondition>): StatedCondition | undefined {
  if (text.trim() === '') return learnt.get('') ?? NOT_STATED
  const key = searchKey(text)
  const known = learnt.get(key) ?? MEANT.get(key)
  if (known) return known
  const parts = text
    .split(/[-–,;/()]+/)
    .map(searchKey)
    .filter((part) => part !== '')
  if (parts.length < 2) return undefined
  const meant = parts.map((part) => learnt.get(part) ?? MEANT.get(part))
  if (meant.includes(undefined)) return undefined
  return [...CONDITIONS].reverse().find((c) => meant.includes(c))
}
