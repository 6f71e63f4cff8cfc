import { splitItemKey, type ItemKey } from '../catalogue/item.ts'
import type { Part } from '../catalogue/part.ts'
import { changeSheet, changesDonor, type StageChange } from '../design/change-sheet.ts'
import type { Design, Module } from '../design/design.ts'
import type { Provenance } from '../design/provenance.ts'
import { copyContents } from '../donors/copy-contents.ts'
import type { Copy, DonorSet } from '../donors/donor-set.ts'
import type { Unit } from '../making/unit.ts'
import type { StandInKind } from '../netting/stand-ins/candidate.ts'
import type { TallyLine } from '../netting/tally.ts'
import type { PriceOf } from '../offers/goods-cost.ts'
import type { LoosePrices } from '../offers/loose-prices.ts'
import { isSticker } from '../shelf/stickers.ts'
import type { LineId, ModuleId, PartId } from '../units/ids.ts'

type Pieces = { readonly item: ItemKey; readonly qty: number }

/** A module's pieces: in one repeat, where all repeats are alike, and in all. */
export type SheetLine = Pieces & { readonly each: number | undefined }

export type SheetModule = {
  readonly id: ModuleId
  readonly name: string
  readonly repeats: number
  readonly mirrored: boolean
  readonly pieces: number
  readonly lines: readonly SheetLine[]
  readonly note: string | undefined
  /** A picture by its id. */
  readonly picture: string | undefined
  /** What nobody has tried yet. */
  readonly untested: readonly string[]
}

/** A plan that the build follows, and whether its licence permits to share what follows it. */
export type Credit = {
  /** The module that follows it; the design as a whole when left out. */
  readonly module: string | undefined
  readonly author: string
  readonly licence: string
  readonly share: boolean
  readonly sell: boolean
}

/** A piece that stands in for another, and how many times; `tested`: it is built in. */
export type SheetSwap = {
  readonly wanted: ItemKey
  readonly uses: readonly Pieces[]
  readonly kind: StandInKind | undefined
  readonly qty: number
  readonly tested: boolean
}

/** What an owner of the donors would still pay, minor units; goods alone. */
export type SheetPrice = {
  /** At the cheapest offers, and at the median offer of each piece. */
  readonly low: number
  readonly high: number
  /** Pieces that nobody offers: in neither. */
  readonly unpriced: number
  /** What it goes into, the dearest first. */
  readonly drivers: readonly (Pieces & { readonly minor: number })[]
}

/** What becomes of a stage of a donor, or of a module that is new. */
export type SheetStage = Pick<StageChange, 'name' | 'stage' | 'kept' | 'off'> & {
  /** Not in the design: it is taken off as a whole. */
  readonly gone: boolean
  readonly change: Module['change']
  /** Pieces added, and how many of them come from what was taken off. */
  readonly added: readonly (Pieces & { readonly heap: number })[]
}

/** How another builder could build it: what is shared of a build. Nothing personal is in it, and nothing of what was paid. */
export type BuildSheet = {
  readonly modules: readonly SheetModule[]
  /** Names of modules that their licence forbids to share: their lines are nowhere in the sheet. */
  readonly withheld: readonly string[]
  readonly credits: readonly Credit[]
  readonly pieces: number
  /** All pieces: how many of them the donors give, and what an owner of them still needs. */
  readonly all: readonly (Pieces & { readonly donors: number; readonly still: number })[]
  readonly donors: readonly { readonly name: string; readonly copies: number; readonly pieces: number }[]
  /** From the donors' own instructions to the model, stage by stage; undefined where it is not begun from a donor. */
  readonly changes:
    | { readonly stages: readonly SheetStage[]; readonly kept: number; readonly off: number; readonly added: number }
    | undefined
  readonly price: SheetPrice
  readonly swaps: readonly SheetSwap[]
  readonly cautions: readonly string[]
}

/** What a sheet is made of: a count, and what was built. */
export type SheetSource = {
  readonly provenance: Provenance | undefined
  readonly design: Design
  readonly lines: readonly TallyLine[]
  readonly copies: readonly Copy[]
  readonly sets: readonly DonorSet[]
  readonly parts: ReadonlyMap<PartId, Part>
  readonly units: readonly Unit[]
  readonly prices: LoosePrices
  readonly priceOf: PriceOf
}

const MOST_DRIVERS = 5

/** Modules that may not be shared: by their own plan, by that of a module around them or that they are like, or by the build's. */
export function withheldModules(design: Design, provenance: Provenance | undefined): Set<ModuleId> {
  const byId = new Map(design.modules.map((m) => [m.id, m]))
  const known = new Map<ModuleId, boolean>()
  const forbidden = (m: Module | undefined, depth: number): boolean => {
    if (!m || depth > design.modules.length) return false
    const before = known.get(m.id)
    if (before !== undefined) return before
    const is =
      m.provenance?.permits.share === false ||
      (m.within !== undefined && forbidden(byId.get(m.within), depth + 1)) ||
      (m.like !== undefined && forbidden(byId.get(m.like), depth + 1))
    known.set(m.id, is)
    return is
  }
  const all = provenance?.permits.share === false
  return new Set(design.modules.filter((m) => all || forbidden(m, 0)).map((m) => m.id))
}

