import { splitItemKey, type ItemKey } from '../catalogue/item.ts'
import type { Design } from '../design/design.ts'
import { explode, type Requirement } from '../design/explode.ts'
import { inColour } from '../design/recolour.ts'
import { activeItems, type Reach } from '../netting/active-items.ts'
import type { Accept, NettingLine, NettingProblem, NettingSupply } from '../netting/problem.ts'
import type { ColourId } from '../units/ids.ts'
import type { Rules } from './build.ts'
import { decisionBook, type Decision, type DecisionBook, type PinnedSource } from './decision.ts'
import { optionFinder, schemeOf, type LineOption, type Meaning, type OptionFinder } from './line-options.ts'
import { lowestPrices, weighsMoney } from './market-prices.ts'
import type { Snapshot } from './snapshot.ts'
import { POINTS, wishOf, type Wish } from './stand-ins.ts'
import { stockIndex, type StockIndex } from './stock-index.ts'
import { BUY_RANK, copySupplyId, type Lot, type Supply } from './supplies.ts'

/** Why a pin does not hold, or holds for fewer pieces than it says. */
export type PinFault =
  /** Its line is no longer in the design, or needs fewer pieces. */
  | 'line'
  /** The supply is gone, or the rules do not count it. */
  | 'supply'
  /** The supply has fewer pieces, or other pins took them. */
  | 'pieces'
  /** Its group is pinned to another colour. */
  | 'colour'
export type PinOutcome = {
  readonly id: Decision['id']
  readonly line: Requirement['line']
  readonly item: ItemKey
  readonly asked: number
  readonly held: number
  readonly fault: PinFault | undefined
}
export type PinnedPiece = { readonly supply: Supply; readonly qty: number; readonly meaning: Meaning }

/** One build's netting problem with what its lines, options and supplies stand for. */
export type NettingTask = {
  readonly requirements: readonly Requirement[]
  /** Of each requirement, in the same order. */
  readonly wishes: readonly Wish[]
  readonly problem: NettingProblem
  /** Of each supply of the problem that is owned, by its id, what it stands for. */
  readonly lots: ReadonlyMap<string, Lot>
  readonly stock: StockIndex
  /** What an option is to a requirement, by its number. */
  meaningOf(requirement: number, accept: string): Meaning
  /** The options of a requirement that is not settled, by its number. */
  optionsOf(requirement: number): readonly LineOption[]
  /** Of requirements that take the piece itself, whatever the others take: the lots they draw from, in order. */
  readonly settled: ReadonlyMap<string, readonly Lot[]>
  /** Pieces fixed by pins, by requirement; they are not in the problem any more. */
  readonly pinned: ReadonlyMap<string, readonly PinnedPiece[]>
  readonly pins: readonly PinOutcome[]
  /** Whether compromise is counted in minor units, and buying is an option. */
  readonly weighed: boolean
}

const BUY = 'buy\n'
/** The last explosion of a design: most tallies are made anew because of something else. */
const exploded = new WeakMap<Design, { readonly parts: Snapshot['parts']; readonly found: Requirement[] }>()

function explodeOnce(design: Design, parts: Snapshot['parts']): Requirement[] {
  const before = exploded.get(design)
  if (before?.parts === parts) return before.found
  const found = explode(design, { parts })
  exploded.set(design, { parts, found })
  return found
}

/** Wishes of requirements that no decision is about. */
const plainWishes = new WeakMap<Requirement, Wish>()

function wishFor(r: Requirement, book: DecisionBook): Wish {
  if (book.forbidden(r.source.id, r.item).length > 0 || book.accepted(r.source.id, r.item).length > 0)
    return wishOf(r, book)
  const known = plainWishes.get(r)
  if (known) return known
  const wish = wishOf(r)
  plainWishes.set(r, wish)
  return wish
}

/** The last option finder of a stock: options stay while neither stock, rules, own rules nor prices change. */
const finders = new WeakMap<StockIndex, { readonly on: readonly unknown[]; readonly finder: OptionFinder }>()

function finderFor(
  snapshot: Snapshot,
  stock: StockIndex,
  own: DecisionBook['own'],
  weighed: boolean,
  prices: ReadonlyMap<ItemKey, number> | undefined,
): OptionFinder {
  const on = [snapshot.build.rules, JSON.stringify(own), weighed, prices]
  const before = finders.get(stock)
  if (before?.on.every((value, i) => value === on[i])) return before.finder
  const finder = optionFinder(snapshot, stock, own, weighed, (item) => prices?.get(item))
  finders.set(stock, { on, finder })
  return finder
}

