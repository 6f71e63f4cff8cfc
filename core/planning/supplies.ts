import { splitItemKey, type ItemKey } from '../catalogue/item.ts'
import { copyContents } from '../donors/copy-contents.ts'
import { freeFor, type Holding } from '../shelf/holding.ts'
import { placeStates, type PlaceState } from '../shelf/place-state.ts'
import { CONDITIONS } from '../units/condition.ts'
import type { CopyId, HoldingId, PartId, PlaceId } from '../units/ids.ts'
import type { Snapshot } from './snapshot.ts'

export type SupplySource =
  | { readonly kind: 'copy'; readonly copy: CopyId; readonly stage: string; readonly promised: boolean }
  | {
      readonly kind: 'shelf'
      readonly holding: HoldingId
      readonly place: PlaceId
      readonly estimate: boolean
      /** The released model the piece is built into, or that it is still in the post. */
      readonly state: PlaceState
    }
  /** Finished models that are the module. */
  | { readonly kind: 'built'; readonly places: readonly PlaceId[] }

/** Where pieces are: a place on the shelf, or a stage of a copy, with how many supplies are there. */
export type Spot = {
  supplies: number
  readonly at: { readonly kind: 'shelf'; readonly state: PlaceState } | Extract<SupplySource, { readonly kind: 'copy' }>
}

/** What the rules say of a supply beyond its item. Equal ones are one object. */
export type Traits = {
  /** Only where it is hidden. */
  readonly hiddenOnly: boolean
  readonly donor: boolean
  /** A sticker that is no longer as new. */
  readonly applied: boolean
  /** Length in mm that differs from the name's. */
  readonly length: number | undefined
  /** None of that, or a donor's: any line may draw on it. */
  readonly plain: boolean
  /** Short name; empty for none of that. */
  readonly flags: string
}

/** What there is to draw from. Supplies of one item differ by what the rules say of them: those form variants. */
export type Supply = {
  readonly id: string
  readonly item: ItemKey
  readonly qty: number
  readonly rank: number
  readonly source: SupplySource
  /** Where one has to look for it; one object for all that is there. */
  readonly spot: Spot
  readonly traits: Traits
}

/** A supply before anybody looks at it closely: most never are. */
export type RawSupply = {
  readonly item: ItemKey
  readonly qty: number
  readonly rank: number
  readonly spot: Spot
  readonly traits: Traits
  /** Undefined for pieces of a copy. */
  readonly holding: Holding | undefined
}

/** Preference of sources: donor boxes, counted pieces, estimates, models to be taken apart, what is not there yet. */
const RANKS = { donor: 0, counted: 1, estimate: 2, model: 3, onOrder: 4 } as const
const SOURCES = Object.keys(RANKS).length
/** A piece that has to be bought comes after all that is owned. */
export const BUY_RANK = 100

/** The supply that is an item in a stage of a copy. */
export const copySupplyId = (copy: CopyId, stage: string, item: ItemKey): string => `${copy}\n${stage}\n${item}`

/** Whether a source has still to arrive. */
export const isOnOrder = (source: SupplySource): boolean =>
  source.kind === 'copy' ? source.promised : source.kind === 'shelf' && source.state.kind === 'post'

const traitsOf = (hiddenOnly: boolean, donor: boolean, applied: boolean, length: number | undefined): Traits => {
  const flags = `${hiddenOnly ? 'h' : ''}${donor ? 'd' : ''}${applied ? 'a' : ''}${length ?? ''}`
  return { hiddenOnly, donor, applied, length, plain: flags === '' || flags === 'd', flags }
}

/** Traits as they come up, each made once. */
function traitsBook() {
  const known = new Map<string, Traits>()
  const plain = [false, true].map((hidden) => [false, true].map((donor) => traitsOf(hidden, donor, false, undefined)))
  return (hiddenOnly: boolean, donor: boolean, applied: boolean, length: number | undefined): Traits => {
    const usual = plain[hiddenOnly ? 1 : 0]?.[donor ? 1 : 0]
    if (usual && !applied && length === undefined) return usual
    const made = traitsOf(hiddenOnly, donor, applied, length)
    const before = known.get(made.flags)
    if (before) return before
    known.set(made.flags, made)
    return made
  }
}

/**
 * Visits everything the rules let a build draw from: donor copies, then the shelf, models that may be taken apart, the
 * post. What is handed over is only good for the moment: one object serves for all.
 */
