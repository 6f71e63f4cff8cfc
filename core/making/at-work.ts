import type { TallyLine, TallyPeg } from '../netting/tally.ts'
import type { BuildId } from '../units/ids.ts'
import type { Making } from './making.ts'
import type { Stock } from './takes.ts'
import { newUnit, type Unit } from './unit.ts'
import { needOf, sumsOf, unitsByWork, type UnitSums, type Work, type WorkLine } from './works.ts'

/** What there is to build of a count's design now, and how far each repeat of it is. */
export type AtWork = {
  readonly build: BuildId
  readonly works: readonly Work[]
  readonly units: readonly Unit[]
  readonly unitsOf: ReadonlyMap<string, ReadonlyMap<number, Unit>>
  readonly making: Making
  readonly unitAt: (work: Work, repeat: number) => Unit
  /** What is in a repeat, line by line; undefined while nothing is said of it. */
  readonly sumsAt: (work: Work, repeat: number) => UnitSums | undefined
  /** What the count has for a line; of the last count while it is being made again. */
  readonly pegsOf: (line: string) => readonly TallyPeg[]
  readonly stock: Stock
}

/** A line of one repeat at the table. */
export type LineAt = { readonly at: AtWork; readonly work: Work; readonly repeat: number; readonly line: WorkLine }

const NO_PEGS: readonly TallyPeg[] = []

/** The table as it is: what there is to build, what is in it, and what the count has for the rest. */
export function atWork({
  lines,
  ...table
}: Pick<AtWork, 'build' | 'works' | 'units' | 'making' | 'stock'> & { readonly lines: readonly TallyLine[] }): AtWork {
  const unitsOf = unitsByWork(table.units)
  let lineOf: Map<string, TallyLine> | undefined
  return {
    ...table,
    unitsOf,
    sumsAt: summing(unitsOf),
    unitAt: (work, repeat) => unitsOf.get(work.key)?.get(repeat) ?? newUnit(table.build, work.path, repeat),
    pegsOf: (line) => (lineOf ??= new Map(lines.map((l) => [l.id, l]))).get(line)?.pegs ?? NO_PEGS,
  }
}

/** Adds each unit up once, when it is first asked about. */
function summing(unitsOf: AtWork['unitsOf']): AtWork['sumsAt'] {
  const known = new Map<Unit, UnitSums>()
  return (work, repeat) => {
    const unit = unitsOf.get(work.key)?.get(repeat)
    if (!unit) return undefined
    const sums = known.get(unit) ?? sumsOf(unit)
    known.set(unit, sums)
    return sums
  }
}

/** How many pieces of a line a repeat needs, has, does without and still wants. */
export function lineState({ at, work, repeat, line }: LineAt) {
  const sums = at.sumsAt(work, repeat)
  const need = needOf(work, line, repeat)
  const put = sums?.put.get(line.line) ?? 0
  const leftOut = sums?.leftOut.get(line.line) ?? 0
  return { need, put, leftOut, open: Math.max(0, need - put - leftOut) }
}
