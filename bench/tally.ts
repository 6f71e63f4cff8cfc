import { itemKey, type ItemKey } from '../core/catalogue/item.ts'
import { partFromName } from '../core/catalogue/part.ts'
import { PALETTE } from '../core/colours/palette.ts'
import type { DesignLine, Module } from '../core/design/design.ts'
import type { Copy, DonorSet } from '../core/donors/donor-set.ts'
import { defaultRules, type Rules } from '../core/build/house-rules.ts'
import type { Snapshot } from '../core/netting/snapshot.ts'
import type { Holding } from '../core/shelf/holding.ts'
import type { BuildId, CopyId, HoldingId, LineId, ModuleId, PlaceId, SetId } from '../core/units/ids.ts'
import { currency } from '../core/units/money.ts'

const WIDTHS = [1, 2, 4, 6]
const LENGTHS = [1, 2, 3, 4, 6, 8, 10, 12, 16]
const FAMILIES = ['plate', 'brick', 'tile', 'slope', 'panel', 'round plate', 'masonry brick', 'brick with hole']

/**
 * 5,000 lines in 200 modules, 20,000 holdings in 400 places, 10 donor copies of 600 lines each; a quarter of the lines
 * hidden and free in colour, other moulds allowed anywhere, near colours for a tenth.
 */
export function bigScene(rules: Partial<Rules> = {}): Snapshot {
  const parts = FAMILIES.flatMap((family) =>
    WIDTHS.flatMap((w) => LENGTHS.filter((l) => l >= w).map((l) => partFromName(`${family} ${w}x${l}`))),
  )
  const colours = PALETTE.slice(0, 40)
  let state = 12345
  const next = (n: number) => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0
    return Math.floor((state / 2 ** 32) * n)
  }
  /** Plentiful parts and colours are much more common than rare ones. */
  const skewed = (n: number) => Math.floor(n * (next(1000) / 1000) ** 2)
  const item = (): ItemKey => {
    const part = parts[skewed(parts.length)] ?? parts[0]
    const colour = colours[skewed(colours.length)] ?? colours[0]
    if (!part || !colour) throw new Error('there are parts and colours')
    return itemKey(part.id, colour.id)
  }
  const modules = Array.from({ length: 200 }, (_, m): Module => ({
    id: `m-${m}` as ModuleId,
    name: `Module ${m}`,
    repeats: 1 + (m % 3),
    lines: Array.from({ length: 25 }, (_, n): DesignLine => ({
      id: `n-${m}-${n}` as LineId,
      item: item(),
      qty: 1 + next(6),
      ...(n % 4 === 0 ? { visibility: 'hidden' } : n % 10 === 1 ? { freedom: 'near' } : {}),
    })),
  }))
  const set = (s: number): DonorSet => ({
    id: `s-${s}` as SetId,
    name: `Set ${s}`,
    stages: Array.from({ length: 4 }, (_, i) => ({ id: `${i}`, name: `Stage ${i}` })),
    lines: Array.from({ length: 600 }, (_, i) => ({
      stage: `${i % 4}`,
      item: item(),
      qty: 1 + next(5),
      spare: i % 20 === 0,
    })),
  })
  const holdings = Array.from({ length: 20_000 }, (_, h): Holding => ({
    id: `h-${h}` as HoldingId,
    place: `l-${h % 400}` as PlaceId,
    item: item(),
    qty: 1 + next(24),
    estimate: h % 50 === 0,
    condition: h % 7 === 0 ? 'new' : 'used',
  }))
  return {
    build: {
      id: 'b-bench' as BuildId,
      name: 'Bench',
      note: '',
      currency: currency('EUR'),
      rules: {
        ...defaultRules,
        sources: 'donors and shelf',
        colours: 'free where hidden',
        moulds: 'anywhere',
        ...rules,
      },
    },
    design: { id: 'b-bench' as BuildId, modules },
    sets: Array.from({ length: 10 }, (_, s) => set(s)),
    copies: Array.from({ length: 10 }, (_, s): Copy => ({
      id: `y-${s}` as CopyId,
      setId: `s-${s}` as SetId,
      buildId: 'b-bench' as BuildId,
      label: `Copy ${s}`,
      state: 'owned',
      stages: 'all',
      spares: true,
      missing: [],
    })),
    holdings,
    places: Array.from({ length: 400 }, (_, i) => ({
      id: `l-${i}` as PlaceId,
      name: `Drawer ${i}`,
      kind: 'drawer',
      parent: null,
    })),
    parts: new Map(parts.map((p) => [p.id, p])),
    colourById: new Map(PALETTE.map((c) => [c.id, c])),
  }
}
