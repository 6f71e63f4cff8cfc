import * as v from 'valibot'

import { CONDITIONS } from '../units/condition.ts'
import { ColourIdSchema } from '../units/ids.ts'
import { MOST_AMOUNT } from '../units/money.ts'
import { ExchangeRatesSchema } from './exchange-rates.ts'
import { ImportLevySchema, MOST_LEVIES, leviesOfPercent } from './import-levies.ts'
import { ResalePriceSchema } from './resale.ts'

export const Percent = v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(100))
export const Amount = v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(MOST_AMOUNT))
export const Side = v.nullable(v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(10_000)))

/** What to go for where rules leave a choice. */
export const AIMS = ['least spending', 'least compromise', 'use up the donors'] as const

export const COLOUR_RULES = ['exact', 'near', 'free where hidden', 'within the palette'] as const

/** How hidden pieces may differ in colour where that is not as elsewhere; what a line says itself goes before. */
export const HIDDEN_COLOUR_RULES = ['as elsewhere', 'exact', 'near', 'within the palette', 'free'] as const

/** Where a piece of another mould but the same family and size may stand in. */
export const MOULD_RULES = ['never', 'where hidden', 'anywhere'] as const

/** Where smaller pieces side by side may stand in for one, or plates for a brick; never for structural lines but in the last. */
export const SPLIT_RULES = ['never', 'where hidden', 'anywhere', 'structural too'] as const

export const STICKER_RULES = ['applied', 'reused', 'left off', 'custom prints'] as const

export const ALTERING_RULES = ['never', 'lengths', 'allowed'] as const

/** Room and looks of the finished build. */
export const FormSchema = v.object({
  back: v.picklist(['open', 'closed', 'undecided']),
  /** Room there is, in studs and plates. */
  width: Side,
  depth: Side,
  height: Side,
  /** 1 to this: the real thing is so many times as long. */
  scale: Side,
  symmetric: v.boolean(),
})

export type Form = v.InferOutput<typeof FormSchema>

const NO_FORM: Form = { back: 'undecided', width: null, depth: null, height: null, scale: null, symmetric: false }

/** The rules as files have them. */
export const StoredRulesSchema = v.object({
  /** Where pieces may come from. */
  sources: v.picklist(['donors', 'donors and shelf', 'donors, shelf and shops']),
  /** The worst condition that may be used, from the shelf or from shops. */
  condition: v.picklist(CONDITIONS),
  /** What pieces count as whose condition is not stated, on the shelf and in shops. */
  unstated: v.optional(v.picklist(CONDITIONS), 'used'),
  aim: v.optional(v.picklist(AIMS), 'least spending'),
  /** Which other colours may stand in. */
  colours: v.optional(v.picklist(COLOUR_RULES), 'exact'),
  hiddenColours: v.optional(v.picklist(HIDDEN_COLOUR_RULES), 'as elsewhere'),
  /** The colours that may stand in for one another when `colours` says so. */
  palette: v.optional(v.pipe(v.array(ColourIdSchema), v.maxLength(200)), []),
  /** Worn pieces may be used where they are hidden, whatever the worst condition elsewhere. */
  wornHidden: v.optional(v.boolean(), false),
  /** How far apart (CIEDE2000) colours may be that pass for near. */
  nearLimit: v.optional(v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(40)), 10),
  moulds: v.optional(v.picklist(MOULD_RULES), 'never'),
  splits: v.optional(v.picklist(SPLIT_RULES), 'never'),
  stickers: v.optional(v.picklist(STICKER_RULES), 'applied'),
  /** Whether hose and string may be cut. */
  altering: v.optional(v.picklist(ALTERING_RULES), 'never'),
  /** Parts not made by the sets' maker, and custom prints. */
  thirdParty: v.optional(v.boolean(), false),
  /** What one custom print costs, minor units. */
  printPrice: v.optional(Amount, 0),
  /** What one point of compromise is worth, minor units: a stand-in is bought when it saves more. */
  pointPrice: v.optional(Amount, 1),
  /** What the build may cost in all, minor units. */
  budget: v.optional(v.nullable(Amount), null),
  form: v.optional(FormSchema, NO_FORM),
  /** What an estimated holding counts for, percent. */
  estimatePercent: Percent,
  maxShops: v.nullable(v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(200))),
  deadlineDays: v.nullable(v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(1000))),
  /** Pieces bought loose at most. */
  maxPieces: v.optional(v.nullable(v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(1_000_000))), null),
  /** Just so many copies of those wanted at one price are to be bought, by the first of them. */
  buyCopies: v.optional(v.record(v.string(), v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(1000))), {}),
  /** Shops to avoid or to insist on, by shop id; all others are free. */
  shops: v.record(v.string(), v.picklist(['excluded', 'pinned'])),
  /** Surplus from a bought donor copy earns this share of the item's median price, percent. */
  resalePercent: Percent,
  /** The share of the median price that it may earn at best, percent; told beside, weighed nowhere. */
  hopedPercent: v.optional(Percent, 50),
  /** What the user expects for figures and pieces that are worth another price. */
  resalePrices: v.optional(v.pipe(v.array(ResalePriceSchema), v.maxLength(2000)), []),
  /** Duty and tax by the user's own rates. */
  levies: v.optional(v.pipe(v.array(ImportLevySchema), v.maxLength(MOST_LEVIES))),
  /** The user's rates of exchange for shops that trade in other money. */
  rates: v.optional(ExchangeRatesSchema, []),
  /** The one rate on all that comes from other countries, as older files have it. */
  importPercent: v.optional(Percent),
  shipTo: v.pipe(v.string(), v.regex(/^[A-Z]{2}$/, 'a two-letter country code of ISO 3166 is expected')),
})

/** The house rules of a build; every step obeys them. Rules that older files lack have their neutral value. */
export const RulesSchema = v.pipe(
  StoredRulesSchema,
  v.transform(({ importPercent = 0, levies = leviesOfPercent(importPercent), ...rules }) => ({ ...rules, levies })),
)

export type Rules = v.InferOutput<typeof RulesSchema>

export const defaultRules: Rules = {
  aim: 'least spending',
  colours: 'exact',
  hiddenColours: 'as elsewhere',
  palette: [],
  wornHidden: false,
  nearLimit: 10,
  moulds: 'never',
  splits: 'never',
  stickers: 'applied',
  altering: 'never',
  thirdParty: false,
  printPrice: 0,
  pointPrice: 1,
  budget: null,
  form: NO_FORM,
  sources: 'donors, shelf and shops',
  condition: 'used',
  unstated: 'used',
  estimatePercent: 75,
  maxShops: null,
  deadlineDays: null,
  maxPieces: null,
  buyCopies: {},
  shops: {},
  resalePercent: 0,
  hopedPercent: 50,
  resalePrices: [],
  levies: [],
  rates: [],
  shipTo: 'AT',
}
