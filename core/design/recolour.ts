import { itemKey, splitItemKey, type ItemKey } from '../catalogue/item.ts'
import type { ColourId, ModuleId } from '../units/ids.ts'
import type { ColourSwap, Colourway, Design, DesignLine, Module } from './design.ts'

/** The item in another colour. */
export function inColour(item: ItemKey, colour: ColourId): ItemKey {
  const { part, decoration } = splitItemKey(item)
  return itemKey(part, colour, decoration)
}

/** One colour after an exchange; a colour that no swap names stays. The first swap that names it counts. */
export const swapColour = (colour: ColourId, swaps: readonly ColourSwap[]): ColourId =>
  swaps.find((s) => s.from === colour)?.to ?? colour

/** One exchange that does what two do, one after the other. */
export function composeSwaps(first: readonly ColourSwap[], then: readonly ColourSwap[]): ColourSwap[] {
  const chained = first.map(({ from, to }) => ({ from, to: swapColour(to, then) }))
  return [...chained, ...then.filter((s) => !first.some((f) => f.from === s.from))]
}

/** The design with further exchanges in a module, after those it has. */
export const exchanged = (design: Design, module: ModuleId, swaps: readonly ColourSwap[]): Design => ({
  ...design,
  modules: design.modules.map((m) => (m.id === module ? { ...m, colours: composeSwaps(m.colours ?? [], swaps) } : m)),
})

/** A chain of exchanges applied in turn, innermost first. */
export function recolour(item: ItemKey, maps: readonly (readonly ColourSwap[])[]): ItemKey {
  const { part, colour, decoration } = splitItemKey(item)
  const to = maps.reduce<ColourId>((c, swaps) => swapColour(c, swaps), colour)
  return to === colour ? item : itemKey(part, to, decoration)
}

/** What a colourway exchanges in a place of the design: swaps of the innermost module named, then the whole design's. */
export function colourwaySwaps(colourway: Colourway | undefined, path: readonly ModuleId[]): readonly ColourSwap[] {
  if (!colourway) return []
  const own = [...path].reverse().flatMap((id) => colourway.colours.filter((c) => c.module === id))
  return [...own, ...colourway.colours.filter((c) => c.module === undefined)]
}

/** The colourway a design is built in. */
export const chosenColourway = (design: Design, id = design.colourway): Colourway | undefined =>
  design.colourways?.find((c) => c.id === id)

/** Writes an exchange of colours into a module's lines; locked lines and those of other colours stay. */
export function recolourLines(module: Module, swaps: readonly ColourSwap[]): Module {
  return {
    ...module,
    lines: module.lines.map((line) => (line.locked ? line : { ...line, item: recolour(line.item, [swaps]) })),
  }
}

/** Puts a whole group of lines in one colour, in every module; locked lines stay. */
export function recolourGroup(design: Design, group: string, colour: ColourId): Design {
  const next = (line: DesignLine): DesignLine =>
    line.group === group && !line.locked ? { ...line, item: inColour(line.item, colour) } : line
  return { ...design, modules: design.modules.map((m) => ({ ...m, lines: m.lines.map(next) })) }
}
