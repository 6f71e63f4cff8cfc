import type { ItemKey } from '../catalogue/item.ts'
import type { ChangeSheet, StageChange } from '../design/change-sheet.ts'
import { sumItems, type Pieces } from '../design/sum-items.ts'
import type { Copy, DonorSet } from '../donors/donor-set.ts'
import { ok, refuse, type Result } from '../units/result.ts'
import { comingOut, putIn, type MakingChange, type MakingRefusal } from './put-in.ts'
import { Ledger, type Stock, type TakeGroup } from './takes.ts'
import { pathKey, piecesIn, type Unit } from './unit.ts'
import { openOf, sumsOf, type Work } from './works.ts'

/** A stage of a donor that stands built, as it is being changed. */
export type StageAtWork = {
  /** The stage's id in the set. */
  readonly stage: string
  readonly change: StageChange
  /** What is to come off, and how much of it has. */
  readonly off: readonly (Pieces & { readonly done: number })[]
  /** Pieces that stay, and those of them that are booked as built. */
  readonly kept: number
  readonly keptDone: number
  /** Pieces that are added, and those of them that are in. */
  readonly added: number
  readonly addedDone: number
  /** Whether it was moved or turned as a whole; undefined where the design leaves it where it is. */
  readonly moved: boolean | undefined
  readonly done: boolean
}

/** The stage of the set that a stage of the change sheet is about; undefined of what is new. */
export function stageOf(set: DonorSet, { name, module, stage }: StageChange): string | undefined {
  if (!stage) return undefined
  const origin = module?.origin
  if (origin?.kind === 'donor')
    return origin.set !== set.id
      ? undefined
      : (origin.stage ?? set.stages.find((s) => origin.name.endsWith(`, ${s.name}`))?.id)
  return set.stages.find((s) => name === `${set.name}, ${s.name}`)?.id
}

/** A copy's stages as they are being changed, by the change sheet of the design: what is to be done and what has been. */
export function conversionOf(
  copy: Copy,
  set: DonorSet,
  sheet: ChangeSheet,
  works: readonly Work[],
  units: readonly Unit[],
): StageAtWork[] {
  return sheet.stages.flatMap((change): StageAtWork[] => {
    const stage = stageOf(set, change)
    const stands = copy.stands?.find((s) => s.stage === stage)
    if (stage === undefined || !stands) return []
    const gone = sumItems(stands.off)
    const off = change.off.map((p) => ({ ...p, done: Math.min(p.qty, gone.get(p.item) ?? 0) }))
    const own = works.find((w) => w.module.id === change.module?.id)
    const unit = own && units.find((u) => pathKey(u.path) === own.key && u.repeat === 1)
    const stayed = (unit?.put ?? []).reduce(
      (n, p) => n + (p.stayed === true && p.from.kind === 'copy' && p.from.copy === copy.id ? p.qty : 0),
      0,
    )
    const added = change.added.reduce((n, a) => n + a.qty, 0)
    const addedDone = Math.min(added, unit ? piecesIn(unit) - stayed : 0)
    const keptDone = Math.min(change.kept, stayed)
    const moved = change.module?.change === undefined ? undefined : stands.moved === true
    const done =
      off.every((p) => p.done === p.qty) && keptDone === change.kept && addedDone === added && moved !== false
    return [{ stage, change, off, kept: change.kept, keptDone, added, addedDone, moved, done }]
  })
}

/** A copy whose stages, the chosen ones, stand built; pieces taken off before are on again. */
export const standing = (copy: Copy, set: DonorSet): Copy => {
  const stages = copy.stages === 'all' ? set.stages.map((s) => s.id) : copy.stages
  return { ...copy, stands: stages.map((stage) => ({ stage, off: [] })) }
}

/** A copy of which nothing stands: all of it is loose. */
export function allLoose(copy: Copy): Copy {
  const { stands: _, ...loose } = copy
  return loose
}

/** A copy of which one stage is taken apart as a whole. */
export function stageApart(copy: Copy, stage: string): Copy {
  const stands = (copy.stands ?? []).filter((s) => s.stage !== stage)
  return stands.length > 0 ? { ...copy, stands } : allLoose(copy)
}

/** A copy of which one stage was moved or turned as a whole, or stands as it did again. */
export const stageMoved = (copy: Copy, stage: string, moved: boolean): Copy => ({
  ...copy,
  stands: (copy.stands ?? []).map((s) => {
    if (s.stage !== stage) return s
    const { moved: _, ...bare } = s
    return moved ? { ...bare, moved } : bare
  }),
})