/** Makes the sheet of a build that is to be shared. Linear in lines, sets and units. */
export function buildSheet(source: SheetSource): BuildSheet {
  const { design, provenance, lines, sets, parts, units, copies } = source
  const withheld = withheldModules(design, provenance)
  const modules = design.modules.filter((m) => !m.later && !withheld.has(m.id))
  const shared = new Set(modules.map((m) => m.id))
  const shown = lines.filter((l) => shared.has(l.module))
  const byModule = new Map<ModuleId, TallyLine[]>(modules.map((m) => [m.id, []]))
  for (const line of shown) byModule.get(line.module)?.push(line)
  const all = new Map<ItemKey, number>()
  for (const l of shown) all.set(l.wanted, (all.get(l.wanted) ?? 0) + l.need)
  const { donors, pool } = donorsOf(copies, sets)
  const needs = [...all].map(([item, qty]) => {
    const given = Math.min(qty, pool.get(item) ?? 0)
    return { item, qty, donors: given, still: qty - given }
  })
  return {
    modules: modules.map((m) => moduleOf(m, byModule.get(m.id) ?? [])),
    withheld: design.modules.filter((m) => withheld.has(m.id)).map((m) => m.name),
    credits: creditsOf(design, provenance),
    pieces: shown.reduce((n, l) => n + l.need, 0),
    all: needs.sort((p, q) => q.still - p.still || q.qty - p.qty),
    donors,
    changes: changesOf(design, sets, parts, withheld),
    price: priceOf(needs, source),
    swaps: swapsOf(shown, units),
    cautions: cautionsOf(shown, modules, parts, changesDonor(design)),
  }
}

/** What the build's donors hold when they are bought whole, stages that count alone. */
function donorsOf(copies: readonly Copy[], sets: readonly DonorSet[]) {
  const pool = new Map<ItemKey, number>()
  const bySet = new Map<string, { name: string; copies: number; pieces: number }>()
  for (const copy of copies) {
    const set = copy.state === 'to-buy' ? undefined : sets.find((s) => s.id === copy.setId)
    if (!set) continue
    const contents = copyContents(set, { ...copy, spares: false, missing: [] })
    const known = bySet.get(set.id) ?? { name: set.name, copies: 0, pieces: 0 }
    known.copies++
    for (const { item, qty } of contents) {
      pool.set(item, (pool.get(item) ?? 0) + qty)
      known.pieces += qty
    }
    bySet.set(set.id, known)
  }
  return { donors: [...bySet.values()], pool }
}

function moduleOf(m: Module, lines: readonly TallyLine[]): SheetModule {
  const items = new Map<ItemKey, { qty: number; each: number }>()
  const tapers = new Set(m.lines.flatMap((l) => (l.steps ? [l.id] : [])))
  const uneven = new Set<ItemKey>()
  /** Repeats in all its places, by line; what was left out on purpose is no repeat less. */
  const times = new Map<LineId, number>()
  for (const { line, wanted, need, each } of lines) {
    const known = items.get(wanted) ?? { qty: 0, each: 0 }
    // A line is one thing however many places its module stands in.
    const first = !times.has(line)
    items.set(wanted, { qty: known.qty + need, each: known.each + (first ? each : 0) })
    if (tapers.has(line)) uneven.add(wanted)
    times.set(line, (times.get(line) ?? 0) + (tapers.has(line) || each === 0 ? 0 : Math.ceil(need / each)))
  }
  return {
    ...{ id: m.id, name: m.name, mirrored: m.mirrored ?? false, note: m.note, picture: m.picture },
    repeats: Math.max(0, ...times.values()) || m.repeats,
    pieces: lines.reduce((n, l) => n + l.need, 0),
    untested: (m.risks ?? []).flatMap((r) => (r.state === 'open' ? [r.kind] : [])),
    lines: [...items].map(([item, { qty, each }]) => ({ item, qty, each: uneven.has(item) ? undefined : each })),
  }
}

function creditsOf(design: Design, provenance: Provenance | undefined): Credit[] {
  const credit = (module: string | undefined, { author, licence, permits }: Provenance): Credit => ({
    ...{ module, author, licence, share: permits.share, sell: permits.sell },
  })
  return [
    ...(provenance ? [credit(undefined, provenance)] : []),
    ...design.modules.flatMap((m) => (m.provenance ? [credit(m.name, m.provenance)] : [])),
  ]
}

