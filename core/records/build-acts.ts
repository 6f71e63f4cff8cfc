import type { Build } from '../build/build.ts'
import type { Decision } from '../build/decision.ts'
import type { Design } from '../design/design.ts'
import type { BuildId, DecisionId } from '../units/ids.ts'
import { kindOf, RECORD_KINDS, type RecordKind, type RecordOf, type Records } from './registry.ts'

/** Characters of a build's name. */
const MOST_NAME = 120

/** What a copy of a build brings: it has the rules, the design and the decisions, and nothing that there is only once. */
export type BuildCopy = {
  readonly build: Build
  readonly design: Design
  readonly decisions: readonly Decision[]
}

/**
 * A build once more under another name: its rules, its design and what was decided by hand. Donor copies serve one build,
 * finished models are one module, reservations and plans are the first one's: they stay there.
 */
export function copyBuild(
  from: Build,
  { designs, decisions }: Pick<Records, 'designs' | 'decisions'>,
  id: BuildId,
  fresh: () => string,
): BuildCopy {
  const { archived: _, ...build } = from
  const design = designs.find((d) => d.id === from.id) ?? { id: from.id, modules: [] }
  const modules = design.modules.map(({ built: _, ...module }) => module)
  return {
    build: { ...build, id, name: `${from.name} (copy)`.slice(0, MOST_NAME) },
    design: { ...design, id, modules },
    // Pins fix pieces of donors and shelf, which are the first build's.
    decisions: decisions
      .filter((d) => d.build === from.id && d.what.kind !== 'pin')
      .map((d) => ({ ...d, id: `d-${fresh()}` as DecisionId, build: id })),
  }
}

/** What goes with a build, and what is free again once it is gone. */
export type BuildRemoval = {
  /** Ids of records that belong to it, kind by kind; itself among them. */
  readonly remove: { readonly [K in RecordKind]: readonly string[] }
  /** Donor copies that served it, and holdings that were reserved for it. */
  readonly copies: readonly RecordOf<'copies'>[]
  readonly holdings: readonly RecordOf<'holdings'>[]
}

/** Takes a build away: what belongs to it goes, its donor copies and reserved pieces are free. No piece is lost. */
export function removeBuild(id: BuildId, records: Records): BuildRemoval {
  const belonging = <K extends RecordKind>(kind: K): readonly string[] => {
    if (kind === 'builds') return [id]
    const { buildOf } = kindOf(kind)
    return buildOf ? records[kind].filter((r) => buildOf(r) === id).map((r) => r.id) : []
  }
  return {
    remove: Object.fromEntries(RECORD_KINDS.map((kind) => [kind, belonging(kind)])) as BuildRemoval['remove'],
    copies: records.copies.filter((c) => c.buildId === id).map((c) => ({ ...c, buildId: null })),
    holdings: records.holdings
      .filter((h) => h.reserved?.some((r) => r.build === id))
      .map(({ reserved = [], ...h }) => {
        const others = reserved.filter((r) => r.build !== id)
        return others.length > 0 ? { ...h, reserved: others } : h
      }),
  }
}
