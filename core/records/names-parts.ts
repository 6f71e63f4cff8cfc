import { dequal } from 'dequal'
import { usesKey, type Decision } from '../build/decision.ts'
import type { Scenario } from '../build/scenario.ts'
import type { ResalePrice } from '../build/resale.ts'
import type { ItemKey } from '../catalogue/item.ts'
import type { Renaming, TakenOver } from '../catalogue/merge-parts.ts'
import type { Copy } from '../donors/donor-set.ts'
import type { Making } from '../making/making.ts'
import type { Unit } from '../making/unit.ts'
import type { Sale } from '../settling/sale.ts'
import type { Order, Receipt } from '../orders/order.ts'
import type { Holding } from '../shelf/holding.ts'
import { addLots } from '../shelf/lot.ts'
import type { ColourId } from '../units/ids.ts'

type NamesItem = { readonly item: ItemKey }

/** A record that is of an item, renamed; the same when its name stays. */
export function renamedRow<R extends NamesItem>(record: R, { item }: Renaming): R {
  const to = item(record.item)
  return to === record.item ? record : { ...record, item: to }
}

/** A list of rows of items, renamed; the same list when none changes. */
function renamedList<T extends NamesItem>(list: readonly T[], naming: Renaming): T[] {
  const next = list.map((row) => renamedRow(row, naming))
  return next.every((row, i) => row === list[i]) ? (list as T[]) : next
}

/** A record with a list of items in one of its fields, renamed; the same when none changes. */
export function renamedRows<F extends string, R extends { readonly [K in F]: readonly NamesItem[] }>(
  record: R,
  field: F,
  naming: Renaming,
): R {
  const before: readonly NamesItem[] = record[field]
  const list = renamedList(before, naming)
  return list === before ? record : { ...record, [field]: list }
}

/** A decision that names parts or items: by item in what it covers, what covers it and where that comes from. */
export function renamedDecision(decision: Decision, naming: Renaming): Decision {
  const { what } = decision
  const next = (): Decision['what'] => {
    switch (what.kind) {
      case 'pin':
        return { ...what, source: { ...what.source, item: naming.item(what.source.item) } }
      case 'own':
        return {
          ...what,
          part: naming.part(what.part),
          uses: what.uses.map((u) => ({ ...u, part: naming.part(u.part) })),
        }
      case 'forbid':
      case 'accept':
        return { ...what, item: naming.item(what.item), uses: renamedList(what.uses, naming) }
    }
  }
  const renamed = next()
  return dequal(renamed, what) ? decision : { ...decision, what: renamed }
}

/** Whether a decision speaks of a piece standing in for itself: what it was about has become one part. */
function isPointless({ what }: Decision): boolean {
  if (what.kind === 'own') return what.uses.some((u) => u.part === what.part)
  return (what.kind === 'forbid' || what.kind === 'accept') && usesKey(what.uses) === what.item
}

/** Decisions under their new names; those that would speak of a piece standing in for itself go. */
export function decisionTakenOver(decisions: readonly Decision[], naming: Renaming): TakenOver<Decision> {
  const renamed = decisions.map((d) => renamedDecision(d, naming))
  return { put: renamed.filter((d) => !isPointless(d)), remove: renamed.filter(isPointless).map((d) => d.id) }
}

/**
 * Holdings under their new names: those that find an equal one join it with their reservations, the others keep their
 * ids. No piece appears or vanishes.
 */
export function holdingsTakenOver(
  touched: readonly Holding[],
  naming: Renaming,
  shelf: readonly Holding[],
): TakenOver<Holding> {
  const ids = new Set<string>(touched.map((h) => h.id))
  const { put } = addLots(
    shelf.filter((h) => !ids.has(h.id)),
    touched.map((h) => ({ ...h, item: naming.item(h.item) })),
    () => '',
  )
  const kept = new Set<string>(put.map((h) => h.id))
  return { put, remove: [...ids].filter((id) => !kept.has(id)) }
}

/** A build whose rules name colours and pieces. */
export function renamedBuild<
  B extends {
    readonly rules: { readonly palette: readonly ColourId[]; readonly resalePrices: readonly ResalePrice[] }
  },
>(build: B, naming: Renaming): B {
  const { palette, resalePrices } = build.rules
  const colours = [...new Set(palette.map(naming.colour))]
  const prices = resalePrices.map((p) => (p.kind === 'item' ? renamedRow(p, naming) : p))
  const same = dequal(colours, palette) && prices.every((p, i) => p === resalePrices[i])
  return same ? build : { ...build, rules: { ...build.rules, palette: colours, resalePrices: prices } }
}

/** A scenario whose changes name colours and pieces. */
export function renamedScenario(scenario: Scenario, naming: Renaming): Scenario {
  const { recoloured, accepted } = scenario.changes
  const changes: Scenario['changes'] = {
    ...scenario.changes,
    ...(recoloured && { recoloured: recoloured.map((r) => ({ ...r, colour: naming.colour(r.colour) })) }),
    ...(accepted && {
      accepted: accepted.map((a) => ({ ...a, item: naming.item(a.item), uses: renamedList(a.uses, naming) })),
    }),
  }
  return dequal(changes, scenario.changes) ? scenario : { ...scenario, changes }
}

/** An order that names pieces: in its lines, in what came of them and in what lies at the bench. */
export function renamedOrder(order: Order, naming: Renaming): Order {
  const receipt = <R extends Receipt>(of: R): R => {
    const wrong = renamedList(of.wrong, naming)
    return wrong === of.wrong ? of : { ...of, wrong }
  }
  const lines = order.lines.map((line) => {
    const next = renamedRow(line, naming)
    const got = next.got && receipt(next.got)
    return got === next.got ? next : { ...next, ...(got && { got }) }
  })
  const bench = order.bench?.map((b) => receipt(b))
  const same = lines.every((l, i) => l === order.lines[i]) && (bench?.every((b, i) => b === order.bench?.[i]) ?? true)
  return same ? order : { ...order, lines, ...(bench && { bench }) }
}

/** A copy that names what it lacks, and what was taken off its stages. */
export function renamedCopy(copy: Copy, naming: Renaming): Copy {
  const next = renamedRows(copy, 'missing', naming)
  const stands = copy.stands?.map((s) => renamedRows(s, 'off', naming))
  const same = stands?.every((s, i) => s === copy.stands?.[i]) ?? true
  return same || !stands ? next : { ...next, stands }
}

/** A repeat that names what was put into it, and what that is for show instead of. */
export function renamedUnit(unit: Unit, naming: Renaming): Unit {
  const put = unit.put.map((p) => {
    const next = renamedRow(p, naming)
    return p.shown ? { ...next, shown: renamedRow(p.shown, naming) } : next
  })
  return dequal(put, unit.put) ? unit : { ...unit, put }
}

/** What is said of making a build, with what lies fetched and counted on its table. */
export function renamedMaking(making: Making, naming: Renaming): Making {
  const fetched = renamedRows(renamedRows(making, 'fetched', naming), 'counted', naming)
  const stickers = making.stickers.map((s) => {
    const of = s.of && naming.item(s.of)
    return of === s.of || of === undefined ? s : { ...s, of }
  })
  return stickers.every((s, i) => s === making.stickers[i]) ? fetched : { ...fetched, stickers }
}

/** Pieces that are for sale; a figure keeps its name. */
export const renamedSale = (sale: Sale, naming: Renaming): Sale => renamedRows(sale, 'lots', naming)
