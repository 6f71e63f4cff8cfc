import type { ItemKey } from '../catalogue/item.ts'
import type { LineId } from '../units/ids.ts'
import { ok, refuse, type Result } from '../units/result.ts'
import { putIn, takeOut, type MakingChange, type MakingRefusal } from './put-in.ts'
import { type Stock, type TakeGroup } from './takes.ts'
import { putOf, type Put, type Unit } from './unit.ts'

/**
 * Exchanges pieces of a line that are in for others: those that were in go back to where they came from. With `shown`, the
 * day, it is for show only, and what was in is remembered to be put back.
 */
export function exchange(
  unit: Unit,
  line: LineId,
  groups: readonly TakeGroup[],
  stock: Pick<Stock, 'copies' | 'places'>,
  shown?: string,
): Result<MakingChange, MakingRefusal> {
  const covers = groups.reduce((n, g) => n + g.covers, 0)
  const was = unit.put.findLast((p) => p.line === line)?.item
  if (was === undefined) return refuse('not there', 'Nothing of this line is in yet.')
  const out = takeOut(unit, line, covers, { kind: 'back' }, stock)
  if (!out.ok) return out
  const without = out.value.units[0] ?? unit
  const copies = withChanged(stock.copies, out.value.copies)
  const put = putIn(
    without,
    line,
    Infinity,
    groups,
    { copies },
    shown === undefined ? {} : { shown: { item: was, on: shown } },
  )
  if (!put.ok) return put
  return ok({
    ...put.value,
    lots: out.value.lots,
    copies: changedOf(stock.copies, withChanged(copies, put.value.copies)),
  })
}

const withChanged = <T extends { readonly id: string }>(list: readonly T[], changed: readonly T[]): T[] =>
  list.map((r) => changed.find((c) => c.id === r.id) ?? r)

const changedOf = <T extends { readonly id: string }>(before: readonly T[], after: readonly T[]): T[] =>
  after.filter((r, i) => r !== before[i])

/** What is in a model for show only, until what belongs there is put back. */
export type ForShow = {
  readonly unit: Unit
  readonly line: LineId
  readonly put: Put
  readonly was: ItemKey
  readonly on: string
}

export const forShow = (units: readonly Unit[]): ForShow[] =>
  units.flatMap((unit) =>
    unit.put.flatMap((put) =>
      put.shown && put.line !== undefined ? [{ unit, line: put.line, put, was: put.shown.item, on: put.shown.on }] : [],
    ),
  )

/** Pieces of a line that are in and are what the line asks for, and others. */
export function usedOf(unit: Unit, line: LineId, item: ItemKey): { readonly right: number; readonly other: number } {
  const right = unit.put.reduce((n, p) => n + (p.line === line && p.item === item ? p.covers : 0), 0)
  return { right, other: putOf(unit, line) - right }
}
