import { itemKey, type ItemKey } from '../catalogue/item.ts'
import { partAsWritten, partFromName, partIndex, type Part } from '../catalogue/part.ts'
import { colourKey, type Colour } from '../colours/colour.ts'
import type { Design, Module, Visibility } from '../design/design.ts'
import type { Copy, DonorSet } from '../donors/donor-set.ts'
import type { Offer } from '../offers/offer.ts'
import { unknownShop, type Shop } from '../offers/shop.ts'
import type { Holding } from '../shelf/holding.ts'
import { addLots, lotKey, type LotPieces } from '../shelf/lot.ts'
import type { Place } from '../shelf/place.ts'
import {
  freeId,
  nameKey,
  type BuildId,
  type ColourId,
  type CopyId,
  type HoldingId,
  type LineId,
  type ModuleId,
  type PartId,
  type PlaceId,
  type SetId,
} from '../units/ids.ts'
import { hash53 } from '../units/hash.ts'
import { once } from '../units/once.ts'
import { currency, type Currency } from '../units/money.ts'
import { MOST_PIECES } from '../units/quantity.ts'
import type { ListKind } from './list-fields.ts'
import type { ListRow } from './list-row.ts'

/** Records an import writes, all in one act. */
export type ImportRecords = {
  readonly parts: readonly Part[]
  readonly colours: readonly Colour[]
  readonly sets: readonly DonorSet[]
  readonly copies: readonly Copy[]
  readonly places: readonly Place[]
  readonly holdings: readonly Holding[]
  readonly designs: readonly Design[]
  readonly shops: readonly Shop[]
  readonly offers: readonly Offer[]
}

export const NO_RECORDS: ImportRecords = {
  parts: [],
  colours: [],
  sets: [],
  copies: [],
  places: [],
  holdings: [],
  designs: [],
  shops: [],
  offers: [],
}

export type ImportContext = {
  readonly colourOf: (name: string) => ColourId | undefined
  readonly parts: readonly Part[]
  /** Names of known or plain parts that new ones are the same as, by the ids of the new ones. */
  readonly sameParts?: ReadonlyMap<PartId, string>
  /** A fresh unique text for new records. */
  readonly fresh: () => string
}

type Itemised = ListRow & { readonly item: ItemKey }

/**
 * Resolves names and codes to items; rows whose colour is still unknown are left out (the preview lists them). A known
 * code decides the part, then the name through its aliases, then the name makes a new part. Codes written beside a
 * name become aliases of its part.
 */
function itemise(rows: readonly ListRow[], context: ImportContext): { rows: Itemised[]; parts: Part[] } {
  const known = new Map(context.parts.map((p) => [p.id, p]))
  const index = partIndex(context.parts)
  const changed = new Map<PartId, Part>()
  const byName = new Map<string, Part>()
  /** From now on a part is known by another name. */
  const learn = (name: string, alias: PartId) => {
    const meant = partFromName(name)
    const id = index.get(meant.id) ?? meant.id
    const part = changed.get(id) ?? known.get(id) ?? meant
    index.set(meant.id, part.id)
    index.set(alias, part.id)
    changed.set(part.id, { ...part, aliases: [...(part.aliases ?? []), alias] })
  }
  const partOf = (row: ListRow): Part => {
    const coded = row.partCode === '' ? undefined : index.get(row.partCode)
    if (coded !== undefined) return changed.get(coded) ?? known.get(coded) ?? partFromName(row.part)
    const read = byName.get(row.part) ?? partAsWritten(row.part)
    byName.set(row.part, read)
    const other = index.has(read.id) ? undefined : context.sameParts?.get(read.id)
    if (other !== undefined) learn(other, read.id)
    const id = index.get(read.id) ?? read.id
    const part = changed.get(id) ?? known.get(id) ?? read
    if (!index.has(part.id)) {
      index.set(part.id, part.id)
      changed.set(part.id, part)
    }
    if (row.partCode === '') return part
    index.set(row.partCode, part.id)
    const aliased = { ...part, aliases: [...(part.aliases ?? []), row.partCode] }
    changed.set(part.id, aliased)
    return aliased
  }
  const colourOf = once((name: string) => context.colourOf(colourKey(name)))
  const itemised = rows.flatMap((row): Itemised[] => {
    const colour = colourOf(row.colourName)
    return colour === undefined ? [] : [{ ...row, item: itemKey(partOf(row).id, colour, row.decoration) }]
  })
  return { rows: itemised, parts: [...changed.values()] }
}

