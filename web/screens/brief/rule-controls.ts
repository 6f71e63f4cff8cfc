import { AIMS, STICKER_RULES, type Rules } from '../../../core/build/house-rules.ts'
import { formatMoney } from '../../../core/units/money.ts'

const AIM_HINTS: Record<Rules['aim'], string> = {
  'least spending': 'Stand-ins that are at hand come before anything bought.',
  'least compromise': 'Best condition first; what a shop sells is bought rather than replaced by a stand-in.',
  'use up the donors': 'As many pieces as possible from the boxes, stand-ins too, before the shelf is touched.',
}
const COLOUR_HINTS: Record<Rules['colours'], string> = {
  exact: 'A piece in another colour never stands in.',
  near: 'A colour that hardly differs stands in anywhere; how far it may differ is set below.',
  'free where hidden': 'Lines marked hidden in the design take any colour there is.',
  'within the palette': 'Any colour of the palette stands in for another, the most plentiful first.',
}
const STICKER_HINTS: Record<Rules['stickers'], string> = {
  applied: 'A stickered piece, or a plain one with its loose sticker.',
  reused: 'As applied; a stickered piece may also lose its sticker to serve as a plain one.',
  'left off': 'Plain pieces will do, and stickered ones once peeled.',
  'custom prints': 'Plain pieces are printed; each print costs.',
}
const ALTERING_HINTS: Record<Rules['altering'], string> = {
  never: 'Hose and string must be as long as drawn.',
  lengths: 'A longer one is cut, or its slack taken up.',
  allowed: 'Bars and rods may be cut as well. Mind your fingers.',
}

type Key = keyof Rules
/** Rules of which the value may be a given one. */
type KeyOf<V> = { [K in Key]: Rules[K] extends V ? K : never }[Key]

type Common<K extends Key> = {
  readonly rule: K
  /** The control's name; where money is asked for, in which currency. */
  readonly label: string | ((currency: string) => string)
  readonly hint: string | ((rules: Rules) => string)
  /** What the act of setting it is called in the history. */
  readonly said: (value: Rules[K], currency: string) => string
  /** Whether it takes a row of its own. */
  readonly wide?: boolean
  /** Whether it has any effect as the other rules are; always when left out. */
  readonly when?: (rules: Rules) => boolean
}

type ChoiceRule<K extends Key> = Common<K> & {
  readonly control: 'choice'
  readonly options: readonly { readonly value: Rules[K] & string; readonly label: string }[]
}
type NumberRule<K extends Key> = Common<K> & {
  readonly control: 'number'
  readonly min: number
  readonly max: number
  /** What an empty field means; a number is needed where it is left out. */
  readonly empty?: string
}
type MoneyRule<K extends Key> = Common<K> & { readonly control: 'money'; readonly empty?: string }
type TickRule<K extends Key> = Omit<Common<K>, 'hint'> & { readonly control: 'tick' }
type CountryRule = Common<'shipTo'> & { readonly control: 'country' }

/** How one house rule is asked for and told. */
export type RuleControl =
  | { [K in KeyOf<string>]: ChoiceRule<K> }[KeyOf<string>]
  | { [K in KeyOf<number | null>]: NumberRule<K> | MoneyRule<K> }[KeyOf<number | null>]
  | { [K in KeyOf<boolean>]: TickRule<K> }[KeyOf<boolean>]
  | CountryRule

const same = <T extends string>(values: readonly T[]) => values.map((value) => ({ value, label: value }))

