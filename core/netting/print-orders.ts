import type { ItemKey } from '../catalogue/item.ts'
import type { PrintRun } from './sheet.ts'
import { decimal, formatMoney } from '../units/money.ts'
import { plural } from '../units/numbers.ts'

/** What one maker prints, minor units of the build's currency. */
export type PrintOrder = {
  readonly vendor: string
  readonly runs: readonly PrintRun[]
  readonly pieces: number
  readonly total: number
  /** Days until all of it is here; undefined where that is not known of a run. */
  readonly days: number | undefined
}

/** Custom prints as one order for each maker, the dearest first. */
export function printOrders(runs: readonly PrintRun[]): PrintOrder[] {
  const byVendor = new Map<string, PrintRun[]>()
  for (const run of runs) byVendor.set(run.vendor, [...(byVendor.get(run.vendor) ?? []), run])
  return [...byVendor]
    .map(([vendor, own]) => ({
      vendor,
      runs: own,
      pieces: own.reduce((n, r) => n + Math.max(r.qty, r.minRun), 0),
      total: own.reduce((sum, r) => sum + r.cost, 0),
      days: own.every((r) => r.days !== undefined)
        ? own.reduce((most, r) => Math.max(most, r.days ?? 0), 0)
        : undefined,
    }))
    .sort((p, q) => q.total - p.total || (p.vendor < q.vendor ? -1 : 1))
}

/** An order of prints in words, a run a line, to be pasted into a message to its maker. */
export function printOrderText(
  { vendor, runs, pieces, total }: PrintOrder,
  currency: string,
  nameOf: (item: ItemKey) => string,
): string {
  return [
    `${vendor}: ${plural(pieces, 'print')}, ${formatMoney(total, currency)}`,
    ...runs.map(({ item, qty, minRun, side, price, artwork }) => {
      const version = side === undefined ? '' : `, ${side} version`
      const file = artwork === undefined ? '' : `, artwork ${artwork}`
      return `${Math.max(qty, minRun)} x ${nameOf(item)}${version}${file} at ${decimal(price, currency)}`
    }),
  ].join('\n')
}