/** A donor inventory: one set under its name (the one of that name is replaced) and, if wanted, an owned copy. */
export function importDonor(
  rows: readonly ListRow[],
  options: {
    readonly name: string
    readonly build: BuildId | null
    readonly addCopy: boolean
    /** Sets there are. */
    readonly known?: readonly DonorSet[]
  },
  context: ImportContext,
): ImportRecords {
  const { rows: itemised, parts } = itemise(rows, context)
  const before = options.known?.find((s) => nameKey(s.name) === nameKey(options.name))
  const stages: { id: string; name: string }[] = []
  const stageOf = (name: string): string => {
    const same = (s: { readonly name: string }) => nameKey(s.name) === nameKey(name)
    const known = stages.find(same)
    if (known) return known.id
    // A stage that was there keeps its id: copies name their stages by it.
    const there = before?.stages.find(same)
    const taken = new Set([...stages, ...(before?.stages ?? [])].map((s) => s.id))
    const stage = { id: there?.id ?? freeId('', name, taken, context.fresh), name }
    stages.push(stage)
    return stage.id
  }
  const lines = new Map<string, DonorSet['lines'][number]>()
  for (const row of itemised) {
    const stage = stageOf(row.stage || 'All')
    const key = JSON.stringify([stage, row.item, row.spare, row.figure])
    const first = lines.get(key)
    // More than one line may say is said by two.
    const held = first && first.qty + row.qty > MOST_PIECES ? undefined : first
    lines.set(first && !held ? `${key} ${lines.size}` : key, {
      stage,
      item: row.item,
      qty: (held?.qty ?? 0) + row.qty,
      spare: row.spare,
      ...(row.figure ? { figure: row.figure } : {}),
    })
  }
  const set: DonorSet = {
    id: before?.id ?? (freeId('s-', options.name, new Set(options.known?.map((s) => s.id)), context.fresh) as SetId),
    name: options.name,
    stages,
    lines: [...lines.values()],
  }
  const copy: Copy = {
    id: `y-${context.fresh()}` as CopyId,
    setId: set.id,
    label: 'Copy 1',
    buildId: options.build,
    state: 'owned',
    stages: 'all',
    spares: true,
    missing: [],
  }
  return { ...NO_RECORDS, parts, sets: [set], copies: options.addCopy ? [copy] : [] }
}

/**
 * How a shelf list meets what is there: `add` its pieces to it; `replace` the places it names, so that they hold just
 * what it says; `correct` only the holdings it names, to its counts.
 */
export const SHELF_MODES = ['add', 'replace', 'correct'] as const
export type ShelfMode = (typeof SHELF_MODES)[number]

