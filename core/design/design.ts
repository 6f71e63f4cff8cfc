import * as v from 'valibot'
import { ItemKeySchema, type ItemKey } from '../catalogue/item.ts'
import { BuildIdSchema, ColourIdSchema, LineIdSchema, ModuleIdSchema, PlaceIdSchema } from '../units/ids.ts'
import { QtySchema } from '../units/quantity.ts'
import { ProvenanceSchema } from './provenance.ts'

/** Hidden pieces may differ from what is drawn as far as the rules allow; structural ones must not be split. */
export const VISIBILITIES = ['seen', 'hidden', 'structural'] as const
export type Visibility = (typeof VISIBILITIES)[number]

/** How far a line's colour may go, whatever the house rule says of colours elsewhere. */
export const FREEDOMS = ['exact', 'near', 'palette', 'free'] as const
export type Freedom = (typeof FREEDOMS)[number]

/** Parts of a figure, from the top down. */
export const SLOTS = [
  'head',
  'hair or hat',
  'neck',
  'torso',
  'left arm',
  'right arm',
  'left hand',
  'right hand',
  'hips and legs',
  'accessory',
] as const
export type Slot = (typeof SLOTS)[number]

/** A sticker on its piece, kept unused, or not wanted at all. */
export const STICKER_USES = ['applied', 'unused', 'left off'] as const

/** What a builder must mind of a line: put in before something is closed, last of all, or so that it comes off again. */
export const MOMENTS = ['before closing', 'attach last', 'take off to carry or pose'] as const

/** What a module may fail by; a test build clears it. */
export const RISK_KINDS = [
  'joint untested',
  'overhang',
  'brittle old part',
  'heavy',
  'weak hinge',
  'own technique',
  'stand-in loses a movement',
] as const
export const RISK_STATES = ['open', 'test built', 'accepted'] as const

const Text = (max: number) => v.pipe(v.string(), v.minLength(1), v.maxLength(max))
const Whole = v.pipe(v.number(), v.safeInteger(), v.minValue(-1_000_000), v.maxValue(1_000_000))
const Count = v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(1_000_000))

/** A part was not named: the line is kept and marked, and needs nothing until it is. */
export const NO_ITEM = 'p-unnamed|c-unnamed' as ItemKey

/** Files may hold lines without a part; they load with the line marked, whatever was written there kept as a note. */
const LineItem = v.fallback(ItemKeySchema, NO_ITEM)

const UsesSchema = v.pipe(
  v.array(v.object({ item: ItemKeySchema, qty: v.pipe(QtySchema, v.maxValue(1000)) })),
  v.minLength(1),
  v.maxLength(20),
)

/** One colour for another. */
export const ColourSwapSchema = v.object({ from: ColourIdSchema, to: ColourIdSchema })
export type ColourSwap = v.InferOutput<typeof ColourSwapSchema>

/** Sides that a print may have a version of its own for; in mirrored modules it is the other's. */
export const PRINT_SIDES = ['left', 'right'] as const
export type PrintSide = (typeof PRINT_SIDES)[number]

/** A piece printed to order: by whom, the price of one in minor units of the build's currency, the fewest that are printed. */
const PrintSchema = v.object({
  vendor: Text(120),
  price: Count,
  minRun: v.pipe(Count, v.minValue(1)),
  /** Days from the order until it is here. */
  days: v.optional(v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(1000))),
  /** The name of the file with the artwork. */
  artwork: v.optional(Text(200)),
  /** The version, where left and right differ. */
  side: v.optional(v.picklist(PRINT_SIDES)),
})

/** Quantities may be out of bounds in foreign files: `designFaults` marks such lines, and they need nothing. */
export const DesignLineSchema = v.object({
  id: LineIdSchema,
  item: LineItem,
  /** Pieces in one repeat, as is most likely. */
  qty: Whole,
  /** The least and the most it may come to, while that is not settled. */
  low: v.optional(Count),
  high: v.optional(Count),
  /** A taper: pieces in the first repeat, the second, ...; the last counts for all further ones. `qty` then is idle. */
  steps: v.optional(v.pipe(v.array(Count), v.minLength(1), v.maxLength(1000))),
  /** Seen when left out. */
  visibility: v.optional(v.picklist(VISIBILITIES)),
  /** As the house rules say when left out. */
  freedom: v.optional(v.picklist(FREEDOMS)),
  /** The colours to choose from when the freedom is a palette; the house palette when left out. */
  palette: v.optional(v.pipe(v.array(ColourIdSchema), v.maxLength(200))),
  /** Recolouring leaves it alone. */
  locked: v.optional(v.boolean()),
  /** Lines of one group share one colour, whichever that is. */
  group: v.optional(Text(80)),
  /** Of a figure. */
  slot: v.optional(v.picklist(SLOTS)),
  /** What will do instead of one piece, best first: one or more pieces each. */
  instead: v.optional(v.pipe(v.array(UsesSchema), v.maxLength(20))),
  /** What stands in until the right piece arrives; the right one stays on the list. */
  meanwhile: v.optional(ItemKeySchema),
  /** Length in mm of each piece of hose, string or bar, where it is not the name's. */
  length: v.optional(v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(10_000))),
  use: v.optional(v.picklist(STICKER_USES)),
  /** Printed to order. */
  print: v.optional(PrintSchema),
  /** When it is to be minded while building. */
  moment: v.optional(v.picklist(MOMENTS)),
  note: v.optional(v.pipe(v.string(), v.maxLength(500))),
})
export type DesignLine = v.InferOutput<typeof DesignLineSchema>