export function eachSupply(snapshot: Snapshot, visit: (supply: RawSupply) => void): void {
  const { build, sets, copies, holdings, places, parts } = snapshot
  const { rules } = build
  const setById = new Map(sets.map((s) => [s.id, s]))
  const worst = CONDITIONS.indexOf(rules.condition)
  /** Whether a condition may be used: everywhere, only where hidden, or not at all; and how far it is from new. */
  const conditions = new Map(
    CONDITIONS.map((condition, wear) => {
      const where = wear <= worst ? ('seen' as const) : rules.wornHidden ? ('hidden' as const) : undefined
      return [condition, { where, wear }]
    }),
  )
  const byWear = rules.aim === 'least compromise' ? SOURCES : 0
  const traits = traitsBook()
  const raw: { -readonly [K in keyof RawSupply]: RawSupply[K] } = {
    item: '' as ItemKey,
    qty: 0,
    rank: 0,
    spot: { supplies: 0, at: { kind: 'shelf', state: { kind: 'loose' } } },
    traits: traits(false, false, false, undefined),
    holding: undefined,
  }
  const donorsFirst = rules.aim === 'use up the donors'
  for (const copy of copies) {
    const set = setById.get(copy.setId)
    const found = conditions.get(copy.condition ?? 'used')
    const where = copy.condition === undefined ? 'seen' : found?.where
    if (!set || !found || copy.state === 'to-buy' || !where) continue
    const promised = copy.state === 'promised'
    const spots = new Map<string, Spot>()
    raw.rank = RANKS[promised ? 'onOrder' : 'donor'] + found.wear * byWear
    raw.traits = traits(where === 'hidden', donorsFirst, false, undefined)
    raw.holding = undefined
    for (const { stage, item, qty } of copyContents(set, copy)) {
      let spot = spots.get(stage)
      if (!spot) spots.set(stage, (spot = { supplies: 0, at: { kind: 'copy', copy: copy.id, stage, promised } }))
      spot.supplies++
      raw.spot = spot
      raw.item = item
      raw.qty = qty
      visit(raw)
    }
  }
  if (rules.sources === 'donors') return
  const stickers = new Set<PartId>()
  for (const { id, shape } of parts.values()) if (shape.family.startsWith('sticker')) stickers.add(id)
  const used = new Set(snapshot.design.modules.flatMap((m) => m.built ?? []))
  /** Spots with the rank of a counted and of an estimated piece there; undefined where nothing may be taken. */
  const here = new Map<
    PlaceId,
    { readonly spot: Spot; readonly counted: number; readonly estimate: number } | undefined
  >()
  const spotIn = (state: PlaceState) => {
    if (state.kind === 'model' && (!state.released || used.has(state.model.id))) return undefined
    const rank = state.kind === 'model' ? RANKS.model : state.kind === 'post' ? RANKS.onOrder : undefined
    const spot: Spot = { supplies: 0, at: { kind: 'shelf', state } }
    return { spot, counted: rank ?? RANKS.counted, estimate: rank ?? RANKS.estimate }
  }
  for (const [id, state] of placeStates(places)) here.set(id, spotIn(state))
  for (const holding of holdings) {
    const found = conditions.get(holding.condition)
    if (!found?.where) continue
    let place = here.get(holding.place)
    if (!place) {
      if (here.has(holding.place)) continue
      here.set(holding.place, (place = spotIn({ kind: 'loose' })))
      if (!place) continue
    }
    const qty = freeFor(holding, build.id, rules.estimatePercent)
    if (qty === 0) continue
    const { spot } = place
    spot.supplies++
    const applied = stickers.size > 0 && holding.condition !== 'new' && stickers.has(splitItemKey(holding.item).part)
    raw.item = holding.item
    raw.qty = qty
    raw.rank = (holding.estimate ? place.estimate : place.counted) + found.wear * byWear
    raw.spot = spot
    raw.traits = traits(found.where === 'hidden', false, applied, holding.length)
    raw.holding = holding
    visit(raw)
  }
}

/** A supply looked at closely. */
export function supplyOf({ item, qty, rank, spot, traits, holding }: RawSupply): Supply {
  const { at } = spot
  if (at.kind === 'copy')
    return { id: copySupplyId(at.copy, at.stage, item), item, qty, rank, source: at, spot, traits }
  if (!holding) throw new Error('what is on the shelf is a holding')
  const { id, place, estimate } = holding
  return { id, item, qty, rank, source: { kind: 'shelf', holding: id, place, estimate, state: at.state }, spot, traits }
}

/** Everything the rules let a build draw from (`eachSupply`). */
export function gatherSupplies(snapshot: Snapshot): Supply[] {
  const supplies: Supply[] = []
  eachSupply(snapshot, (raw) => {
    supplies.push(supplyOf(raw))
  })
  return supplies
}

/** What can be laid on the table today, whatever its condition: donor boxes that are there, and what is loose. */
export function atHand(snapshot: Snapshot): Supply[] {
  const { build } = snapshot
  const rules = { ...build.rules, condition: 'worn', sources: 'donors and shelf' } as const
  return gatherSupplies({ ...snapshot, build: { ...build, rules } }).filter(
    ({ source }) => !isOnOrder(source) && (source.kind !== 'shelf' || source.state.kind === 'loose'),
  )
}
