import { rowNet, type WhatIfRow } from '../../../core/sourcing/what-if.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { noPlan } from './proof-words.ts'
import { plural } from '../../../core/units/numbers.ts'

/** Pieces that no purchase brings. */
export const shortOf = ({ leftOut }: Pick<WhatIfRow, 'leftOut'>): number => leftOut.reduce((n, u) => n + u.short, 0)

/** How many more or fewer of something. */
const moreOrFewer = (n: number, one: string, many = `${one}s`): string[] =>
  n === 0 ? [] : [`${plural(Math.abs(n), one, many)} ${n > 0 ? 'more' : 'fewer'}`]

/** What a what-if costs more than another, net of what leftovers likely bring; minor units. Undefined where one has no plan. */
export function netMore(base: WhatIfRow, row: WhatIfRow): number | undefined {
  const [from, to] = [rowNet(base), rowNet(row)]
  return from === undefined || to === undefined ? undefined : to - from
}

/** In what a what-if differs from another besides money: pieces, orders, days. */
export function otherDifferences(base: WhatIfRow, row: WhatIfRow): string[] {
  const [from, to] = [base.sums, row.sums]
  if (!from || !to) return []
  const standIns = to.standIns + (row.task?.standIns ?? 0) - from.standIns - (base.task?.standIns ?? 0)
  const short = shortOf(row) - shortOf(base)
  const days = to.lastDay - from.lastDay
  return [
    ...(short === 0 ? [] : [`${plural(Math.abs(short), 'piece')} ${short > 0 ? 'more' : 'fewer'} not to be had`]),
    ...moreOrFewer((row.task?.need ?? 0) - (base.task?.need ?? 0), 'piece needed', 'pieces needed'),
    ...moreOrFewer(to.loose - from.loose, 'loose piece'),
    ...moreOrFewer(standIns, 'stand-in'),
    ...moreOrFewer(to.copies - from.copies, 'donor copy', 'donor copies'),
    ...moreOrFewer(to.orders - from.orders, 'order'),
    ...(days === 0 ? [] : [`${plural(Math.abs(days), 'day')} ${days > 0 ? 'later' : 'sooner'}`]),
    ...moreOrFewer(to.surplus - from.surplus, 'piece left over', 'pieces left over'),
  ]
}

/** In what a what-if differs from the build as it is, in a sentence's middle: "4.20 less, one order more". */
export function differenceWords(base: WhatIfRow, row: WhatIfRow, currency: string): string {
  const more = netMore(base, row)
  if (more === undefined) return row.plan?.total === null ? noPlan(row.plan) : ''
  const money =
    more === 0 ? 'costs the same' : `costs ${formatMoney(Math.abs(more), currency)} ${more > 0 ? 'more' : 'less'}`
  return [money, ...otherDifferences(base, row)].join('; ')
}