/** A shelf list; rows without a place go to `defaultPlace`, equal holdings in it are summed. `removed` lists holdings to delete. */
export function importShelf(
  rows: readonly ListRow[],
  options: {
    readonly defaultPlace: string
    readonly existing: readonly Holding[]
    /** Places there are: one of the same name is the place meant. */
    readonly known?: readonly Place[]
    readonly mode: ShelfMode
  },
  context: ImportContext,
): ImportRecords & { readonly removed: readonly HoldingId[] } {
  const { rows: itemised, parts } = itemise(rows, context)
  const known = options.known ?? []
  const taken = new Set<string>(known.map((p) => p.id))
  const placeOf = new Map<string, PlaceId>()
  for (const p of known) if (!placeOf.has(nameKey(p.name))) placeOf.set(nameKey(p.name), p.id)
  const added: Place[] = []
  const named = new Set<PlaceId>()
  const placeCalled = (name: string): PlaceId => {
    const key = nameKey(name)
    let place = placeOf.get(key)
    if (place === undefined) {
      place = freeId('l-', name, taken, context.fresh) as PlaceId
      taken.add(place)
      placeOf.set(key, place)
      added.push({ id: place, name, kind: 'bin', parent: null })
    }
    named.add(place)
    return place
  }
  const pieces = itemised.map((row): LotPieces => {
    const place = placeCalled(row.place || options.defaultPlace)
    const { item, qty, condition, estimate, length } = row
    return { place, item, qty, condition, estimate, ...(length === null ? {} : { length }) }
  })
  // What a list states anew keeps its holding, with what is reserved of it, and begins at none.
  const stated = new Set(options.mode === 'correct' ? pieces.map(lotKey) : [])
  const counted = (h: Holding) =>
    options.mode === 'replace' ? named.has(h.place) : options.mode === 'correct' && stated.has(lotKey(h))
  const shelf = options.existing.map((h) => (counted(h) ? { ...h, qty: 0 } : h))
  const { put } = addLots(shelf, pieces, context.fresh)
  const kept = new Set(put.map((h) => h.id))
  const removed = shelf.filter((h) => h.qty === 0 && !kept.has(h.id)).map((h) => h.id)
  return { ...NO_RECORDS, parts, places: added, holdings: put, removed }
}

/**
 * A design parts list; equal items within a module are summed. It replaces the design's modules, or adds its own to
 * them (`add`), or gives those of the same name its lines and repeats (`correct`); colourways stay.
 */
export function importDesign(
  rows: readonly ListRow[],
  options: {
    readonly build: BuildId
    readonly name: string
    readonly mode: ShelfMode
    readonly existing: Design | null
  },
  context: ImportContext,
): ImportRecords {
  const { rows: itemised, parts } = itemise(rows, context)
  type Line = { item: ItemKey; qty: number; note: string; visibility: Visibility }
  const modules = new Map<string, { repeats: number; lines: Map<string, Line> }>()
  for (const row of itemised) {
    const name = row.module || 'Main'
    const module = modules.get(name) ?? { repeats: row.repeats, lines: new Map() }
    const { item, visibility } = row
    const key = `${visibility} ${item}`
    const first = module.lines.get(key)
    const line = first && first.qty + row.qty > MOST_PIECES ? undefined : first
    module.lines.set(first && !line ? `${key} ${module.lines.size}` : key, {
      item,
      visibility,
      qty: (line?.qty ?? 0) + row.qty,
      note: line?.note || row.note,
    })
    modules.set(name, module)
  }
  const read = [...modules].map(([name, { repeats, lines }]): Module => ({
    id: `m-${context.fresh()}` as ModuleId,
    name,
    repeats,
    origin: { kind: 'list', name: options.name.slice(0, 200) || 'a parts list' },
    lines: [...lines.values()].map(({ item, qty, note, visibility }) => ({
      id: `n-${context.fresh()}` as LineId,
      item,
      qty,
      ...(visibility === 'seen' ? {} : { visibility }),
      ...(note ? { note } : {}),
    })),
  }))
  const before = options.existing ?? { id: options.build, modules: [] }
  const known = new Set(before.modules.map((m) => m.name))
  const corrected = before.modules.map((m) => {
    const next = read.find((r) => r.name === m.name)
    return next ? { ...m, repeats: next.repeats, lines: next.lines } : m
  })
  const joined = {
    replace: read,
    add: [...before.modules, ...read],
    correct: [...corrected, ...read.filter((r) => !known.has(r.name))],
  }[options.mode]
  return { ...NO_RECORDS, parts, designs: [{ ...before, modules: joined }] }
}

/** Ids of offers are as short as their schema has it. */
const MOST_OFFER_ID = 500