/** Whether an option of a task's problem is to buy the piece. */
export const isBuying = (accept: string): boolean => accept.startsWith(BUY)

/**
 * The netting problem of one build: requirements as lines, what the rules let it draw from as supplies, options by
 * rules, freedom and decisions. Pins are taken out beforehand. Where compromise is weighed against money, buying the
 * piece itself is one more option, at its lowest price; it is left out where a line competes with no stand-in. Lines
 * that can be settled without a choice (`settle`) are not in the problem.
 */
export function nettingTask(snapshot: Snapshot): NettingTask {
  const { build, design, parts } = snapshot
  const { rules } = build
  const book = decisionBook(snapshot.decisions ?? [], build.id)
  const requirements = snapshot.explosion
    ? explode(design, { parts, ...snapshot.explosion })
    : explodeOnce(design, parts)
  const stock = stockIndex(snapshot)
  const prices = snapshot.market && lowestPrices(snapshot.market, build.currency, rules)
  const weighed = prices !== undefined && prices.size > 0 && weighsMoney(rules)
  const finder = finderFor(snapshot, stock, book.own, weighed, prices)
  const wishes = requirements.map((r) => wishFor(r, book))
  const { options, settled, claimed } = settle(rules, weighed, requirements, wishes, stock, finder, book)
  const { pinned, outcomes, takenOf, schemes } = applyPins(book, requirements, wishes, options, stock)

  const contested = new Set<string>()
  if (weighed) {
    const looked = new Set<readonly Accept[]>()
    for (const accepts of options) {
      if (!accepts || looked.has(accepts)) continue
      looked.add(accepts)
      for (const { uses, compromise } of accepts) if (compromise > 0) for (const u of uses) contested.add(u.item)
    }
  }
  const bought = new Map<ItemKey, number>()
  const buying = new Map<readonly Accept[], { accepts: readonly Accept[]; items: ItemKey[] }>()
  const withBuying = (wish: Wish, accepts: readonly Accept[]) => {
    const known = buying.get(accepts)
    if (known) return known
    const competes = accepts.some((a) => a.compromise > 0 || a.uses.some((u) => contested.has(u.item)))
    const colours: (ColourId | undefined)[] =
      wish.group === undefined
        ? [undefined]
        : [...new Set([splitItemKey(wish.item).colour, ...accepts.flatMap((a) => (a.scheme as ColourId) ?? [])])]
    const more = (competes ? colours : []).flatMap((scheme): (Accept & { item: ItemKey })[] => {
      const item = scheme === undefined ? wish.item : inColour(wish.item, scheme)
      const price = prices?.get(item)
      if (price === undefined) return []
      const id = `${BUY}${item}`
      // A group's piece in another colour than it is drawn in is as much of a compromise bought as owned.
      const off =
        item === wish.item ? 0 : Math.min(...accepts.filter((a) => a.scheme === scheme).map((a) => a.compromise))
      return [
        {
          id,
          item,
          uses: [{ item: id, qty: 1 }],
          compromise: price + off,
          ...(scheme === undefined ? {} : { scheme }),
        },
      ]
    })
    const made = {
      accepts: more.length === 0 ? accepts : [...accepts, ...more.map(({ item: _, ...a }) => a)],
      items: more.map((m) => m.item),
    }
    buying.set(accepts, made)
    return made
  }
  const lines = requirements.flatMap((r, i): NettingLine[] => {
    const wish = wishes[i]
    const found = options[i]
    if (!wish || !found) return []
    const fixed = pinned.size === 0 ? 0 : (pinned.get(r.id)?.reduce((n, p) => n + p.qty, 0) ?? 0)
    const qty = r.qty - r.built - fixed
    const buy = weighed ? withBuying(wish, found) : undefined
    for (const item of buy?.items ?? []) bought.set(item, (bought.get(item) ?? 0) + qty)
    const scheme = wish.group === undefined ? undefined : schemes.get(wish.group)
    const accepts = buy?.accepts ?? found
    return [
      {
        id: r.id,
        qty,
        accepts: scheme === undefined ? accepts : accepts.filter((a) => a.scheme === undefined || a.scheme === scheme),
        ...(wish.group === undefined ? {} : { group: wish.group }),
      },
    ]
  })
  const netted: NettingSupply[] = []
  const lots = new Map<string, Lot>()
  const drawable = new Uint8Array(stock.stock.byItem.size)
  const from = new Set<readonly LineOption[]>()
  for (const accepts of options) {
    if (!accepts || from.has(accepts)) continue
    from.add(accepts)
    for (const { draws } of accepts) for (const { index } of draws) drawable[index] = 1
  }
  for (const { index, variants } of stock.stock.byItem.values())
    for (const { key, lots: own } of (drawable[index] === 1 ? variants : undefined) ?? [])
      for (const lot of own) {
        lots.set(lot.id, lot)
        const qty = lot.qty - (takenOf.get(lot) ?? 0) - (claimed.get(lot) ?? 0)
        netted.push({ id: lot.id, item: key, qty, rank: lot.rank })
      }
  for (const [item, qty] of bought) {
    const id = `${BUY}${item}`
    netted.push({ id, item: id, qty, rank: BUY_RANK })
  }
  return {
    requirements,
    wishes,
    problem: { lines, supplies: netted },
    lots,
    stock,
    optionsOf: (i) => options[i] ?? [],
    meaningOf: (i, accept) => {
      const option = options[i]?.find((o) => o.id === accept)
      if (!option) throw new Error(`the option ${accept} means nothing`)
      return option.meaning
    },
    settled,
    pinned,
    pins: outcomes,
    weighed,
  }
}

