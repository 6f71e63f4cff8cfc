import { colorsNamed } from 'culori/fn'
import { searchKey } from './colour.ts'
import type { Finish } from './colour.ts'

/** Words of colours in other languages and of the table, by the CSS name that is nearest (ordinary words, from memory). */
const SAME_AS: Readonly<Record<string, string>> = Object.fromEntries(
  Object.entries({
    black: 'schwarz noir negro nero zwart preto czarny cerna svart sort soot coal ink jet',
    white: 'weiss weiß blanc blanco bianco wit branco bialy biały bila vit hvid chalk snow',
    gray: 'grey grau gris grigio grijs cinza cinzento szary seda gra grå stone ash',
    red: 'rot rouge rojo rosso rood vermelho czerwony cervena rod röd rød',
    blue: 'blau bleu azul blu blauw niebieski modra bla blå',
    green: 'grun grün vert verde groen zielony zelena gron grön grøn',
    yellow: 'gelb jaune amarillo giallo geel amarelo zolty żółty zluta gul',
    saddlebrown: 'brown braun brun marron marrón marrone bruin castanho marrom brazowy brązowy hneda wood',
    darkorange: 'orange arancione naranja arancio oranje laranja pomaranczowy pomarańczowy oranzova',
    hotpink: 'pink rosa rose roze rozowy różowy ruzova',
    rebeccapurple: 'purple violet lilac mauve lila violett morado viola paars roxo fioletowy fialova lavender',
    tan: 'beige sand cream sable crema zand areia bezowy beżowy oat',
    silver: 'silber argent plata argento zilver prata srebrny stribrna solv',
    goldenrod: 'gold or oro goud ouro zloty złoty zlata guld',
    darkslategray: 'slate',
    teal: 'petrol',
    turquoise: 'turkis türkis turquesa turchese turkoois turkusowy',
    aliceblue: 'clear glass',
  }).flatMap(([name, words]) => words.split(' ').map((word) => [searchKey(word), name])),
)

const LIGHTER = words('light pale bright hell clair claro chiaro licht jasny svetla ljus lys pastel')
const DARKER = words('dark deep dunkel fonce foncé oscuro scuro donker escuro ciemny tmava mork mörk mørk')
/** Words beside a colour's that say how it is made. */
const FINISHES: Readonly<Record<string, Finish>> = Object.fromEntries(
  Object.entries({
    clear: 'clear transparent trans transparente trasparente durchsichtig doorzichtig przezroczysty pruhledna glass',
    metal: 'metal metallic metallisch metallique metalico metallico metaal',
    shimmer: 'shimmer pearl pearly perl perle nacre satin glitter glitzer perlmutt',
    glow: 'glow glowing phosphorescent neon fluorescent leuchtend',
  }).flatMap(([finish, list]) => list.split(' ').map((word) => [searchKey(word), finish])),
) as Readonly<Record<string, Finish>>
const OTHER = words(
  'medium very tone warm cool cold dull matt matte dusty royal old new reddish bluish greenish yellowish solid opaque',
)

function words(text: string): ReadonlySet<string> {
  return new Set(text.split(' ').map(searchKey))
}

/** CSS's names (CSS Color Module Level 4, as the library culori carries them) by their words run together. */
const named = (key: string): string | undefined => {
  const name = key.replace(/ /g, '').replace(/grey/g, 'gray')
  return Object.hasOwn(colorsNamed, name) ? name : undefined
}

const base = (word: string): string | undefined => SAME_AS[word] ?? named(word)

/** Whether a word is of a colour's name: a colour in some language, or how light, old or shiny it is. */
export const isColourWord = (word: string): boolean => {
  const key = searchKey(word)
  return (
    key !== '' &&
    (base(key) !== undefined || LIGHTER.has(key) || DARKER.has(key) || Object.hasOwn(FINISHES, key) || OTHER.has(key))
  )
}

const hexOf = (name: string): string =>
  `#${((colorsNamed as Record<string, number>)[name] ?? 0x9a9a9a).toString(16).padStart(6, '0')}`

/**
 * A plausible sRGB for a new colour by its name, `#rrggbb`: CSS's value where the name is one of CSS's ("dark red"), else
 * that of the last word that names a colour, lighter or darker as others say; mid grey when no word is known. A guess,
 * to be marked as one.
 */
export function guessHex(name: string): string {
  const key = searchKey(name)
  const whole = SAME_AS[key] ?? named(key)
  if (whole !== undefined) return hexOf(whole)
  const said = key.split(' ')
  const last = [...said].reverse().flatMap((word) => base(word) ?? [])[0]
  if (last === undefined) return '#9a9a9a'
  // "dunkelrot" in two words is CSS's dark red.
  const darker = said.some((w) => DARKER.has(w))
  const lighter = said.some((w) => LIGHTER.has(w))
  const own = darker ? named(`dark${last}`) : lighter ? named(`light${last}`) : undefined
  if (own !== undefined) return hexOf(own)
  return darker || lighter ? towards(hexOf(last), lighter ? 255 : 0) : hexOf(last)
}

/** The finish that a colour's name says; opaque where it says none. */
export const guessFinish = (name: string): Finish =>
  searchKey(name)
    .split(' ')
    .flatMap((word) => FINISHES[word] ?? [])[0] ?? 'opaque'

function towards(hex: string, end: 0 | 255): string {
  const channels = [1, 3, 5].map((i) => parseInt(hex.slice(i, i + 2), 16))
  return `#${channels
    .map((c) =>
      Math.round(c + (end - c) * 0.4)
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`
}
