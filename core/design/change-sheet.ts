import type { ItemKey } from '../catalogue/item.ts'
import type { Part } from '../catalogue/part.ts'
import type { DonorSet } from '../donors/donor-set.ts'
import type { ModuleId, PartId } from '../units/ids.ts'
import type { Design, Module } from './design.ts'
import { explode } from './explode.ts'
import { sumItems, type Pieces } from './sum-items.ts'

/** Pieces that are added, and how many of them come from the heap of what was taken off. */
export type Added = Pieces & {
  /** Taken off a stage, by its name. */
  readonly heap: readonly { readonly from: string; readonly qty: number }[]
  /** What the heap has not: from donors, shelf or shops. */
  readonly rest: number
}

/** What becomes of one stage of a donor, or of a module that is new. */
export type StageChange = {
  readonly name: string
  /** Undefined for a stage of the donor that is not in the design: it is taken off as a whole. */
  readonly module: Module | undefined
  /** A stage of a donor that stands built; all of a module that is none is added. */
  readonly stage: boolean
  /** Pieces that stay. */
  readonly kept: number
  readonly off: readonly Pieces[]
  readonly added: readonly Added[]
}

export type ChangeSheet = {
  readonly stages: readonly StageChange[]
  readonly kept: number
  readonly off: number
  readonly added: number
  /** Of what is added, pieces that were taken off elsewhere in the donor. */
  readonly reused: number
  /** Pieces taken off that nothing uses again. */
  readonly over: readonly Pieces[]
}

const sum = (list: readonly { readonly qty: number }[]): number => list.reduce((n, p) => n + p.qty, 0)

/** Whether a design changes a donor that stands built: then its change sheet says something. */
export const changesDonor = (design: Design): boolean =>
  design.modules.some((m) => m.origin?.kind === 'donor' && !m.later)

/**
 * The changes from donors that stand built, stage by stage: what stays, what is taken off, and what is added, which comes
 * from the heap of what was taken off as far as that goes, in the order of the design. Modules begun from a donor are its
 * stages, each standing once; stages of such a donor that no module was begun from are taken off whole. What a module
 * needs is counted as it is built: times its repeats, mirrored, recoloured; ideas for later are left out. Undone, the
 * sheet gives every stage back: what stays and what was taken off are its contents.
 */
export function changeSheet(
  design: Design,
  sets: readonly DonorSet[] = [],
  parts?: ReadonlyMap<PartId, Part>,
): ChangeSheet {
  const modules = design.modules.filter((m) => !m.later)
  const needs = new Map<ModuleId, Pieces[]>(modules.map((m) => [m.id, []]))
  for (const { module, item, qty } of explode(design, parts ? { parts } : {})) needs.get(module)?.push({ item, qty })
  const plans = [
    ...modules.map((module) => ({
      name: module.name,
      module,
      held: module.origin?.kind === 'donor' ? sumItems(module.origin.contents) : undefined,
      now: sumItems(needs.get(module.id) ?? []),
    })),
    ...unusedStages(modules, sets),
  ]
  const heap = new Map<ItemKey, { readonly from: string; qty: number }[]>()
  const offs = plans.map(({ name, held, now }): Pieces[] => {
    const off = [...(held ?? [])]
      .map(([item, qty]) => ({ item, qty: qty - (now.get(item) ?? 0) }))
      .filter(({ qty }) => qty > 0)
    for (const { item, qty } of off) {
      const piles = heap.get(item)
      if (piles) piles.push({ from: name, qty })
      else heap.set(item, [{ from: name, qty }])
    }
    return off
  })
  const stages = plans.map(({ name, module, held, now }, i): StageChange => {
    const added = [...now].flatMap(([item, qty]) => {
      const more = qty - (held?.get(item) ?? 0)
      return more > 0 ? [fromHeap(item, more, heap.get(item) ?? [])] : []
    })
    const off = offs[i] ?? []
    return {
      name,
      module,
      stage: held !== undefined,
      kept: [...(held?.values() ?? [])].reduce((n, q) => n + q, 0) - sum(off),
      off,
      added,
    }
  })
  const over = [...heap].map(([item, piles]) => ({ item, qty: sum(piles) })).filter(({ qty }) => qty > 0)
  const off = sum(stages.flatMap((s) => s.off))
  return {
    stages,
    kept: stages.reduce((n, s) => n + s.kept, 0),
    off,
    added: sum(stages.flatMap((s) => s.added)),
    reused: off - sum(over),
    over,
  }
}

/** Stages of donors in the design that no module was begun from, as plans without a need. */
function unusedStages(modules: readonly Module[], sets: readonly DonorSet[]) {
  const origins = modules.flatMap(({ origin }) => (origin?.kind === 'donor' ? [origin] : []))
  return sets.flatMap((set) => {
    const begun = origins.filter((o) => o.set === set.id)
    // The set may be called otherwise by now: an origin that names no stage ends in the stage's name.
    const isBegun = ({ id, name }: DonorSet['stages'][number]): boolean =>
      begun.some((o) => (o.stage === undefined ? o.name.endsWith(`, ${name}`) : o.stage === id))
    return begun.length === 0
      ? []
      : set.stages
          .filter((stage) => !isBegun(stage))
          .map((stage) => ({
            name: `${set.name}, ${stage.name}`,
            module: undefined,
            held: sumItems(set.lines.filter((l) => l.stage === stage.id && !l.spare)),
            now: new Map<ItemKey, number>(),
          }))
  })
}

/** Takes pieces from the heap; what is taken is no longer on it. */
function fromHeap(item: ItemKey, qty: number, piles: readonly { readonly from: string; qty: number }[]): Added {
  const taken: { from: string; qty: number }[] = []
  let rest = qty
  for (const pile of piles) {
    const n = Math.min(rest, pile.qty)
    if (n === 0) continue
    pile.qty -= n
    rest -= n
    taken.push({ from: pile.from, qty: n })
  }
  return { item, qty, heap: taken, rest }
}