/**
 * Settles lines without a choice (`activeItems`): they take the piece itself. Options are found for the others alone.
 * Lines with pins, groups, lengths, accepted stand-ins, or whose item has variants, always have a choice.
 */
function settle(
  rules: Rules,
  weighed: boolean,
  requirements: readonly Requirement[],
  wishes: readonly Wish[],
  { stock }: StockIndex,
  finder: OptionFinder,
  book: DecisionBook,
) {
  const pinnedLines = new Set(book.pins.map((p) => p.pin.line))
  const mayChooseFreely = rules.aim === 'use up the donors' || (weighed && rules.pointPrice === 0)
  const mine: number[][] = []
  const states: { there: number; wanted: number }[] = []
  for (const { variants } of stock.byItem.values()) {
    let there = 0
    for (const { lots } of variants ?? []) for (const { qty } of lots) there += qty
    states.push({ there, wanted: 0 })
    mine.push([])
  }
  const options: (readonly LineOption[] | undefined)[] = requirements.map(() => undefined)
  /** What the options of some lines of one item (or none) draw on beside it; lines that accept the same count once. */
  const reachOf = (numbers: readonly number[], own: number | undefined): Reach => {
    const reach = { single: [] as number[], several: [] as number[] }
    const looked = new Set<readonly LineOption[]>()
    for (const i of numbers) {
      const wish = wishes[i]
      const found = wish && finder.optionsOf(wish)
      options[i] = found
      if (!found || looked.has(found)) continue
      looked.add(found)
      for (const { draws } of found) {
        const several = draws.length > 1 || (draws[0]?.qty ?? 1) > 1
        for (const { index } of draws)
          if (several) reach.several.push(index)
          else if (index !== own) reach.single.push(index)
      }
    }
    return reach
  }
  const sources: { qty: number; reach: Reach }[] = []
  for (const [i, r] of requirements.entries()) {
    const wish = wishes[i]
    const one = wish && stock.byItem.get(wish.item)
    const [variant, other] = one?.variants ?? []
    const simple =
      !mayChooseFreely &&
      variant !== undefined &&
      other === undefined &&
      !variant.hiddenOnly &&
      !variant.applied &&
      variant.length === undefined &&
      wish?.group === undefined &&
      wish?.accepted === undefined &&
      wish?.length === undefined &&
      !one?.byLength &&
      !pinnedLines.has(r.line)
    const state = one && states[one.index]
    if (simple && one && state) {
      mine[one.index]?.push(i)
      state.wanted += r.qty - r.built
    } else {
      const reach = reachOf([i], one?.index)
      // What a line that always has a choice draws on has one as well; where nothing is of its item, it lacks the piece.
      sources.push({
        qty: r.qty - r.built,
        reach: one ? { single: [], several: [one.index, ...reach.single, ...reach.several] } : reach,
      })
    }
  }
  for (const { pin } of book.pins) {
    const one = stock.byItem.get(pin.source.item)
    if (one) sources.push({ qty: pin.qty, reach: { single: [], several: [one.index] } })
  }
  const active = activeItems(states, (item) => reachOf(mine[item] ?? [], item), sources)

  const settled = new Map<string, readonly Lot[]>()
  const claimed = new Map<Lot, number>()
  for (const { index, variants } of stock.byItem.values()) {
    const lots = variants?.[0]?.lots
    if (active[index] === 1 || !lots) continue
    const ordered = lots.length === 1 ? lots : [...lots].sort((p, q) => p.rank - q.rank)
    let claim = 0
    for (const i of mine[index] ?? []) {
      const r = requirements[i]
      if (!r) continue
      claim += r.qty - r.built
      settled.set(r.id, ordered)
    }
    for (const lot of ordered) {
      if (claim === 0) break
      const taken = Math.min(claim, lot.qty)
      claimed.set(lot, taken)
      claim -= taken
    }
  }
  return { options, settled, claimed }
}

