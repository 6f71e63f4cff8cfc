import { partFromName, type Part } from './part.ts'
import type { Holding } from '../shelf/holding.ts'
import { addLots, type ShelfChange } from '../shelf/lot.ts'
import type { BuildId, DecisionId, PartId } from '../units/ids.ts'
import { usesKey, type Decision } from '../build/decision.ts'
import {
  RECORD_KINDS,
  RENAME,
  renamingOf,
  type RecordKind,
  type RecordOf,
  type Records,
  type Renaming,
} from '../records/record-kinds.ts'

/** What a merge writes and deletes, kind by kind: changed records only. */
export type PartMerge = {
  readonly part: Part
  readonly removed: PartId
  /** Records with what they became, by kind; holdings aside. */
  readonly changed: { readonly [K in RecordKind]?: readonly RecordOf<K>[] }
  /** Holdings of the merged part leave the shelf and come back as pieces of the other. */
  readonly shelf: ShelfChange
  readonly goneOffers: readonly string[]
  /** Decisions that would speak of a piece standing in for itself. */
  readonly goneDecisions: readonly DecisionId[]
  /** Kept plans that bought the merged part no longer fit and go. */
  readonly gonePlans: readonly BuildId[]
}

/** Kinds that a merge treats by rules of their own. */
const APART: readonly RecordKind[] = ['parts', 'holdings', 'offers', 'plans']

/**
 * Merges a part into another: every record that names the one names the other from now on (`RENAME`), its names and
 * codes become aliases, equal holdings in a place are summed with their reservations. No piece appears or vanishes.
 */
export function mergeParts(from: Part, into: Part, records: Partial<Records>): PartMerge {
  const naming = renamingOf((id) => (id === from.id ? into.id : id))
  const renamed = <K extends RecordKind>(kind: K): RecordOf<K>[] =>
    ((records[kind] ?? []) as readonly RecordOf<K>[]).flatMap((record) => {
      const next = RENAME[kind](record, naming)
      return next === record ? [] : [next]
    })
  const changed = Object.fromEntries(
    RECORD_KINDS.filter((kind) => !APART.includes(kind)).map((kind) => [kind, renamed(kind)]),
  ) as PartMerge['changed']
  const pointless = (changed.decisions ?? []).filter(isPointless).map((d) => d.id)
  const holdings = records.holdings ?? []
  const touched = holdings.filter((h) => naming.item(h.item) !== h.item)
  const offers = (records.offers ?? []).filter((o) => naming.item(o.item) !== o.item)
  return {
    part: { ...into, aliases: [...new Set([...(into.aliases ?? []), from.id, ...(from.aliases ?? [])])] },
    removed: from.id,
    // An offer's id names its item, and a market would give it again under the old one.
    changed: {
      ...changed,
      offers: renamed('offers').filter((o) => o.source === 'file'),
      decisions: (changed.decisions ?? []).filter((d) => !pointless.includes(d.id)),
    },
    goneDecisions: pointless,
    shelf: takenOver(touched, holdings, naming),
    goneOffers: offers.filter((o) => o.source === 'market').map((o) => o.id),
    gonePlans: (records.plans ?? []).filter((p) => p.problem.items.some((i) => i.part === from.id)).map((p) => p.id),
  }
}

/** Whether a decision speaks of a piece standing in for itself: what it was about has become one part. */
function isPointless({ what }: Decision): boolean {
  if (what.kind === 'own') return what.uses.some((u) => u.part === what.part)
  return (what.kind === 'forbid' || what.kind === 'accept') && usesKey(what.uses) === what.item
}

/** Holdings under their new names: those that find an equal one join it, the others keep their ids; reservations stay. */
function takenOver(touched: readonly Holding[], shelf: readonly Holding[], naming: Renaming): ShelfChange {
  const ids = new Set(touched.map((h) => h.id))
  const { put } = addLots(
    shelf.filter((h) => !ids.has(h.id)),
    touched.map((h) => ({ ...h, item: naming.item(h.item) })),
    () => '',
  )
  const kept = new Set(put.map((h) => h.id))
  return { put, remove: [...ids].filter((id) => !kept.has(id)) }
}

/**
 * Records from elsewhere in the words of a catalogue: parts that it knows by another id (merged, or renamed) are called
 * by that, and are not among the parts any more. `knownAs` gives a part's own id by any of its ids.
 */
export function inTermsOf(knownAs: ReadonlyMap<string, PartId>, records: Partial<Records>): Partial<Records> {
  const naming = renamingOf((id) => knownAs.get(id) ?? id)
  const renamed = <K extends RecordKind>(kind: K): readonly RecordOf<K>[] =>
    ((records[kind] ?? []) as readonly RecordOf<K>[]).map((record) => RENAME[kind](record, naming))
  return {
    ...Object.fromEntries(RECORD_KINDS.filter((kind) => records[kind]).map((kind) => [kind, renamed(kind)])),
    ...(records.parts && { parts: records.parts.filter((p) => naming.part(p.id) === p.id) }),
  }
}

/** A part under a new name, its shape read from it anew; lists that write either name still meet in it. */
export function renamePart(part: Part, name: string): Part {
  const read = partFromName(name)
  const aliases = [...new Set([...(part.aliases ?? []), ...(read.id === part.id ? [] : [read.id])])]
  return { id: part.id, name: read.name, shape: read.shape, ...(aliases.length > 0 ? { aliases } : {}) }
}
