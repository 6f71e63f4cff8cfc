import type { ItemKey } from '../catalogue/item.ts'
import type { ColourId } from '../units/ids.ts'
import type { Design, DesignLine, Module } from './design.ts'

/** What items, and colours beside them, are called otherwise. */
export type Naming = { readonly item: (item: ItemKey) => ItemKey; readonly colour: (id: ColourId) => ColourId }

/**
 * The design with every item and colour it names put through a naming: lines, what they take instead, palettes, exchanges
 * of colours, colourways and what is looked out for; the same design when none changes. Colours that become one stay once in a palette, and an
 * exchange of a colour for itself goes.
 */
export function mapItems(design: Design, naming: Naming): Design {
  let changed = false
  const note = <T>(before: T, next: T): T => {
    if (next !== before) changed = true
    return next
  }
  const item = (key: ItemKey): ItemKey => note(key, naming.item(key))
  const colour = (id: ColourId): ColourId => note(id, naming.colour(id))
  const palette = (ids: readonly ColourId[]): ColourId[] => [...new Set(ids.map(colour))]
  const swaps = <S extends { readonly from: ColourId; readonly to: ColourId }>(list: readonly S[]): S[] =>
    list.map((s) => ({ ...s, from: colour(s.from), to: colour(s.to) })).filter((s) => s.from !== s.to)
  const line = (l: DesignLine): DesignLine => ({
    ...l,
    item: item(l.item),
    ...(l.instead ? { instead: l.instead.map((uses) => uses.map((u) => ({ ...u, item: item(u.item) }))) } : {}),
    ...(l.meanwhile ? { meanwhile: item(l.meanwhile) } : {}),
    ...(l.palette ? { palette: palette(l.palette) } : {}),
  })
  const modules = design.modules.map((m): Module => ({
    ...m,
    lines: m.lines.map(line),
    ...(m.colours ? { colours: swaps(m.colours) } : {}),
    ...(m.origin?.kind === 'donor'
      ? { origin: { ...m.origin, contents: m.origin.contents.map((c) => ({ ...c, item: item(c.item) })) } }
      : {}),
  }))
  const colourways = design.colourways?.map((way) => ({ ...way, colours: swaps(way.colours) }))
  const lookout = design.lookout?.map((l) => ({ ...l, item: item(l.item) }))
  return changed ? { ...design, modules, ...(colourways && { colourways }), ...(lookout && { lookout }) } : design
}