/** An offers list: shops it names get neutral terms unless known; its offers replace earlier ones of those shops. */
export function importOffers(
  rows: readonly ListRow[],
  options: { readonly currency: Currency; readonly country: string; readonly knownShops: readonly Shop[] },
  context: ImportContext,
): ImportRecords {
  const { rows: itemised, parts } = itemise(rows, context)
  // Prices were read in a shop's own money: one that trades in other money by now is another shop.
  const keyOf = (name: string, code: string) => `${code} ${nameKey(name)}`
  const byName = new Map([...options.knownShops].reverse().map((s) => [keyOf(s.name, s.currency), s]))
  const taken = new Set(options.knownShops.map((s) => s.id))
  const shops = new Map<string, Shop>()
  const offers = new Map<string, Offer>()
  for (const row of itemised) {
    const money = row.currency === undefined ? options.currency : currency(row.currency)
    const key = keyOf(row.shop, money)
    const known = byName.get(key) ?? shops.get(key)
    const shop: Shop =
      known ??
      unknownShop({
        id: freeId('file-', row.shop, taken, context.fresh),
        name: row.shop,
        country: options.country,
        currency: money,
      })
    if (!known) shops.set(key, shop)
    taken.add(shop.id)
    const told = `file:${shop.id}:${row.item}:${row.condition}:${row.pack}:${row.price}${row.thirdParty ? ':third' : ''}`
    const id =
      told.length <= MOST_OFFER_ID ? told : `file:${hash53(told, 4).toString(36)}${hash53(told, 5).toString(36)}`
    const held = offers.get(id)
    offers.set(id, {
      id,
      shop: shop.id,
      item: row.item,
      price: row.price,
      stock: Math.min(1_000_000, (held?.stock ?? 0) + row.qty),
      pack: row.pack,
      condition: row.condition,
      ...(row.thirdParty ? { thirdParty: true } : {}),
      source: 'file',
    })
  }
  return { ...NO_RECORDS, parts, shops: [...shops.values()], offers: [...offers.values()] }
}

/** All an import needs to know of the user's data and choices; plain data, so that a worker can do it. */
export type ImportOrder = {
  readonly kind: ListKind
  readonly build: BuildId | null
  /** Name of the donor set, or of the list. */
  readonly name: string
  readonly addCopy: boolean
  readonly place: string
  readonly mode: ShelfMode
  readonly currency: Currency
  readonly country: string
  /** Decided colour by `colourKey`. */
  readonly colours: ReadonlyMap<string, ColourId>
  readonly parts: readonly Part[]
  readonly sameParts?: ReadonlyMap<PartId, string>
  readonly holdings: readonly Holding[]
  readonly places: readonly Place[]
  readonly sets: readonly DonorSet[]
  readonly shops: readonly Shop[]
  /** The build's design, for a design list. */
  readonly design: Design | null
}

/** Turns accepted rows into records; `removed` lists holdings the list replaces. */
export function importRows(
  rows: readonly ListRow[],
  order: ImportOrder,
  fresh: () => string,
): ImportRecords & { readonly removed: readonly HoldingId[] } {
  const { kind, build } = order
  const context: ImportContext = {
    colourOf: (key) => order.colours.get(key),
    parts: order.parts,
    ...(order.sameParts && { sameParts: order.sameParts }),
    fresh,
  }
  if (kind === 'shelf')
    return importShelf(
      rows,
      { defaultPlace: order.place || 'Unsorted box', existing: order.holdings, known: order.places, mode: order.mode },
      context,
    )
  const records = (): ImportRecords => {
    if (kind === 'donor')
      return importDonor(
        rows,
        { name: order.name, build, addCopy: order.addCopy && build !== null, known: order.sets },
        context,
      )
    if (kind === 'design') {
      const { name, mode, design } = order
      return build ? importDesign(rows, { build, name, mode, existing: design }, context) : NO_RECORDS
    }
    return importOffers(rows, { currency: order.currency, country: order.country, knownShops: order.shops }, context)
  }
  return { ...records(), removed: [] }
}