const supplyIdOf = (source: PinnedSource): string =>
  source.kind === 'copy' ? copySupplyId(source.copy, source.stage, source.item) : source.holding

/** Fixes pinned pieces, in the order of the decisions; what cannot be fixed is said with its reason. */
function applyPins(
  book: DecisionBook,
  requirements: readonly Requirement[],
  wishes: readonly Wish[],
  options: readonly (readonly LineOption[] | undefined)[],
  { variants }: StockIndex,
) {
  const pinned = new Map<string, PinnedPiece[]>()
  const outcomes: PinOutcome[] = []
  const taken = new Map<string, number>()
  const takenOf = new Map<Lot, number>()
  const schemes = new Map<string, ColourId>()
  for (const { id, pin } of book.pins) {
    const wanted = supplyIdOf(pin.source)
    const lot = (variants.get(pin.source.item) ?? [])
      .flatMap((v) => v.lots)
      .find((l) => l.supplies.some((s) => s.id === wanted))
    const supply = lot?.supplies.find((s) => s.id === wanted)
    let open = pin.qty
    let room = false
    let fault: PinFault | undefined = supply ? undefined : 'supply'
    for (const [i, r] of requirements.entries()) {
      if (!supply || r.line !== pin.line || open === 0) continue
      const there = supply.qty - (taken.get(supply.id) ?? 0)
      const before = pinned.get(r.id) ?? []
      const need = r.qty - r.built - before.reduce((n, p) => n + p.qty, 0)
      if (need > 0) room = true
      const qty = Math.min(open, need, there)
      const wish = wishes[i]
      if (qty <= 0 || !wish) continue
      const meaning = meaningOfPin(wish, supply, options[i] ?? [])
      const colour = schemeOf(wish, meaning)
      const settled = wish.group === undefined ? undefined : schemes.get(wish.group)
      if (colour !== undefined && settled !== undefined && settled !== colour) {
        fault = 'colour'
        continue
      }
      if (wish.group !== undefined && colour !== undefined) schemes.set(wish.group, colour)
      pinned.set(r.id, [...before, { supply, qty, meaning }])
      taken.set(supply.id, (taken.get(supply.id) ?? 0) + qty)
      if (lot) takenOf.set(lot, (takenOf.get(lot) ?? 0) + qty)
      open -= qty
    }
    const used = supply !== undefined && (taken.get(supply.id) ?? 0) >= supply.qty
    if (open > 0) fault ??= room && used ? 'pieces' : 'line'
    outcomes.push({
      id,
      line: pin.line,
      item: pin.source.item,
      asked: pin.qty,
      held: pin.qty - open,
      fault: open > 0 ? fault : undefined,
    })
  }
  return { pinned, outcomes, takenOf, schemes }
}

/** What a pinned piece is to its line: what the rules would make of it, else the user's own choice. */
function meaningOfPin(wish: Wish, supply: Supply, accepts: readonly LineOption[]): Meaning {
  for (const { meaning } of accepts)
    if (meaning.uses.length === 1 && meaning.uses[0]?.qty === 1 && meaning.uses[0].item === supply.item) return meaning
  const kind = supply.item === wish.item ? 'exact' : 'chosen'
  return { kind, points: kind === 'exact' ? 0 : POINTS.chosen, uses: [{ item: supply.item, qty: 1 }] }
}