function changesOf(
  design: Design,
  sets: readonly DonorSet[],
  parts: ReadonlyMap<PartId, Part>,
  withheld: ReadonlySet<ModuleId>,
): BuildSheet['changes'] {
  if (!changesDonor(design)) return undefined
  const hidden = new Set(design.modules.filter((m) => withheld.has(m.id)).map((m) => m.name))
  const stages = changeSheet(design, sets, parts)
    .stages.filter((s) => !s.module || !withheld.has(s.module.id))
    .map(({ name, module, stage, kept, off, added }): SheetStage => ({
      ...{ name, stage, kept, off, gone: module === undefined, change: module?.change },
      // What comes off a module that is not shared is not told of.
      added: added.map(({ item, qty, heap }) => ({
        ...{ item, qty },
        heap: heap.reduce((n, h) => n + (hidden.has(h.from) ? 0 : h.qty), 0),
      })),
    }))
  const sum = (list: readonly Pieces[]) => list.reduce((n, p) => n + p.qty, 0)
  return {
    stages,
    kept: stages.reduce((n, s) => n + s.kept, 0),
    off: stages.reduce((n, s) => n + sum(s.off), 0),
    added: stages.reduce((n, s) => n + sum(s.added), 0),
  }
}

function priceOf(needs: BuildSheet['all'], { prices, priceOf: cheapest }: SheetSource): SheetPrice {
  let [low, high, unpriced] = [0, 0, 0]
  const drivers: (Pieces & { minor: number })[] = []
  for (const { item, still } of needs) {
    if (still === 0) continue
    const { cost, unavailable } = cheapest(item, still)
    unpriced += unavailable
    low += cost
    // What is to be had: dear offers of few pieces may come to more than the median.
    high += Math.max(cost, (still - unavailable) * (prices.get(item)?.median ?? 0))
    if (cost > 0) drivers.push({ item, qty: still - unavailable, minor: cost })
  }
  drivers.sort((p, q) => q.minor - p.minor)
  return { low, high, unpriced, drivers: drivers.slice(0, MOST_DRIVERS) }
}

function swapsOf(lines: readonly TallyLine[], units: readonly Unit[]): SheetSwap[] {
  const swaps = new Map<string, { swap: SheetSwap; qty: number }>()
  const note = (swap: Omit<SheetSwap, 'qty'>, qty: number) => {
    const key = JSON.stringify([swap.wanted, swap.uses, swap.tested])
    const known = swaps.get(key)
    if (known) known.qty += qty
    else swaps.set(key, { swap: { ...swap, qty }, qty })
  }
  const wantedOf = new Map<LineId, Set<ItemKey>>()
  for (const { line, wanted, pegs } of lines) {
    wantedOf.set(line, (wantedOf.get(line) ?? new Set()).add(wanted))
    for (const { item, qty, standIn, uses } of pegs)
      // Of what serves together the first piece says so.
      if (standIn && (!uses || uses[0]?.item === item))
        note(
          { wanted, uses: uses ?? [{ item, qty: 1 }], kind: standIn, tested: false },
          Math.floor(qty / Math.max(1, uses?.[0]?.qty ?? 1)),
        )
  }
  for (const { put } of units)
    for (const { line, item, qty } of put) {
      const wanted = line === undefined ? undefined : wantedOf.get(line)
      const [first] = wanted ?? []
      if (first !== undefined && wanted?.has(item) === false)
        note({ wanted: first, uses: [{ item, qty: 1 }], kind: undefined, tested: true }, qty)
    }
  return [...swaps.values()]
    .map(({ swap, qty }) => ({ ...swap, qty }))
    .filter((s) => s.qty > 0)
    .sort((p, q) => Number(q.tested) - Number(p.tested) || q.qty - p.qty)
}

/** The usual cautions, those that apply: what is small, cut, peeled, pried or not tried. */
function cautionsOf(
  lines: readonly TallyLine[],
  modules: readonly Module[],
  parts: ReadonlyMap<PartId, Part>,
  pried: boolean,
): string[] {
  const families = new Set(lines.map((l) => parts.get(splitItemKey(l.wanted).part)?.shape.family))
  const stickers = lines.some((l) => isSticker(splitItemKey(l.wanted).decoration))
  const untested = modules.some((m) => m.risks?.some((r) => r.state === 'open'))
  return [
    'Small parts: a choking hazard, not for children under three.',
    ...(families.has('hose') || families.has('string')
      ? ['Hose and string: what is cut stays cut. Measure twice, cut away from the hand.']
      : []),
    ...(stickers ? ['Stickers come off with warm water: hot water scalds, and softens plastic.'] : []),
    ...(pried ? ['Old plastic is brittle: pry slowly, never with a blade towards the hand.'] : []),
    ...(untested ? ['Some of it was never test built: the modules say what.'] : []),
  ]
}
