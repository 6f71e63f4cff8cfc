import { itemKey, type ItemKey } from '../catalogue/item.ts'
import { partFromName } from '../catalogue/part.ts'
import { PALETTE } from '../colours/palette.ts'
import { copyContents } from '../donors/copy-contents.ts'
import type { Copy, DonorSet } from '../donors/donor-set.ts'
import type { Design, Module } from '../design/design.ts'
import { explode } from '../design/explode.ts'
import type { Holding } from '../shelf/holding.ts'
import { addLots, takenFor } from '../shelf/lot.ts'
import type { Place } from '../shelf/place.ts'
import type { BuildId, ColourId, HoldingId, PartId } from '../units/ids.ts'
import type { MakingChange } from './put-in.ts'
import { newUnit, type Unit } from './unit.ts'
import { worksOf, type Work } from './works.ts'

export const BUILD = 'b-1' as BuildId
const part = (name: string): PartId => partFromName(name).id
const colour = (i: number): ColourId => PALETTE[i]?.id ?? ('c-none' as ColourId)
export const item = (name: string, of = 0): ItemKey => itemKey(part(name), colour(of))
export const PARTS = new Map(
  ['plate 2x4', 'plate 1x2', 'brick 2x2', 'tile 1x1', 'wedge plate 2x4, left', 'wedge plate 2x4, right'].map((n) => {
    const p = partFromName(n)
    return [p.id, p] as const
  }),
)
export const PLATE = item('plate 2x4')
export const SMALL = item('plate 1x2')
export const BRICK = item('brick 2x2')
export const TILE = item('tile 1x1')
export const ITEMS = [PLATE, SMALL, BRICK, TILE]

export const places: Place[] = [
  { id: 'l-a', name: 'A', kind: 'bin', parent: null },
  { id: 'l-b', name: 'B', kind: 'box', parent: null },
  { id: 'l-m', name: 'Old tower', kind: 'model', parent: null },
] as unknown as Place[]

export const set: DonorSet = {
  id: 's-1',
  name: 'Hut',
  stages: [
    { id: 'a', name: 'A' },
    { id: 'b', name: 'B' },
  ],
  lines: [
    { stage: 'a', item: PLATE, qty: 6, spare: false },
    { stage: 'a', item: SMALL, qty: 4, spare: false },
    { stage: 'b', item: BRICK, qty: 5, spare: false },
    { stage: 'b', item: TILE, qty: 3, spare: false },
  ],
} as unknown as DonorSet

export const copy: Copy = {
  id: 'y-1',
  setId: 's-1',
  label: 'One',
  buildId: BUILD,
  state: 'owned',
  stages: 'all',
  spares: false,
  missing: [],
} as unknown as Copy

const line = (id: string, of: ItemKey, qty: number, more = {}) => ({ id: `n-${id}`, item: of, qty, ...more })
export const design: Design = {
  id: BUILD,
  modules: [
    {
      id: 'm-a',
      name: 'Base',
      repeats: 1,
      origin: {
        kind: 'donor',
        set: 's-1',
        stage: 'a',
        name: 'Hut, A',
        contents: [
          { item: PLATE, qty: 6 },
          { item: SMALL, qty: 4 },
        ],
      },
      lines: [line('1', PLATE, 4), line('2', SMALL, 2), line('3', BRICK, 2)],
    },
    { id: 'm-w', name: 'Wall', repeats: 3, lines: [line('4', BRICK, 2), line('5', SMALL, 1), line('6', TILE, 1)] },
  ] as unknown as Module[],
}

export const holding = (id: string, place: string, of: ItemKey, qty: number, more = {}): Holding =>
  ({ id: `h-${id}`, place, item: of, qty, estimate: false, condition: 'used', ...more }) as unknown as Holding

export const works = (of: Design = design): Work[] => worksOf(of, explode(of, { parts: PARTS }))
export const workOf = (module: string, of: Design = design): Work => {
  const work = works(of).find((w) => w.module.id === module)
  if (!work) throw new Error(`no work ${module}`)
  return work
}

/** Everything there is at one moment. */
export type World = {
  readonly holdings: readonly Holding[]
  readonly copies: readonly Copy[]
  readonly units: readonly Unit[]
}

let serial = 0
export const fresh = (): string => `f${serial++}`

/** The world after an act at the table, as storage writes it. */
export function after(world: World, change: MakingChange): World {
  const left = new Map<HoldingId, Holding | undefined>(world.holdings.map((h) => [h.id, h]))
  for (const { seen, qty, build } of change.takes) {
    const held = left.get(seen.id)
    if (!held || held.qty < qty) throw new Error('took more than there is')
    left.set(seen.id, takenFor(held, qty, build))
  }
  const rest = [...left.values()].flatMap((h) => h ?? [])
  const { put } = addLots(rest, change.lots, fresh)
  const written = new Map(put.map((h) => [h.id, h]))
  return {
    holdings: [...rest.map((h) => written.get(h.id) ?? h), ...put.filter((h) => !rest.some((r) => r.id === h.id))],
    copies: world.copies.map((c) => change.copies.find((n) => n.id === c.id) ?? c),
    units: [
      ...world.units.map((u) => change.units.find((n) => n.id === u.id) ?? u),
      ...change.units.filter((n) => !world.units.some((u) => u.id === n.id)),
    ],
  }
}

/** All pieces of each item, wherever they are: on the shelf, in boxes, in unfinished models. */
export function census({ holdings, copies, units }: World): Map<ItemKey, number> {
  const sums = new Map<ItemKey, number>()
  const count = (of: ItemKey, qty: number) => sums.set(of, (sums.get(of) ?? 0) + qty)
  for (const h of holdings) count(h.item, h.qty)
  for (const c of copies) for (const s of copyContents(set, c)) count(s.item, s.qty)
  for (const u of units) if (u.standsIn === undefined) for (const p of u.put) count(p.item, p.qty)
  return sums
}

export const unitAt = ({ units }: Pick<World, 'units'>, work: Work, repeat: number): Unit =>
  units.find((u) => u.path.join('/') === work.key && u.repeat === repeat) ?? newUnit(BUILD, work.path, repeat)