/**
 * Pieces taken off a stage that stands (put on again where negative): they are loose from then on, and the copy's still.
 * Refused beyond what the stage holds, and below nothing.
 */
export function takeOff(
  copy: Copy,
  set: DonorSet,
  stage: string,
  item: ItemKey,
  qty: number,
): Result<Copy, MakingRefusal> {
  const stands = copy.stands?.find((s) => s.stage === stage)
  if (!stands) return refuse('not there', 'This stage does not stand built any more.')
  if (!Number.isInteger(qty) || qty === 0) return refuse('bad number', 'A whole number of pieces comes off.')
  const held = sumItems(set.lines.filter((l) => l.stage === stage && !l.spare)).get(item) ?? 0
  const off = sumItems(stands.off)
  const now = (off.get(item) ?? 0) + qty
  if (now > held) return refuse('beyond its need', `The stage has ${held} of them in all.`)
  if (now < 0) return refuse('bad number', 'No more can be put on again than was taken off.')
  off.set(item, now)
  const next = { ...stands, off: [...off].flatMap(([i, n]) => (n > 0 ? [{ item: i, qty: n }] : [])) }
  return ok({ ...copy, stands: (copy.stands ?? []).map((s) => (s.stage === stage ? next : s)) })
}

/**
 * Books what stays of a stage as built: it is in the unfinished model from then on, where it was. As many pieces as the
 * stage's lines ask for, the stage held and the copy still has.
 */
export function keepStage(
  unit: Unit,
  work: Work,
  copy: Copy,
  set: DonorSet,
  stage: string,
  stock: Stock,
): Result<MakingChange, MakingRefusal> {
  const held = sumItems(set.lines.filter((l) => l.stage === stage && !l.spare))
  const ledger = new Ledger(stock)
  let now = unit
  let copies: readonly Copy[] = stock.copies
  for (const line of work.lines) {
    const qty = Math.min(openOf(work, line, unit.repeat, sumsOf(now)), held.get(line.item) ?? 0)
    if (qty === 0) continue
    const take = ledger.fromCopy(copy.id, line.item, qty)
    if (!take) continue
    held.set(line.item, (held.get(line.item) ?? 0) - take.qty)
    const groups: TakeGroup[] = [{ covers: take.qty, takes: [take] }]
    const put = putIn(now, line.line, Infinity, groups, { copies }, { stayed: true })
    if (!put.ok) return put
    now = put.value.units[0] ?? now
    copies = copies.map((c) => put.value.copies.find((p) => p.id === c.id) ?? c)
  }
  if (now === unit) return refuse('not there', 'Nothing of this stage stays, or the copy has not got it any more.')
  return ok({ units: [now], takes: [], lots: [], copies: copies.filter((c) => c.id === copy.id) })
}

/**
 * Puts a donor back as it was: what units have of the copy comes out, and all its stages stand with nothing taken off.
 * Pieces of other sources stay in their units.
 */
export function putDonorBack(
  copy: Copy,
  set: DonorSet,
  units: readonly Unit[],
  { copies, places }: Pick<Stock, 'copies' | 'places'>,
): MakingChange {
  const of = units.filter(
    (u) => u.standsIn === undefined && u.put.some((p) => p.from.kind === 'copy' && p.from.copy === copy.id),
  )
  const own = of.flatMap((u) => u.put.filter((p) => p.from.kind === 'copy' && p.from.copy === copy.id))
  const out = comingOut(copy.buildId ?? of[0]?.build ?? ('b-' as Unit['build']), own, { kind: 'back' }, copies, places)
  const back = out.copies.find((c) => c.id === copy.id) ?? copy
  return {
    units: of.map((u) => ({ ...u, put: u.put.filter((p) => !(p.from.kind === 'copy' && p.from.copy === copy.id)) })),
    takes: [],
    lots: out.lots,
    copies: [standing(back, set)],
  }
}

/** Pieces taken off a copy that no unit has put in yet: the heap on the table. */
export function heapOf(copy: Copy, units: readonly Unit[]): Pieces[] {
  const heap = new Map<ItemKey, number>()
  for (const { off } of copy.stands ?? []) for (const { item, qty } of off) heap.set(item, (heap.get(item) ?? 0) + qty)
  for (const { put } of units)
    for (const { item, qty, from, stayed } of put)
      if (from.kind === 'copy' && from.copy === copy.id && stayed !== true && heap.has(item))
        heap.set(item, (heap.get(item) ?? 0) - qty)
  return [...heap].flatMap(([item, qty]) => (qty > 0 ? [{ item, qty }] : []))
}
