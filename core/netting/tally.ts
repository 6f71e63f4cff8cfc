import { type SupplySource, type SupplyRows, supplyRows, supplyAt } from './supply-rows.ts'
import { type ItemKey, splitItemKey } from '../catalogue/item.ts'
import type { StandInKind, Candidate } from './stand-ins/candidate.ts'
import type { LineId, ModuleId } from '../units/ids.ts'
import type { Visibility } from '../design/design.ts'
import { type Coverage, coverageAt } from './coverage.ts'
import { type Interim, type Totals, type TallySheet, wantedOf, PEG_FIELDS, BUILT, BY } from './sheet.ts'
import type { Memory } from '../units/memory.ts'
import type { Snapshot } from './snapshot.ts'
import type { Requirement } from '../design/explode.ts'
import { requirementList } from './demand.ts'

/** Pieces drawn from a supply for a line; `item` is what is drawn, `standIn` why it is not the item asked for. */
export type TallyPeg = {
  readonly source: SupplySource
  readonly item: ItemKey
  readonly qty: number
  readonly standIn?: StandInKind
  /** Points of compromise per required piece, and all that serves for one, of a stand-in. */
  readonly points?: number
  readonly uses?: Candidate['uses']
  /** Fixed by hand; or a stand-in that the user finds as good. */
  readonly by?: 'pin' | 'acceptance'
}

export type TallyLine = {
  /** Unique: a line occurs in every place of its module. */
  readonly id: string
  readonly line: LineId
  readonly module: ModuleId
  /** Modules around it, the outermost first. */
  readonly path: readonly ModuleId[]
  /** As drawn, mirrored and recoloured. */
  readonly item: ItemKey
  /** What is wanted: the item, in the colour its group took. */
  readonly wanted: ItemKey
  readonly group: string | undefined
  readonly visibility: Visibility
  readonly each: number
  readonly need: number
  readonly coverage: Coverage
  readonly pegs: readonly TallyPeg[]
  /** True when a peg rests on an estimated holding. */
  readonly estimate: boolean
  /** Short pieces for which a stand-in is at hand until they arrive. */
  readonly interim: Interim | undefined
  /** Short pieces that buying serves better than the stand-ins there are, at what a point of compromise is worth. */
  readonly buyInstead: number
}

export type Tally = Totals & {
  readonly lines: readonly TallyLine[]
  /** How many colours the design is in, given what its groups chose. */
  readonly coloursUsed: number
}

/** A sheet as it is read: lines and pegs are made when first asked for. The snapshot must be the one it was made from. */
export function openTally(snapshot: Snapshot, sheet: TallySheet, memory: Memory): Tally {
  let lines: readonly TallyLine[] | undefined
  return {
    ...sheet,
    get lines() {
      return (lines ??= readLines(snapshot, sheet, memory))
    },
    get coloursUsed() {
      return coloursUsed(requirementList(snapshot, memory), sheet.groups, memory)
    },
  }
}

/** What a design needs, sorted once: its colours where no group chooses them, and the requirements of groups. */
function coloursOf(list: readonly Requirement[]) {
  const grouped = list.filter((r) => r.source.group !== undefined)
  const others = list.filter((r) => r.source.group === undefined)
  return { colours: new Set(others.map((r) => splitItemKey(r.item).colour)), grouped }
}

function coloursUsed(list: readonly Requirement[], groups: Tally['groups'], memory: Memory): number {
  const { colours, grouped } = memory.of(coloursOf, list)
  const chosen = grouped.map((r) => splitItemKey(wantedOf(r, groups)).colour)
  return new Set([...colours, ...chosen]).size
}

function readLines(snapshot: Snapshot, { lines: sheet, groups }: TallySheet, memory: Memory): TallyLine[] {
  const { coverage, estimate, buyInstead, interim } = sheet
  let rows: SupplyRows | undefined
  return requirementList(snapshot, memory).map((r, i): TallyLine => {
    let pegs: readonly TallyPeg[] | undefined
    return {
      id: r.id,
      line: r.line,
      module: r.module,
      path: r.path,
      item: r.item,
      wanted: wantedOf(r, groups),
      group: r.source.group,
      visibility: r.source.visibility ?? 'seen',
      each: r.each,
      need: r.qty,
      coverage: coverageAt(coverage, i),
      get pegs() {
        return (pegs ??= readPegs((rows ??= supplyRows(snapshot, memory)), sheet, r, i))
      },
      estimate: estimate[i] === 1,
      interim: interim.get(i),
      buyInstead: buyInstead[i] as number,
    }
  })
}

function readPegs(rows: SupplyRows, { pegs, pegsFrom, meanings }: TallySheet['lines'], r: Requirement, i: number) {
  const read: TallyPeg[] = []
  for (let at = (pegsFrom[i] as number) * PEG_FIELDS; at < (pegsFrom[i + 1] as number) * PEG_FIELDS; at += PEG_FIELDS) {
    const [row, qty] = [pegs[at] as number, pegs[at + 1] as number]
    if (row === BUILT) {
      read.push({ source: { kind: 'built', places: r.models }, item: r.item, qty })
      continue
    }
    const { source, item } = supplyAt(rows, row, qty)
    const meaning = meanings[pegs[at + 2] as number]
    const chosen = pegs[at + 3]
    read.push({
      source,
      item,
      qty,
      ...(meaning && { standIn: meaning.kind, points: meaning.points, uses: meaning.uses ?? [{ item, qty: 1 }] }),
      ...(chosen === BY.pin && { by: 'pin' }),
      ...(chosen === BY.acceptance && { by: 'acceptance' }),
    })
  }
  return read
}
