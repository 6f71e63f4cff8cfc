import type { ItemKey } from '../catalogue/item.ts'
import type { Design, DesignLine, Module } from './design.ts'

/** The design with every item it names put through a function; the same design when none changes. */
export function mapItems(design: Design, to: (item: ItemKey) => ItemKey): Design {
  let changed = false
  const map = (item: ItemKey): ItemKey => {
    const next = to(item)
    if (next !== item) changed = true
    return next
  }
  const line = (l: DesignLine): DesignLine => ({
    ...l,
    item: map(l.item),
    ...(l.instead ? { instead: l.instead.map((uses) => uses.map((u) => ({ ...u, item: map(u.item) }))) } : {}),
    ...(l.meanwhile ? { meanwhile: map(l.meanwhile) } : {}),
  })
  const modules = design.modules.map((m): Module => ({
    ...m,
    lines: m.lines.map(line),
    ...(m.origin?.kind === 'donor'
      ? { origin: { ...m.origin, contents: m.origin.contents.map((c) => ({ ...c, item: map(c.item) })) } }
      : {}),
  }))
  return changed ? { ...design, modules } : design
}
