import { splitItemKey, type ItemKey } from '../catalogue/item.ts'
import { decimal } from '../units/money.ts'
import type { ListTable } from './delimited.ts'
import type { JobFile } from './job-file.ts'
import { FIELD_LABELS, type Field, type ListKind } from './list-fields.ts'

type Row = Partial<Record<Field, string | number>>
/** What of a job file lists are made from. */
export type Listed = Pick<
  JobFile,
  'parts' | 'colours' | 'sets' | 'designs' | 'builds' | 'places' | 'holdings' | 'shops' | 'offers'
>

/** The lists of one kind in a job file, as tables to import from: sets and designs each by themselves. */
export function jobLists(job: Listed, kind: ListKind): { name: string; table: ListTable }[] {
  const parts = new Map(job.parts.map((p) => [p.id, p.name]))
  const colours = new Map(job.colours.map((c) => [c.id, c.name]))
  const piece = (item: ItemKey): Row => {
    const { part, colour, decoration } = splitItemKey(item)
    return {
      part: parts.get(part) ?? part.slice(2).replace(/-/g, ' '),
      colour: colours.get(colour) ?? colour.slice(2).replace(/-/g, ' '),
      decoration,
    }
  }
  const lists = ((): { name: string; rows: Row[] }[] => {
    if (kind === 'donor')
      return job.sets.map((set) => {
        const stages = new Map(set.stages.map((s) => [s.id, s.name]))
        return {
          name: set.name,
          rows: set.lines.map((l) => ({
            ...piece(l.item),
            qty: l.qty,
            stage: stages.get(l.stage) ?? l.stage,
            spare: l.spare ? 'yes' : '',
            figure: l.figure ?? '',
          })),
        }
      })
    if (kind === 'design')
      return job.designs.map((design) => ({
        name: job.builds.find((b) => b.id === design.id)?.name ?? design.id,
        rows: design.modules.flatMap((m) =>
          m.lines.map((l) => ({
            ...piece(l.item),
            qty: l.qty,
            module: m.name,
            repeats: Math.max(1, m.repeats),
            visibility: l.visibility ?? '',
            note: l.note ?? '',
          })),
        ),
      }))
    if (kind === 'shelf') {
      const places = new Map(job.places.map((p) => [p.id, p.name]))
      const rows = job.holdings.map((h) => ({
        ...piece(h.item),
        qty: h.estimate ? `~${h.qty}` : h.qty,
        place: places.get(h.place) ?? '',
        condition: h.condition,
        length: h.length ?? '',
      }))
      return [{ name: 'Shelf', rows }]
    }
    const shops = new Map(job.shops.map((s) => [s.id, s]))
    // Prices in other money than the builds' say so.
    const own = job.builds[0]?.currency ?? 'EUR'
    const priced = (price: number, code: string) => `${decimal(price, code)}${code === own ? '' : ` ${code}`}`
    const rows = job.offers.map((o) => ({
      ...piece(o.item),
      shop: shops.get(o.shop)?.name ?? o.shop,
      price: priced(o.price, shops.get(o.shop)?.currency ?? own),
      stock: o.stock,
      pack: o.pack,
      condition: o.condition,
      thirdParty: o.thirdParty ? 'yes' : '',
    }))
    return [{ name: 'Offers', rows }]
  })()
  return lists.flatMap(({ name, rows }) => {
    const fields = Object.keys(rows[0] ?? {}) as Field[]
    if (fields.length === 0) return []
    const table = [fields.map((f) => FIELD_LABELS[f]), ...rows.map((r) => fields.map((f) => String(r[f] ?? '')))]
    return [{ name, table: { rows: table, lineOf: table.map((_, i) => i + 1) } }]
  })
}
