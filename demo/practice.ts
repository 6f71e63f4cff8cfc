import { splitItemKey } from '../core/catalogue/item.ts'
import { Prng } from './prng.ts'
import { demoRecords } from './scenario.ts'

const SEED = 7

/**
 * A shelf list to try an import with, as people keep theirs: a title above the headings, drawers as sections, estimates,
 * notes in the counts, conditions in words or left out, and a total below. Semicolons.
 */
export function practiceShelf(): string {
  const random = new Prng(SEED)
  const next = (below: number) => random.int(0, below - 1)
  const { parts, colours } = demoRecords()
  const plain = parts.filter((p) => /^(plate|brick|tile|slope)/.test(p.shape.family)).slice(0, 60)
  const counts = [
    (n: number) => String(n),
    (n: number) => `~${n * 10}`,
    (n: number) => `${n} pcs`,
    (n: number) => `${n} (one chipped)`,
    (n: number) => `${n}+2`,
  ]
  const words = ['new', 'used - good', '', 'worn', 'mint', '']
  const rows = ['Loose pieces in the attic;;;', 'counted in autumn;;;', 'Part;Colour;Quantity;Condition']
  for (let drawer = 1; drawer <= 6; drawer++) {
    rows.push(`Attic drawer ${drawer};;;`)
    for (let i = 0; i < 12; i++) {
      const part = plain[next(plain.length)]?.name ?? 'plate 2x4'
      const colour = colours[next(12)]?.name ?? 'Soot'
      const count = (counts[next(10) < 6 ? 0 : next(counts.length)] ?? String)(1 + next(12))
      rows.push(`${part};${colour};${count};${words[next(words.length)] ?? ''}`)
    }
  }
  return `${[...rows, 'Total;;see above;'].join('\r\n')}\r\n`
}

/** An offers file to try with the demo: three invented shops that sell what its observatory needs; their shipping is not in it. */
export function practiceOffers(): string {
  const random = new Prng(SEED + 1)
  const next = (below: number) => random.int(0, below - 1)
  const { parts, colours, designs } = demoRecords()
  const partOf = new Map(parts.map((p) => [p.id as string, p.name]))
  const colourOf = new Map(colours.map((c) => [c.id as string, c.name]))
  const items = [...new Set(designs[0]?.modules.flatMap((m) => m.lines.map((l) => l.item)) ?? [])]
  const shops = ['Gable and Sill', 'The Loose Half', 'Pieces by the Pound']
  const rows = items.flatMap((item) => {
    const { part, colour, decoration } = splitItemKey(item)
    const [name, shade] = [partOf.get(part), colourOf.get(colour)]
    if (!name || !shade || decoration !== '') return []
    return shops
      .filter(() => next(3) > 0)
      .map((shop) => `${shop},${name},${shade},0.${String(4 + next(60)).padStart(2, '0')},${1 + next(40)},used`)
  })
  return `${['shop,part,colour,price,stock,condition', ...rows].join('\r\n')}\r\n`
}
