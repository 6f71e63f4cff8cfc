import { freeFor, type Holding } from '../shelf/holding.ts'
import { CONDITIONS, countedAs } from '../units/condition.ts'
import { FACT, inventoryOf, UNSTATED, type Inventory } from './inventory.ts'
import type { Memory } from '../units/memory.ts'
import type { Snapshot } from './snapshot.ts'
import { supplyAt, type Supply, type SupplySource } from './supply-rows.ts'

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

/** Preference of sources: donor boxes, counted pieces, estimates, models to be taken apart, what is not there yet. */
const RANKS = { donor: 0, counted: 1, estimate: 2, model: 3, onOrder: 4 } as const
const SOURCES = Object.keys(RANKS).length
/** A piece that has to be bought comes after all that is owned. */
export const BUY_RANK = 100

/** Names a supply for good; undefined for finished models that are the module. */
export function supplyId({ source, item }: Pick<Supply, 'source' | 'item'>): string | undefined {
  if (source.kind === 'copy') return `${source.copy}\n${source.stage}\n${item}`
  return source.kind === 'shelf' ? source.holding : undefined
}

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

/** Takes a supply that counts, by its row in the inventory. */
export type SupplyVisitor = (row: number, qty: number, rank: number, traits: Traits) => void

/**
 * Visits everything the rules let a build draw from: donor copies, then the shelf, models that may be taken apart, the
 * post.
 */
export function eachSupply(inventory: Inventory, { build, design }: Snapshot, visit: SupplyVisitor): void {
  const { rules } = build
  const { sourceOf: placeOf, conditionOf, pieces, facts, sources } = inventory
  const { contents, holdings } = inventory.rows
  const copyRows = contents.length
  const traits = traitsBook()
  const worst = CONDITIONS.indexOf(rules.condition)
  const byWear = rules.aim === 'least compromise' ? SOURCES : 0
  /** By condition: how far it is from new, and whether it may be used: everywhere, only where hidden, or not at all. */
  const wears = [...CONDITIONS.keys(), CONDITIONS.indexOf('used'), CONDITIONS.indexOf(rules.unstated)]
  const allowed = wears.map((wear, code) =>
    wear <= worst || code === UNSTATED ? 'seen' : rules.wornHidden ? 'hidden' : undefined,
  )
  const used = new Set(design.modules.flatMap((m) => m.built ?? []))
  /** By source: the rank of a counted and of an estimated piece there; negative where nothing may be taken. */
  const ranks = sources.map((at): number => {
    if (at.kind === 'copy') return at.promised ? RANKS.onOrder : RANKS.donor
    const { state } = at
    if (state.kind === 'loose') return RANKS.counted
    if (state.kind === 'post') return RANKS.onOrder
    return state.released && !used.has(state.model.id) ? RANKS.model : -1
  })
  const donor = rules.aim === 'use up the donors'
  const rows = rules.sources === 'donors' ? copyRows : placeOf.length
  for (let row = 0; row < rows; row++) {
    const code = conditionOf[row] as number
    const where = allowed[code]
    if (where === undefined) continue
    let rank = ranks[placeOf[row] as number] as number
    if (rank < 0) continue
    let qty = pieces[row] as number
    let applied = false
    let length: number | undefined
    const fact = facts[row] as number
    if ((fact & FACT.odd) !== 0) {
      const holding = holdings[row - copyRows] as Holding
      if (holding.estimate && rank === RANKS.counted) rank = RANKS.estimate
      qty = freeFor(holding, build.id, rules.estimatePercent)
      applied = (fact & FACT.sticker) !== 0 && countedAs(holding.condition, rules.unstated) !== 'new'
      length = holding.length
    }
    if (qty === 0) continue
    visit(
      row,
      qty,
      rank + (wears[code] as number) * byWear,
      traits(where === 'hidden', donor && row < copyRows, applied, length),
    )
  }
}

/** Everything the rules let a build draw from (`eachSupply`). */
export function gatherSupplies(snapshot: Snapshot, memory: Memory): Supply[] {
  const inventory = inventoryOf(snapshot, memory)
  const supplies: Supply[] = []
  eachSupply(inventory, snapshot, (row, qty) => {
    supplies.push(supplyAt(inventory.rows, row, qty))
  })
  return supplies
}

/** What can be laid on the table today, whatever its condition: donor boxes that are there, and what is loose. */
export function atHand(snapshot: Snapshot, memory: Memory): Supply[] {
  const { build } = snapshot
  const rules = { ...build.rules, condition: 'worn', sources: 'donors and shelf' } as const
  return gatherSupplies({ ...snapshot, build: { ...build, rules } }, memory).filter(
    ({ source }) => !isOnOrder(source) && (source.kind !== 'shelf' || source.state.kind === 'loose'),
  )
}
