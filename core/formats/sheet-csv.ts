import type { ItemKey } from '../catalogue/item.ts'
import type { BuildSheet } from '../settling/build-sheet.ts'
import { writeCsv } from './delimited.ts'

type NameItem = (item: ItemKey) => {
  readonly part: { readonly name: string }
  readonly colour: { readonly name: string }
}

/** A build sheet's parts as a table (RFC 4180): a row a module's line, then a row an item in all, whose module is empty. */
export const sheetCsv = ({ modules, all }: Pick<BuildSheet, 'modules' | 'all'>, nameItem: NameItem): string => {
  const named = (item: ItemKey) => {
    const { part, colour } = nameItem(item)
    return [part.name, colour.name]
  }
  return writeCsv([
    ['module', 'repeats', 'part', 'colour', 'pieces in one', 'pieces', 'from donors', 'still needed'],
    ...modules.flatMap((m) => m.lines.map((l) => [m.name, m.repeats, ...named(l.item), l.each ?? '', l.qty, '', ''])),
    ...all.map((a) => ['', '', ...named(a.item), '', a.qty, a.donors, a.still]),
  ])
}
