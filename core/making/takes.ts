import type { ItemKey } from '../catalogue/item.ts'
import { copyContents } from '../donors/copy-contents.ts'
import type { Copy, DonorSet } from '../donors/donor-set.ts'
import { isOnOrder } from '../netting/supplies.ts'
import type { TallyPeg } from '../netting/tally.ts'
import { freeFor, type Holding } from '../shelf/holding.ts'
import { isThere } from '../shelf/leftovers.ts'
import { placeStates, LOOSE } from '../shelf/place-state.ts'
import type { Place } from '../shelf/place.ts'
import type { BuildId, CopyId, HoldingId } from '../units/ids.ts'

/** What there is to build from: the shelf and the copies as they are now. */
export type Stock = {
  readonly holdings: readonly Holding[]
  readonly copies: readonly Copy[]
  readonly sets: readonly DonorSet[]
  readonly places: readonly Place[]
  /** The house rules allow nothing but what was in the donors’ boxes: the shelf is looked at for no more than the count has. */
  readonly donorsOnly?: boolean
}

/** Pieces taken from where they lie. */
export type Take =
  | { readonly kind: 'holding'; readonly holding: Holding; readonly item: ItemKey; readonly qty: number }
  | {
      readonly kind: 'copy'
      readonly copy: CopyId
      /** Where the count has it in the copy. */
      readonly stage?: string
      readonly item: ItemKey
      readonly qty: number
    }
  | { readonly kind: 'found'; readonly item: ItemKey; readonly qty: number }

/** Pieces that together stand for so many required ones. */
export type TakeGroup = { readonly covers: number; readonly takes: readonly Take[] }

/**
 * Where pieces for a line are taken from: what the count has for it first, then the same item wherever it is free, in
 * copies of the build and loose on the shelf; only what is here now. `short` is what nothing is known to cover.
 */
export function takesFor(
  build: BuildId,
  item: ItemKey,
  qty: number,
  pegs: readonly TallyPeg[],
  stock: Stock,
  /** What is still there, where several lines are asked about one after the other. */
  ledger = new Ledger(stock),
): { readonly groups: readonly TakeGroup[]; readonly short: number } {
  const groups: TakeGroup[] = []
  let open = qty
  const kits = new Map<string, TallyPeg[]>()
  for (const peg of pegs) {
    if (open === 0) break
    const { source, uses, standIn } = peg
    if (source.kind === 'built' || isOnOrder(source)) continue
    const pieces = standIn && uses ? uses.reduce((n, u) => n + u.qty, 0) : 1
    if (pieces > 1 && uses) {
      const key = uses.map((u) => `${u.qty} ${u.item}`).join('\n')
      kits.set(key, [...(kits.get(key) ?? []), peg])
      continue
    }
    const take = ledger.take(peg, open, build)
    if (!take) continue
    groups.push({ covers: take.qty, takes: [take] })
    open -= take.qty
  }
  for (const [, own] of kits) {
    const uses = own[0]?.uses ?? []
    while (open > 0) {
      const takes = uses.flatMap((use) =>
        ledger.several(
          own.filter((p) => p.item === use.item),
          use.qty,
          build,
        ),
      )
      const got = takes.reduce((n, t) => n + t.qty, 0)
      if (got < uses.reduce((n, u) => n + u.qty, 0)) {
        ledger.giveBack(takes)
        break
      }
      groups.push({ covers: 1, takes })
      open--
    }
  }
  for (const take of open > 0 ? ledger.anywhere(item, open, build) : []) {
    groups.push({ covers: take.qty, takes: [take] })
    open -= take.qty
  }
  return { groups, short: open }
}

/** So often a shelf is gone through before it is indexed. */
const FEW_LOOKS = 8

/** Names where a take is from, as what lies fetched on the table is kept by; undefined of what was found there. */
export const fetchedFrom = (take: Take): string | undefined =>
  take.kind === 'found'
    ? undefined
    : take.kind === 'holding'
      ? take.holding.id
      : take.stage === undefined
        ? take.copy
        : `${take.copy}~${take.stage}`

/** What is still there while several takes are worked out one after the other. */
export class Ledger {
  readonly #stock: Stock
  readonly #taken = new Map<string, number>()
  #looks = 0
  #states: ReturnType<typeof placeStates> | undefined
  #byId: Map<HoldingId, Holding> | undefined
  #byItem: Map<ItemKey, Holding[]> | undefined
  readonly #inCopies = new Map<CopyId, Map<ItemKey, number>>()