/** The house rules in the order in which they are asked for; the palette follows the rule on colours, duty and tax where it is shipped to, the form all of them. */
export const HOUSE_RULES: readonly { readonly heading?: string; readonly rules: readonly RuleControl[] }[] = [
  {
    rules: [
      {
        rule: 'sources',
        control: 'choice',
        label: 'Pieces may come from',
        hint: 'What is not allowed here is neither counted nor bought.',
        options: [
          { value: 'donors', label: 'the donor boxes only' },
          { value: 'donors and shelf', label: 'donor boxes and the shelf' },
          { value: 'donors, shelf and shops', label: 'donor boxes, the shelf and shops' },
        ],
        said: (sources) => `Pieces may come from ${sources}`,
        wide: true,
      },
      {
        rule: 'aim',
        control: 'choice',
        label: 'Aim',
        hint: ({ aim }) => AIM_HINTS[aim],
        options: same(AIMS),
        said: (aim) => `Aim: ${aim}`,
        wide: true,
      },
    ],
  },
  {
    heading: 'Colour and condition',
    rules: [
      {
        rule: 'colours',
        control: 'choice',
        label: 'Colour',
        hint: ({ colours }) => COLOUR_HINTS[colours],
        options: [
          { value: 'exact', label: 'exact everywhere' },
          { value: 'near', label: 'near colours will do' },
          { value: 'free where hidden', label: 'exact where seen, free where hidden' },
          { value: 'within the palette', label: 'free within a palette' },
        ],
        said: (colours) => `Colour: ${colours}`,
        wide: true,
      },
      {
        rule: 'hiddenColours',
        control: 'choice',
        label: 'Colour of hidden pieces',
        hint: 'For lines that are marked hidden and say nothing of their colour themselves.',
        options: [
          { value: 'as elsewhere', label: 'as the rule above says' },
          { value: 'exact', label: 'exact' },
          { value: 'near', label: 'near colours will do' },
          { value: 'within the palette', label: 'free within the palette' },
          { value: 'free', label: 'any colour' },
        ],
        said: (colours) => `Colour of hidden pieces: ${colours}`,
        wide: true,
      },
      {
        rule: 'nearLimit',
        control: 'number',
        label: 'How different a near colour may be',
        hint: 'By CIEDE2000: under 2 is hardly seen, over 20 is another colour. Counts for lines whose colour may be near.',
        min: 1,
        max: 40,
        said: (n) => `Near means at most ${n} apart`,
        wide: true,
      },
      {
        rule: 'moulds',
        control: 'choice',
        label: 'Other moulds',
        hint: 'Of the same family, size and hand; never where a line is structural.',
        options: [
          { value: 'never', label: 'never' },
          { value: 'where hidden', label: 'allowed where hidden' },
          { value: 'anywhere', label: 'allowed anywhere' },
        ],
        said: (moulds) => `Other moulds: ${moulds}`,
        wide: true,
      },
      {
        rule: 'splits',
        control: 'choice',
        label: 'Splits',
        hint: 'Two smaller plates, tiles or bricks side by side for one, three plates for a brick; what is around must hold them.',
        options: [
          { value: 'never', label: 'never' },
          { value: 'where hidden', label: 'allowed where hidden' },
          { value: 'anywhere', label: 'allowed anywhere but in structural lines' },
          { value: 'structural too', label: 'allowed in structural lines as well' },
        ],
        said: (splits) => `Splits: ${splits}`,
        wide: true,
      },
      {
        rule: 'condition',
        control: 'choice',
        label: 'Worst condition',
        hint: 'From the shelf and from shops.',
        options: [
          { value: 'new', label: 'new only' },
          { value: 'used', label: 'used allowed' },
          { value: 'worn', label: 'worn allowed' },
        ],
        said: (condition) => `Worst condition: ${condition}`,
      },
      {
        rule: 'unstated',
        control: 'choice',
        label: 'Condition not stated counts as',
        hint: 'Pieces on the shelf and in shops of which nobody said how they are.',
        options: [
          { value: 'new', label: 'new' },
          { value: 'used', label: 'used' },
          { value: 'worn', label: 'worn' },
        ],
        said: (condition) => `Not stated counts as ${condition}`,
      },
      {
        rule: 'estimatePercent',
        control: 'number',
        label: 'An estimate counts, %',
        hint: '“About 60” at 75% counts as 45.',
        min: 0,
        max: 100,
        said: (n) => `Estimates count ${n}%`,
      },
      {
        rule: 'wornHidden',
        control: 'tick',
        label: 'Worn pieces are allowed where they are hidden',
        said: (allowed) => (allowed ? 'Worn pieces allowed where hidden' : 'Worn pieces as elsewhere'),
      },
    ],
  },
  {
    heading: 'Stickers, altering, other makers',
    rules: [
      {
        rule: 'stickers',
        control: 'choice',
        label: 'Stickers',
        hint: ({ stickers }) => STICKER_HINTS[stickers],
        options: same(STICKER_RULES),
        said: (stickers) => `Stickers: ${stickers}`,
      },
      {
        rule: 'altering',
        control: 'choice',
        label: 'Altering parts',
        hint: ({ altering }) => ALTERING_HINTS[altering],
        options: [
          { value: 'never', label: 'never' },
          { value: 'lengths', label: 'hose and string only' },
          { value: 'allowed', label: 'allowed' },
        ],
        said: (altering) => `Altering parts: ${altering}`,
      },
      {
        rule: 'thirdParty',
        control: 'tick',
        label: 'Third-party parts and custom prints are allowed',
        said: (allowed) => (allowed ? 'Third-party parts and prints allowed' : 'No third-party parts or prints'),
      },
      {
        rule: 'printPrice',
        control: 'money',
        label: (currency) => `One custom print costs, ${currency}`,
        hint: 'Counts in the total for each print called for.',
        said: () => 'Changed the price of a print',
        when: ({ thirdParty, stickers }) => thirdParty || stickers === 'custom prints',
      },
    ],
  },
  {
    heading: 'Money and time',
    rules: [
      {
        rule: 'pointPrice',
        control: 'money',
        label: (currency) => `A point of compromise is worth, ${currency}`,
        hint: 'A stand-in has 1 to 5 points or more; it is bought when it saves more than that.',
        said: () => 'Changed the worth of a point of compromise',
        wide: true,
      },
      {
        rule: 'budget',
        control: 'money',
        label: (currency) => `Budget, ${currency}`,
        hint: 'The Brief and Buy say when the total is beyond it.',
        empty: 'none set',
        said: (budget, currency) => (budget === null ? 'No budget' : `Budget ${formatMoney(budget, currency)}`),
      },
      {
        rule: 'maxShops',
        control: 'number',
        label: 'At most so many shops',
        hint: 'The counter counts as one.',
        min: 1,
        max: 200,
        empty: 'any number',
        said: (shops) => (shops === null ? 'Any number of shops' : `At most ${shops} shops`),
      },
      {
        rule: 'deadlineDays',
        control: 'number',
        label: 'Needed within, days',
        hint: 'Slower shops are left out.',
        min: 1,
        max: 1000,
        empty: 'no hurry',
        said: (days) => (days === null ? 'No deadline' : `Needed within ${days} days`),
      },
      {
        rule: 'maxPieces',
        control: 'number',
        label: 'At most so many loose pieces',
        hint: 'Bought from shops; those of donor copies do not count.',
        min: 0,
        max: 1_000_000,
        empty: 'any number',
        said: (pieces) => (pieces === null ? 'Any number of loose pieces' : `At most ${pieces} loose pieces`),
      },
      {
        rule: 'shipTo',
        control: 'country',
        label: 'Ship to',
        hint: 'Two-letter country code.',
        said: (country) => `Ship to ${country}`,
      },
      {
        rule: 'resalePercent',
        control: 'number',
        label: 'Leftovers resell at, %',
        hint: 'Of the median offer; credits surplus of bought copies.',
        min: 0,
        max: 100,
        said: (n) => `Leftovers resell at ${n}%`,
      },
      {
        rule: 'hopedPercent',
        control: 'number',
        label: 'At best they resell at, %',
        hint: 'Of the median offer; told beside, never weighed.',
        min: 0,
        max: 100,
        said: (n) => `Leftovers resell at ${n}% at best`,
      },
    ],
  },
]
