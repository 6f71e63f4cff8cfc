import type { Build } from '../build/build.ts'
import type { Decision } from '../build/decision.ts'
import type { Scenario } from '../build/scenario.ts'
import type { Design } from '../design/design.ts'
import { comingOut } from '../making/put-in.ts'
import { piecesBack } from '../settling/leave.ts'
import { saleState } from '../settling/sale.ts'
import { withoutBuild } from '../orders/order-states.ts'
import { withReserved, type LotPieces } from '../shelf/lot.ts'
import type { BuildId, DecisionId, ScenarioId } from '../units/ids.ts'
import { kindOf, RECORD_KINDS, type RecordKind, type RecordOf, type Records } from './registry.ts'

/** Characters of a build's name. */
const MOST_NAME = 120

/** What a copy of a build brings: it has the rules, the design, the decisions and scenarios, and nothing that there is only once. */
export type BuildCopy = {
  readonly build: Build
  readonly design: Design
  readonly decisions: readonly Decision[]
  readonly scenarios: readonly Scenario[]
}

/**
 * A build once more under another name: its rules, its design and what was decided by hand. Donor copies serve one build,
 * finished models are one module, reservations, plans and versions are the first one's: they stay there, and what scenarios
 * say of them is left out.
 */
export function copyBuild(
  from: Build,
  { designs, decisions, scenarios }: Pick<Records, 'designs' | 'decisions' | 'scenarios'>,
  id: BuildId,
  fresh: () => string,
): BuildCopy {
  const { archived: _, ...build } = from
  const design = designs.find((d) => d.id === from.id) ?? { id: from.id, modules: [] }
  const modules = design.modules.map(({ built: _, ...module }) => module)
  // Pins fix pieces of donors and shelf, which are the first build's.
  const own = decisions
    .filter((d) => d.build === from.id && d.what.kind !== 'pin')
    .map((d) => ({ before: d.id, copy: { ...d, id: `d-${fresh()}` as DecisionId, build: id } }))
  const decisionOf = new Map(own.map(({ before, copy }) => [before, copy.id]))
  return {
    build: { ...build, id, name: `${from.name} (copy)`.slice(0, MOST_NAME) },
    design: { ...design, id, modules },
    decisions: own.map(({ copy }) => copy),
    scenarios: scenarios
      .filter((s) => s.buildId === from.id)
      .map(({ changes: { copies: _, version: __, takenBack = [], ...changes }, ...scenario }) => {
        const taken = takenBack.flatMap((d) => decisionOf.get(d) ?? [])
        return {
          ...scenario,
          id: `w-${fresh()}` as ScenarioId,
          buildId: id,
          changes: { ...changes, ...(taken.length > 0 && { takenBack: taken }) },
        }
      })
      .filter(({ changes }) => Object.keys(changes).length > 0),
  }
}

/** What goes with a build, and what is free again once it is gone. */
export type BuildRemoval = {
  /** Ids of records that belong to it, kind by kind; itself among them. */
  readonly remove: { readonly [K in RecordKind]: readonly string[] }
  /** Donor copies that served it, holdings that were reserved for it, and orders that were for it. */
  readonly copies: readonly RecordOf<'copies'>[]
  readonly holdings: readonly RecordOf<'holdings'>[]
  readonly orders: readonly RecordOf<'orders'>[]
  /** Pieces of its unfinished model, and of its sales that were not sent, that came from the shelf. */
  readonly lots: readonly LotPieces[]
}

/**
 * Takes a build away: what belongs to it goes, its donor copies and reserved pieces are free, and its unfinished model's
 * pieces, and those of sales that were not sent, go back to where they came from (`OUT_OF_MODELS` where that is gone). No
 * piece is lost.
 */
export function removeBuild(id: BuildId, records: Records): BuildRemoval {
  const built = records.units.filter((u) => u.build === id && u.standsIn === undefined).flatMap((u) => u.put)
  const out = comingOut(id, built, { kind: 'back' }, records.copies, records.places)
  const copyOf = new Map(out.copies.map((c) => [c.id, c]))
  const lots = [...out.lots]
  for (const sale of records.sales) {
    if (sale.build !== id || !['listed', 'sold'].includes(saleState(sale))) continue
    const copies = records.copies.map((c) => copyOf.get(c.id) ?? c)
    const back = piecesBack(sale, { copies, places: records.places })
    lots.push(...back.lots)
    for (const copy of back.copies) copyOf.set(copy.id, copy)
  }
  const belonging = <K extends RecordKind>(kind: K): readonly string[] => {
    if (kind === 'builds') return [id]
    const { buildOf } = kindOf(kind)
    return buildOf ? records[kind].filter((r) => buildOf(r) === id).map((r) => r.id) : []
  }
  return {
    remove: Object.fromEntries(RECORD_KINDS.map((kind) => [kind, belonging(kind)])) as BuildRemoval['remove'],
    copies: records.copies
      .filter((c) => c.buildId === id || copyOf.has(c.id))
      .map((c) => ({ ...(copyOf.get(c.id) ?? c), buildId: c.buildId === id ? null : c.buildId })),
    // The build that they were reserved for is no more.
    lots: lots.map((lot) => withReserved(lot, [])),
    holdings: records.holdings
      .filter((h) => h.reserved?.some((r) => r.build === id))
      .map(({ reserved = [], ...h }) => {
        const others = reserved.filter((r) => r.build !== id)
        return others.length > 0 ? { ...h, reserved: others } : h
      }),
    orders: records.orders.filter((o) => o.builds.includes(id)).map((o) => withoutBuild(o, id)),
  }
}