  constructor(stock: Stock) {
    this.#stock = stock
  }

  /** The first few are looked for one by one: a single tick need not go through a whole shelf. */
  #holding(id: HoldingId): Holding | undefined {
    if (!this.#byId && ++this.#looks <= FEW_LOOKS) return this.#stock.holdings.find((h) => h.id === id)
    this.#byId ??= new Map(this.#stock.holdings.map((h) => [h.id, h]))
    return this.#byId.get(id)
  }

  #holdingsOf(item: ItemKey): readonly Holding[] {
    if (this.#stock.donorsOnly === true) return []
    if (!this.#byItem && ++this.#looks <= FEW_LOOKS) return this.#stock.holdings.filter((h) => h.item === item)
    if (!this.#byItem) {
      this.#byItem = new Map()
      for (const h of this.#stock.holdings) {
        const list = this.#byItem.get(h.item)
        if (list) list.push(h)
        else this.#byItem.set(h.item, [h])
      }
    }
    return this.#byItem.get(item) ?? []
  }

  /** Up to so many pieces of what a peg draws on; undefined where nothing of it is there now. */
  take({ source, item }: TallyPeg, qty: number, build: BuildId): Take | undefined {
    if (source.kind === 'built') return undefined
    if (source.kind === 'copy') {
      const take = this.fromCopy(source.copy, item, qty)
      return take?.kind === 'copy' ? { ...take, stage: source.stage } : take
    }
    const holding = this.#holding(source.holding)
    return holding?.item === item ? this.#fromHolding(holding, qty, build) : undefined
  }

  /** Of several pegs together. */
  several(pegs: readonly TallyPeg[], qty: number, build: BuildId): Take[] {
    const takes: Take[] = []
    let open = qty
    for (const peg of pegs) {
      const take = open > 0 ? this.take(peg, open, build) : undefined
      if (!take) continue
      takes.push(take)
      open -= take.qty
    }
    return takes
  }

  giveBack(takes: readonly Take[]): void {
    for (const take of takes) {
      const key = keyOf(take)
      this.#taken.set(key, (this.#taken.get(key) ?? 0) - take.qty)
    }
  }

  /** The item wherever it is free: in copies that are here, then loose. */
  anywhere(item: ItemKey, qty: number, build: BuildId): Take[] {
    const takes: Take[] = []
    let open = qty
    const add = (take: Take | undefined) => {
      if (!take) return
      takes.push(take)
      open -= take.qty
    }
    for (const copy of this.#stock.copies)
      if (open > 0 && copy.buildId === build && isThere(copy)) add(this.fromCopy(copy.id, item, open))
    const holdings = this.#holdingsOf(item)
    if (open === 0 || holdings.length === 0) return takes
    const states = (this.#states ??= placeStates(this.#stock.places))
    for (const holding of holdings)
      if (open > 0 && (states.get(holding.place) ?? LOOSE).kind === 'loose')
        add(this.#fromHolding(holding, open, build))
    return takes
  }

  /** Up to so many pieces of an item of a copy that is here. */
  fromCopy(id: CopyId, item: ItemKey, qty: number): Take | undefined {
    const copy = this.#stock.copies.find((c) => c.id === id)
    const set = copy && this.#stock.sets.find((s) => s.id === copy.setId)
    if (!copy || !set || !isThere(copy)) return undefined
    let contents = this.#inCopies.get(id)
    if (!contents) {
      contents = new Map()
      for (const c of copyContents(set, copy)) contents.set(c.item, (contents.get(c.item) ?? 0) + c.qty)
      this.#inCopies.set(id, contents)
    }
    const left = (contents.get(item) ?? 0) - (this.#taken.get(`${id}\n${item}`) ?? 0)
    return this.#book({ kind: 'copy', copy: id, item, qty: Math.min(qty, left) })
  }

  #fromHolding(holding: Holding, qty: number, build: BuildId): Take | undefined {
    const left = freeFor(holding, build, 100) - (this.#taken.get(holding.id) ?? 0)
    return this.#book({ kind: 'holding', holding, item: holding.item, qty: Math.min(qty, left) })
  }

  #book(take: Take): Take | undefined {
    if (take.qty < 1) return undefined
    const key = keyOf(take)
    this.#taken.set(key, (this.#taken.get(key) ?? 0) + take.qty)
    return take
  }
}

const keyOf = (take: Take): string =>
  take.kind === 'holding' ? take.holding.id : take.kind === 'copy' ? `${take.copy}\n${take.item}` : take.item
