import type * as v from 'valibot'
import { DecisionSchema } from '../build/decision.ts'
import { BuildSchema } from '../build/build.ts'
import { ScenarioSchema } from '../build/scenario.ts'
import { PartSchema } from '../catalogue/part.ts'
import type { NamesParts } from '../catalogue/merge-parts.ts'
import { ColourSchema } from '../colours/colour.ts'
import { DesignSchema } from '../design/design.ts'
import { mapItems } from '../design/map-items.ts'
import { DesignVersionSchema, PictureSchema } from '../design/version.ts'
import { CopySchema, DonorSetSchema } from '../donors/donor-set.ts'
import { OfferSchema } from '../offers/offer.ts'
import { MakingSchema } from '../making/making.ts'
import { UnitSchema } from '../making/unit.ts'
import { OrderSchema } from '../orders/order.ts'
import { ShopSchema } from '../offers/shop.ts'
import { HoldingSchema } from '../shelf/holding.ts'
import type { ColourId, PartId } from '../units/ids.ts'
import { PlaceSchema } from '../shelf/place.ts'
import { EntrySchema } from '../settling/entry.ts'
import { NoteSchema } from '../settling/note.ts'
import { SaleSchema } from '../settling/sale.ts'
import { KeptPlanSchema } from '../sourcing/kept-plan.ts'
import {
  decisionTakenOver,
  holdingsTakenOver,
  renamedBuild,
  renamedCopy,
  renamedDecision,
  renamedMaking,
  renamedOrder,
  renamedRow,
  renamedRows,
  renamedSale,
  renamedScenario,
  renamedUnit,
} from './names-parts.ts'

/** Everything that is said of a kind of record once, beside its schema. */
type Kind<R> = NamesParts<R> & {
  /** What one of them is called. */
  readonly word: string
  /**
   * Records that are kept at most: what every screen still shows within a second, and a backup holds. Acts that would go
   * beyond are refused, and so are files.
   */
  readonly most: number
  /** Entries that its lists may have at most, where the schema has no bound of its own. */
  readonly lists?: { readonly [F in keyof R]?: number }
  /** Fields that the browser's store finds records by, beside the id. */
  readonly indexes?: readonly (keyof R & string)[]
  /** The build it belongs to and goes with; none where it is for several. */
  readonly buildOf?: (record: R) => string | null
  /** Fields that an edit may only change as it found them: what changed them meanwhile is not merged, the edit is refused. */
  readonly guarded?: readonly (keyof R & string)[]
}

/** A kind with its schema: what a job file carries and the browser keeps. */
const kind = <S extends v.GenericSchema>(
  schema: S,
  facts: Kind<v.InferOutput<S>>,
): Kind<v.InferOutput<S>> & { readonly schema: S } => ({ ...facts, schema })

/** Nothing in it names a part. */
const same = <R>(record: R): R => record

/**
 * Every kind of record: its schema, what it is called, how many there may be, what finds it, what it belongs to and how
 * it names parts. The database, the workspace, job files and the tests over all kinds read it; a new kind begins here.
 */
