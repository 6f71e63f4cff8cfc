import type * as v from 'valibot'
import { itemKey, splitItemKey, type ItemKey } from '../catalogue/item.ts'
import { PartSchema } from '../catalogue/part.ts'
import { ColourSchema } from '../colours/colour.ts'
import { DesignSchema } from '../design/design.ts'
import { mapItems } from '../design/map-items.ts'
import { DesignVersionSchema, PictureSchema } from '../design/version.ts'
import { CopySchema, DonorSetSchema } from '../donors/donor-set.ts'
import { HoldingSchema } from '../shelf/holding.ts'
import { PlaceSchema } from '../shelf/place.ts'
import type { PartId } from '../units/ids.ts'
import { BuildSchema } from '../build/build.ts'
import { DecisionSchema } from '../build/decision.ts'
import { KeptPlanSchema } from '../sourcing/kept-plan.ts'
import { OfferSchema, ShopSchema } from '../offers/offer.ts'

/** Every record kind with its schema: what a job file carries and the browser keeps. */
export const RECORD_SCHEMAS = {
  parts: PartSchema,
  colours: ColourSchema,
  sets: DonorSetSchema,
  copies: CopySchema,
  places: PlaceSchema,
  holdings: HoldingSchema,
  builds: BuildSchema,
  designs: DesignSchema,
  shops: ShopSchema,
  offers: OfferSchema,
  plans: KeptPlanSchema,
  versions: DesignVersionSchema,
  pictures: PictureSchema,
  decisions: DecisionSchema,
} as const

export type RecordKind = keyof typeof RECORD_SCHEMAS
export const RECORD_KINDS = Object.keys(RECORD_SCHEMAS) as readonly RecordKind[]
export type RecordOf<K extends RecordKind> = v.InferOutput<(typeof RECORD_SCHEMAS)[K]>
export type Records = { readonly [K in RecordKind]: readonly RecordOf<K>[] }

/** Other names for the parts that records speak of. */
export type Renaming = {
  readonly part: (id: PartId) => PartId
  /** The item in its part's other name. */
  readonly item: (item: ItemKey) => ItemKey
}

/** A renaming of parts alone: colour and decoration of an item stay. */
export function renamingOf(part: (id: PartId) => PartId): Renaming {
  return {
    part,
    item: (item) => {
      const key = splitItemKey(item)
      const to = part(key.part)
      return to === key.part ? item : itemKey(to, key.colour, key.decoration)
    },
  }
}

/** Rows that name an item, renamed; the same list when none changes. */
function rows<T extends { readonly item: ItemKey }>(list: readonly T[], { item }: Renaming): readonly T[] {
  let changed = false
  const next = list.map((row) => {
    const to = item(row.item)
    if (to === row.item) return row
    changed = true
    return { ...row, item: to }
  })
  return changed ? next : list
}

const same = <T>(record: T): T => record

/** A decision that names parts or items: by item in what it covers, what covers it and where that comes from. */
function renamedDecision(decision: RecordOf<'decisions'>, naming: Renaming): RecordOf<'decisions'> {
  const { what } = decision
  const next = (): RecordOf<'decisions'>['what'] => {
    switch (what.kind) {
      case 'pin':
        return { ...what, source: { ...what.source, item: naming.item(what.source.item) } }
      case 'own':
        return {
          ...what,
          part: naming.part(what.part),
          uses: what.uses.map((u) => ({ ...u, part: naming.part(u.part) })),
        }
      case 'forbid':
      case 'accept':
        return { ...what, item: naming.item(what.item), uses: [...rows(what.uses, naming)] }
    }
  }
  const renamed = next()
  return JSON.stringify(renamed) === JSON.stringify(what) ? decision : { ...decision, what: renamed }
}

/**
 * How each kind of record names parts, as the function that renames them; the same record when it names none of them.
 * Kinds that name no parts, or whose names are of another kind (a part's own id), keep theirs. A kept plan answers a
 * problem that names its parts: it is not renamed but no longer fits (`mergeParts`).
 */
export const RENAME: { readonly [K in RecordKind]: (record: RecordOf<K>, naming: Renaming) => RecordOf<K> } = {
  parts: same,
  colours: same,
  sets: (set, naming) => withList(set, 'lines', rows(set.lines, naming)),
  copies: (copy, naming) => withList(copy, 'missing', rows(copy.missing, naming)),
  places: same,
  holdings: (holding, naming) => rows([holding], naming)[0] ?? holding,
  builds: same,
  designs: (design, { item }) => mapItems(design, item),
  shops: same,
  offers: (offer, naming) => rows([offer], naming)[0] ?? offer,
  plans: same,
  versions: (version, { item }) => {
    const design = mapItems(version.design, item)
    return design === version.design ? version : { ...version, design }
  },
  pictures: same,
  decisions: renamedDecision,
}

const withList = <T, F extends keyof T>(
  record: T,
  field: F,
  list: (T[F] & readonly unknown[]) | readonly unknown[],
): T => (list === record[field] ? record : { ...record, [field]: [...list] })
