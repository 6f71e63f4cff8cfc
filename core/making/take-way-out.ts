import { isClaimOpen } from '../orders/claims.ts'
import { copiesAfter, lose, NO_CHANGE, together, type Amiss } from './amiss.ts'
import type { Unit } from './unit.ts'
import { putIn, takeOut, type MakingChange } from './put-in.ts'
import { takesFor, Ledger, type TakeGroup } from './takes.ts'
import { needOf } from './works.ts'
import type { WayOut } from './missing.ts'
import type { Order } from '../orders/order.ts'
import { ok, type Result } from '../units/result.ts'
import type { MakingRefusal } from './put-in.ts'
import { putOf } from './unit.ts'
import type { TallyPeg } from '../netting/tally.ts'
import type { CopyId } from '../units/ids.ts'
import type { LineAt } from './at-work.ts'

/** A booked line of an order that pieces which are amiss may be claimed on, those never counted first. */
export type Claimable = {
  readonly order: Order
  readonly line: string
  readonly right: number
  readonly uncounted: boolean
}

export const claimables = (orders: readonly Order[], item: LineAt['line']['item']): Claimable[] =>
  orders
    .flatMap((order) =>
      order.lines.flatMap((l) =>
        l.item === item &&
        l.got &&
        l.got.right > 0 &&
        !order.claims.some((c) => isClaimOpen(c) && c.lines.some((x) => x.line === l.id))
          ? [{ order, line: l.id, right: l.got.right, uncounted: l.got.uncounted === true }]
          : [],
      ),
    )
    .sort((p, q) => Number(q.uncounted) - Number(p.uncounted))

/** The order with which a donor copy came that the count has pieces of a line in. */
export function copyOrdered(
  orders: readonly Order[],
  pegs: readonly TallyPeg[],
): { readonly order: Order; readonly copy: CopyId } | undefined {
  for (const { source } of pegs) {
    if (source.kind !== 'copy') continue
    const order = orders.find((o) => o.copies.some((c) => c.id === source.copy && c.checked === true))
    if (order) return { order, copy: source.copy }
  }
  return undefined
}

/** What is amiss is booked: pieces leave where the count has them, or the model where they are in already. */
export function booked(
  row: LineAt,
  qty: number,
  amiss: Amiss,
): { readonly change: MakingChange; readonly unit: Unit; readonly ledger: Ledger } {
  const { at, work, repeat, line } = row
  const unit = at.unitAt(work, repeat)
  const ledger = new Ledger(at.stock)
  const open = needOf(work, line, repeat) - putOf(unit, line.line)
  if (open < qty && putOf(unit, line.line) > 0) {
    const fate =
      amiss.kind === 'broken' && amiss.kept
        ? ({ kind: 'place', place: 'l-out-of-models', broken: true } as const)
        : ({ kind: 'lost' } as const)
    const out = takeOut(unit, line.line, Math.min(qty, putOf(unit, line.line)), fate as never, at.stock)
    if (out.ok) return { change: out.value, unit: out.value.units[0] ?? unit, ledger }
  }
  const { groups } = takesFor(at.build, line.item, qty, at.pegsOf(line.id), at.stock, ledger)
  return { change: groups.length > 0 ? lose(groups, amiss, at.build, at.stock.copies) : NO_CHANGE, unit, ledger }
}

/** Pieces put in on top of what was booked, from what is still there. */
function thenPut(
  row: LineAt,
  groups: readonly TakeGroup[],
  before: { readonly change: MakingChange; readonly unit: Unit },
): Result<MakingChange, MakingRefusal> {
  const { at, work, repeat, line } = row
  if (groups.length === 0) return ok(before.change)
  const put = putIn(before.unit, line.line, needOf(work, line, repeat), groups, {
    copies: copiesAfter(at.stock.copies, before.change),
  })
  return put.ok ? ok(together(before.change, put.value)) : put
}

/** A way out taken: what is amiss is booked, and what the way brings goes in. */
export function taken(row: LineAt, qty: number, amiss: Amiss, way: WayOut): Result<MakingChange, MakingRefusal> {
  const before = booked(row, qty, amiss)
  const { at } = row
  switch (way.kind) {
    case 'leftover':
    case 'later module':
      return thenPut(row, takesFor(at.build, way.item, way.qty, [], at.stock, before.ledger).groups, before)
    case 'model':
    case 'against the rules':
      return thenPut(
        row,
        [{ covers: way.qty, takes: [{ kind: 'holding', holding: way.holding, item: way.holding.item, qty: way.qty }] }],
        before,
      )
    case 'stand-in': {
      const groups: TakeGroup[] = []
      for (let n = 0; n < way.qty; n++) {
        const takes = way.uses.flatMap((u) =>
          takesFor(at.build, u.item, u.qty, [], at.stock, before.ledger).groups.flatMap((g) => g.takes),
        )
        const got = takes.reduce((m, t) => m + t.qty, 0)
        if (got < way.uses.reduce((m, u) => m + u.qty, 0)) break
        groups.push({ covers: 1, takes })
      }
      return thenPut(row, groups, before)
    }
    case 'on order':
    case 'buy':
      return ok(before.change)
  }
}