export const REGISTRY = {
  parts: kind(PartSchema, { word: 'part', most: 200_000, lists: { aliases: 1_000 }, renamed: same }),
  colours: kind(ColourSchema, { word: 'colour', most: 1_000, lists: { aliases: 1_000 }, renamed: same }),
  sets: kind(DonorSetSchema, {
    word: 'donor set',
    most: 2_000,
    lists: { stages: 1_000, lines: 20_000 },
    renamed: (set, naming) => renamedRows(set, 'lines', naming),
  }),
  copies: kind(CopySchema, {
    word: 'copy',
    most: 5_000,
    lists: { stages: 1_000, missing: 20_000 },
    indexes: ['buildId', 'setId'],
    renamed: renamedCopy,
  }),
  places: kind(PlaceSchema, { word: 'place', most: 3_000, renamed: same }),
  holdings: kind(HoldingSchema, {
    word: 'holding',
    most: 500_000,
    lists: { reserved: 500 },
    indexes: ['place'],
    renamed: renamedRow,
    takenOver: holdingsTakenOver,
  }),
  builds: kind(BuildSchema, { word: 'build', most: 200, renamed: renamedBuild }),
  designs: kind(DesignSchema, {
    word: 'design',
    most: 200,
    buildOf: ({ id }) => id,
    renamed: mapItems,
  }),
  shops: kind(ShopSchema, { word: 'shop', most: 2_000, lists: { bands: 200 }, renamed: same }),
  offers: kind(OfferSchema, {
    word: 'offer',
    most: 1_000_000,
    indexes: ['source'],
    renamed: renamedRow,
    // A market's offer is named by its item, and the market would give it again under the old name.
    takenOver: (offers, naming) => ({
      put: offers.filter((o) => o.source === 'file').map((o) => renamedRow(o, naming)),
      remove: offers.filter((o) => o.source === 'market').map((o) => o.id),
    }),
  }),
  plans: kind(KeptPlanSchema, {
    word: 'purchase plan',
    most: 200,
    buildOf: ({ id }) => id,
    renamed: same,
    // A plan answers a problem that names its parts: one that bought the part no longer fits.
    names: ({ problem }, { part, colour }) =>
      problem.items.some((i) => part(i.part as PartId) !== i.part || colour(i.colour as ColourId) !== i.colour),
    takenOver: (plans) => ({ put: [], remove: plans.map((p) => p.id) }),
  }),
  versions: kind(DesignVersionSchema, {
    word: 'design version',
    most: 1_000,
    indexes: ['buildId'],
    buildOf: ({ buildId }) => buildId,
    renamed: (version, naming) => {
      const design = mapItems(version.design, naming)
      return design === version.design ? version : { ...version, design }
    },
  }),
  pictures: kind(PictureSchema, { word: 'picture', most: 400, renamed: same }),
  decisions: kind(DecisionSchema, {
    word: 'decision by hand',
    most: 50_000,
    buildOf: ({ build }) => build,
    renamed: renamedDecision,
    takenOver: decisionTakenOver,
  }),
  scenarios: kind(ScenarioSchema, {
    word: 'scenario',
    most: 2_000,
    indexes: ['buildId'],
    buildOf: ({ buildId }) => buildId,
    renamed: renamedScenario,
  }),
  orders: kind(OrderSchema, {
    word: 'order',
    most: 5_000,
    lists: { lines: 5_000, bench: 5_000 },
    renamed: renamedOrder,
    // A step, and a booking, is made once: another tab may have made it.
    guarded: ['history', 'bookings'],
  }),
  units: kind(UnitSchema, {
    word: 'repeat being built',
    most: 20_000,
    lists: { put: 20_000 },
    indexes: ['build'],
    buildOf: ({ build }) => build,
    renamed: renamedUnit,
    // A piece goes in once.
    guarded: ['put', 'leftOut', 'standsIn'],
  }),
  makings: kind(MakingSchema, {
    word: 'making of a build',
    most: 200,
    buildOf: ({ id }) => id,
    renamed: renamedMaking,
  }),
  entries: kind(EntrySchema, {
    word: 'ledger entry',
    most: 50_000,
    indexes: ['build'],
    buildOf: ({ build }) => build,
    renamed: same,
  }),
  sales: kind(SaleSchema, {
    word: 'sale',
    most: 5_000,
    indexes: ['build'],
    buildOf: ({ build }) => build,
    renamed: renamedSale,
    // A piece is sold once, and comes back once.
    guarded: ['lots', 'history'],
  }),
  notes: kind(NoteSchema, {
    word: 'note of the log',
    most: 50_000,
    indexes: ['build'],
    buildOf: ({ build }) => build,
    renamed: same,
  }),
} as const

export type RecordKind = keyof typeof REGISTRY
export const RECORD_KINDS = Object.keys(REGISTRY) as readonly RecordKind[]
export type RecordOf<K extends RecordKind> = v.InferOutput<(typeof REGISTRY)[K]['schema']>
/** A record of each kind. */
export type RecordsByKind = { readonly [K in RecordKind]: RecordOf<K> }
export type Records = { readonly [K in RecordKind]: readonly RecordOf<K>[] }

/** What the registry says of a kind, for code that handles all kinds alike. */
export const kindOf = <K extends RecordKind>(kind: K): Kind<RecordOf<K>> =>
  REGISTRY[kind] as unknown as Kind<RecordOf<K>>

/** The schema of a kind. */
export const schemaOf = <K extends RecordKind>(kind: K): (typeof REGISTRY)[K]['schema'] => REGISTRY[kind].schema
