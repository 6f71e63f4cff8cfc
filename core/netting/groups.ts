import { splitItemKey, type ItemKey } from '../catalogue/item.ts'
import type { ColourId } from '../units/ids.ts'
import type { SupplySource } from './supply-rows.ts'
import { addCoverage, NO_COVERAGE, type Coverage } from './coverage.ts'
import type { TallyLine } from './tally.ts'

/** Lines of a tally taken together under one key. */
export type TallyGroup<K> = {
  readonly key: K
  readonly need: number
  readonly coverage: Coverage
  /** Pieces that rest on an estimate are among them. */
  readonly estimate: boolean
  readonly lines: readonly TallyLine[]
}

/** Lines of a tally gathered by a key, in the order of the lines. */
export function gatherLines<K>(lines: readonly TallyLine[], keyOf: (line: TallyLine) => K): TallyGroup<K>[] {
  const groups = new Map<K, { need: number; coverage: Coverage; estimate: boolean; lines: TallyLine[] }>()
  for (const line of lines) {
    const key = keyOf(line)
    const group = groups.get(key) ?? { need: 0, coverage: NO_COVERAGE, estimate: false, lines: [] }
    group.need += line.need
    group.coverage = addCoverage(group.coverage, line.coverage)
    group.estimate ||= line.estimate
    group.lines.push(line)
    groups.set(key, group)
  }
  return [...groups].map(([key, group]) => ({ key, ...group }))
}

export const byItem = (lines: readonly TallyLine[]): TallyGroup<ItemKey>[] => gatherLines(lines, (l) => l.wanted)
export const byColour = (lines: readonly TallyLine[]): TallyGroup<ColourId>[] =>
  gatherLines(lines, (l) => splitItemKey(l.wanted).colour)

/** Pieces of one item to be taken from a source, and the lines they are for. */
export type SourcePick = { readonly item: ItemKey; readonly qty: number; readonly lines: readonly TallyLine[] }
/** All that is taken from one place, one stage of a copy or one model. */
export type SourceGroup = {
  readonly key: string
  readonly source: SupplySource
  readonly qty: number
  readonly estimate: boolean
  /** Pieces among them that came with a parcel, taken as right and not counted since. */
  readonly uncounted: number
  readonly picks: readonly SourcePick[]
}

/** A source without what is said of single holdings there. */
function place(source: SupplySource): SupplySource {
  if (source.kind !== 'shelf') return source
  const { uncounted: _, ...bare } = source
  return { ...bare, estimate: false }
}

/** What is drawn from where: one group for each place and each stage of a copy, that with most pieces first. */
export function bySource(lines: readonly TallyLine[]): SourceGroup[] {
  type Pick = { item: ItemKey; qty: number; lines: TallyLine[] }
  type Group = {
    source: SupplySource
    qty: number
    estimate: boolean
    uncounted: number
    picks: Map<ItemKey, Pick>
  }
  const groups = new Map<string, Group>()
  for (const line of lines)
    for (const { source, item, qty } of line.pegs) {
      const key =
        source.kind === 'copy'
          ? `copy ${source.copy}\n${source.stage}`
          : source.kind === 'shelf'
            ? `shelf ${source.place}`
            : `built ${source.places.join()}`
      const group = groups.get(key) ?? {
        source: place(source),
        qty: 0,
        estimate: false,
        uncounted: 0,
        picks: new Map<ItemKey, Pick>(),
      }
      const pick = group.picks.get(item) ?? { item, qty: 0, lines: [] }
      pick.qty += qty
      if (pick.lines.at(-1) !== line) pick.lines.push(line)
      group.picks.set(item, pick)
      group.qty += qty
      group.estimate ||= source.kind === 'shelf' && source.estimate
      if (source.kind === 'shelf' && source.uncounted !== undefined) group.uncounted += qty
      groups.set(key, group)
    }
  return [...groups]
    .map(([key, { picks, ...group }]) => ({
      key,
      ...group,
      picks: [...picks.values()].sort((p, q) => q.qty - p.qty || (p.item < q.item ? -1 : 1)),
    }))
    .sort((p, q) => q.qty - p.qty || (p.key < q.key ? -1 : 1))
}