const Side = v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(10_000))

export const RiskSchema = v.object({
  kind: v.picklist(RISK_KINDS),
  state: v.picklist(RISK_STATES),
  note: v.optional(v.pipe(v.string(), v.maxLength(500))),
})
export type Risk = v.InferOutput<typeof RiskSchema>

/** A name or an id of elsewhere, which may be empty. */
const Said = v.pipe(v.string(), v.maxLength(500))

/** Where a module's lines came from. */
export const OriginSchema = v.variant('kind', [
  v.object({ kind: v.literal('list'), name: Said }),
  /** Stages of a donor set, with what they held: what is removed from the module is freed. */
  v.object({
    kind: v.literal('donor'),
    set: Said,
    /** Its id in the set; older files tell it by the name alone. */
    stage: v.optional(Said),
    name: Said,
    contents: v.array(v.object({ item: ItemKeySchema, qty: QtySchema })),
  }),
  v.object({ kind: v.literal('library'), build: Said, module: Said }),
  v.object({ kind: v.literal('as built'), name: Said }),
  v.object({ kind: v.literal('version'), name: Said }),
])

export const ModuleSchema = v.object({
  id: ModuleIdSchema,
  name: Text(120),
  /** Times it occurs where it stands: in the design, or in one of the module around it. */
  repeats: v.pipe(v.number(), v.safeInteger(), v.minValue(-1_000_000), v.maxValue(1_000_000)),
  /** The module around it; in the design itself when left out. */
  within: v.optional(ModuleIdSchema),
  /** The same as another module, whose lines and inner modules it has beside its own. */
  like: v.optional(ModuleIdSchema),
  mirrored: v.optional(v.boolean()),
  /** Colours exchanged in all it holds, inner modules included. */
  colours: v.optional(v.pipe(v.array(ColourSwapSchema), v.maxLength(200))),
  /** The module it is symmetric with. */
  pair: v.optional(ModuleIdSchema),
  figure: v.optional(v.boolean()),
  /** An idea for later: kept apart from what is needed now. */
  later: v.optional(v.boolean()),
  /** Finished models that are this module, one each. */
  built: v.optional(v.array(PlaceIdSchema)),
  /** Of one repeat: footprint in studs, height in plates. */
  form: v.optional(
    v.object({ width: Side, depth: Side, height: Side, /** Stands on the module before it. */ stacked: v.boolean() }),
  ),
  risks: v.optional(v.pipe(v.array(RiskSchema), v.maxLength(50))),
  /** The day it was test built, ISO 8601 date. */
  tested: v.optional(v.pipe(v.string(), v.isoDate('a date like 2027-03-31 is expected'))),
  origin: v.optional(OriginSchema),
  /** Whose instructions the module follows, where not the build's. */
  provenance: v.optional(ProvenanceSchema),
  /** What is done with a stage of a donor as a whole, where it does not stay in its place. */
  change: v.optional(v.picklist(['moved', 'turned'])),
  note: v.optional(v.pipe(v.string(), v.maxLength(4000))),
  /** A drawing or photo, by its id among the pictures. */
  picture: v.optional(Said),
  lines: v.array(DesignLineSchema),
})
export type Module = v.InferOutput<typeof ModuleSchema>

/** A named scheme of colours: exchanged in the whole design, or in one module where that is named. */
export const ColourwaySchema = v.object({
  id: Text(80),
  name: Text(80),
  colours: v.pipe(
    v.array(v.object({ ...ColourSwapSchema.entries, module: v.optional(ModuleIdSchema) })),
    v.maxLength(500),
  ),
})
export type Colourway = v.InferOutput<typeof ColourwaySchema>

/** What a build will be: one design per build. */
export const DesignSchema = v.object({
  id: BuildIdSchema,
  modules: v.array(ModuleSchema),
  colourways: v.optional(v.pipe(v.array(ColourwaySchema), v.maxLength(50))),
  /** Pieces to look out for, with how many of each; they are needed by no module yet. */
  lookout: v.optional(v.pipe(v.array(v.object({ item: ItemKeySchema, qty: QtySchema })), v.maxLength(500))),
  /** The colourway it is built in; as drawn when left out. */
  colourway: v.optional(Said),
})
export type Design = v.InferOutput<typeof DesignSchema>
