import type { Build } from '../core/build/build.ts'
import { defaultRules } from '../core/build/house-rules.ts'
import { itemKey } from '../core/catalogue/item.ts'
import { partFromName } from '../core/catalogue/part.ts'
import type { Design, DesignLine, Module } from '../core/design/design.ts'
import { freedPieces, modulesFromDonor } from '../core/design/from-donor.ts'
import type { Copy, DonorSet } from '../core/donors/donor-set.ts'
import { colourId, type BuildId, type CopyId, type LineId, type ModuleId } from '../core/units/ids.ts'
import { currency } from '../core/units/money.ts'

const CONVERSION = 'b-weather-station' as BuildId
const EUR = currency('EUR')

/** Half of a line's pieces taken off, the line gone where there is but one. */
const thinned = (line: DesignLine): DesignLine[] => (line.qty < 2 ? [] : [{ ...line, qty: Math.ceil(line.qty / 2) }])

/**
 * The demo's second build: a donor that stands built is changed in part. One stage is turned, one is thinned out, one
 * is taken off, and what comes off is the first supply for an instrument mast.
 */
export function conversionOf(set: DonorSet): { readonly build: Build; readonly copy: Copy; readonly design: Design } {
  let n = 0
  const stages = modulesFromDonor(
    set,
    set.stages.map((s) => s.id),
    () => `conversion-${++n}`,
  ).map((m) => ({ ...m, name: m.name.replace(`${set.name}: `, '') }))
  const changed = stages.map((module, i): Module => {
    if (i === 0) return { ...module, change: 'turned', note: 'a quarter to the left, so that the door faces the path' }
    if (i === 1) return { ...module, lines: module.lines.flatMap((l, at) => (at % 3 === 0 ? thinned(l) : [l])) }
    return i === stages.length - 1 ? { ...module, lines: [] } : module
  })
  const freed = changed.flatMap(freedPieces)
  const item = (part: string, colour: string) => itemKey(partFromName(part).id, colourId(colour))
  const mast: Module = {
    id: 'm-instrument-mast' as ModuleId,
    name: 'Instrument mast',
    repeats: 1,
    note: 'Wind vane, rain gauge and two lamps.',
    lines: [
      ...freed.slice(0, 24).map(({ item: of, qty }) => ({ item: of, qty: Math.max(1, Math.floor(qty / 2)) })),
      { item: item('round tile 1x1', 'Clear honey'), qty: 4 },
      { item: item('rod 6 long', 'Pewter metal'), qty: 2 },
    ].map((l, i) => ({ id: `n-mast-${i}` as LineId, ...l })),
  }
  const build: Build = {
    id: CONVERSION,
    name: 'Weather station from a post office',
    note: 'The donor stands built: only what changes is touched. Nothing but what was in its box.',
    currency: EUR,
    rules: { ...defaultRules, sources: 'donors', condition: 'worn' },
  }
  const copy: Copy = {
    id: 'y-post-2' as CopyId,
    setId: set.id,
    label: `${set.name}, standing built`,
    buildId: CONVERSION,
    state: 'owned',
    paid: { minor: 3900, currency: EUR },
    stages: 'all',
    spares: false,
    missing: [],
  }
  const design: Design = {
    id: CONVERSION,
    modules: [...changed, mast],
    lookout: freed.slice(-2).map(({ item: of, qty }) => ({ item: of, qty: qty + 2 })),
  }
  return { build, copy, design }
}
