import fc from 'fast-check'
import { solve as solveWithYalps, type Constraint } from 'yalps'
import type { SourcingProblem } from './problem.ts'
import { LEVY_BASES } from '../costs/levy.ts'
import { currency } from '../units/money.ts'

/** Billionths of a minor unit: of the problem's own money, of one worth half, of a dear one, of one without cents. */
const someRate = fc.oneof(
  { weight: 3, arbitrary: fc.constant(undefined) },
  fc.constantFrom(500_000_000, 1_234_500_000, 95_100_000),
)

/** A shop that asks for nothing but its prices. */
export const plainShop = (id: string): SourcingProblem['shops'][number] => ({
  id,
  kind: 'shop',
  minOrder: 0,
  bands: [],
  service: null,
  handling: 0,
  lineFee: 0,
  leadDays: 1,
  reliability: 1,
  status: 'free',
})

/** What a shop with a single offer asks: per piece and per order, minor units. */
export type OnlyOffer = { readonly price: number; readonly pack: number; readonly packs: number; readonly fee: number }

/** One line, and shops with one offer each. */
export const oneLine = (qty: number, offers: readonly OnlyOffer[]): SourcingProblem => ({
  format: 'sourcing-problem',
  version: 2,
  id: 'one-line',
  currency: currency('EUR'),
  maxShops: null,
  deadlineDays: null,
  items: [{ id: 'i', part: 'p', colour: 'c', mass: 1000, owned: 0, resale: null }],
  lines: [{ id: 'l', qty, accepts: [{ id: 'a', uses: [{ item: 'i', qty: 1 }], penalty: 0 }] }],
  shops: offers.map(({ fee }, s) => ({ ...plainShop(`s${s}`), handling: fee })),
  offers: offers.map(({ price, pack, packs }, s) => ({
    id: `o${s}`,
    shop: `s${s}`,
    item: 'i',
    price,
    stock: pack * packs,
    pack,
  })),
  sets: [],
  onOrder: [],
})

/** Test data: small sourcing problems with every feature of the format and up to `mostShops` shops, for fast-check. */
export const smallProblem = (mostShops = 3): fc.Arbitrary<SourcingProblem> =>
  fc
    .record({
      items: fc.array(
        fc.record({
          mass: fc.integer({ min: 100, max: 900 }),
          owned: fc.integer({ min: 0, max: 3 }),
          resale: fc.option(
            fc.record({ credit: fc.integer({ min: 1, max: 12 }), max: fc.integer({ min: 1, max: 4 }) }),
          ),
        }),
        { minLength: 2, maxLength: 3 },
      ),
      lines: fc.array(
        fc.record({
          qty: fc.integer({ min: 1, max: 6 }),
          exact: fc.nat(),
          other: fc.option(
            fc.record({ item: fc.nat(), qty: fc.integer({ min: 1, max: 2 }), penalty: fc.integer({ min: 0, max: 8 }) }),
          ),
        }),
        { minLength: 1, maxLength: 3 },
      ),
      shops: fc.array(
        fc.record({
          minOrder: fc.constantFrom(0, 0, 40, 90),
          bands: fc.constantFrom<SourcingProblem['shops'][number]['bands'][]>(
            [],
            [{ maxMass: 20_000, fee: 30 }],
            [
              { maxMass: 2_000, fee: 20 },
              { maxMass: 20_000, fee: 45 },
            ],
          ),
          service: fc.constantFrom(null, { threshold: 80, fee: 25 }),
          handling: fc.constantFrom(0, 7),
          lineFee: fc.constantFrom(0, 3),
          leadDays: fc.constantFrom(3, 40),
          rate: someRate,
          status: fc.constantFrom(
            'free' as const,
            'free' as const,
            'free' as const,
            'pinned' as const,
            'excluded' as const,
          ),
          offers: fc.array(
            fc.record({
              item: fc.nat(),
              price: fc.integer({ min: 1, max: 30 }),
              stock: fc.integer({ min: 0, max: 12 }),
              pack: fc.constantFrom(1, 1, 3),
              penalty: fc.constantFrom(undefined, undefined, undefined, 4),
            }),
            { minLength: 1, maxLength: 3 },
          ),
        }),
        { minLength: 1, maxLength: mostShops },
      ),
      set: fc.option(fc.record({ price: fc.integer({ min: 20, max: 120 }), qty: fc.integer({ min: 1, max: 4 }) })),
      figure: fc.option(
        fc.record({
          credit: fc.integer({ min: 0, max: 150 }),
          pieces: fc.array(fc.record({ item: fc.nat(), qty: fc.integer({ min: 1, max: 2 }) }), {
            minLength: 1,
            maxLength: 2,
          }),
          max: fc.constantFrom(undefined, undefined, 1),
        }),
      ),
      maxShops: fc.constantFrom(null, null, 1, 2),
      deadlineDays: fc.constantFrom(null, null, 10),
      maxPieces: fc.constantFrom(null, null, null, null, 5, 9),
      onOrder: fc.option(fc.integer({ min: 1, max: 2 })),
      mustBuy: fc.constantFrom(0, 0, 0, 1, 2),
      levies: fc.array(
        fc.record({
          rate: fc.constantFrom(0, 333, 2000, 10_000),
          on: fc.constantFrom(...LEVY_BASES),
          threshold: fc.constantFrom(0, 1, 50, 90),
          fee: fc.constantFrom(0, 15),
          // Which shops bear it, by bits.
          shops: fc.nat(7),
        }),
        { maxLength: 2 },
      ),
    })
    .map((raw) => {
      const id = (n: number) => `e${n % raw.items.length}`
      return {
        format: 'sourcing-problem',
        version: 2,
        id: 'random',
        currency: currency('EUR'),
        maxShops: raw.maxShops,
        deadlineDays: raw.deadlineDays,
        maxPieces: raw.maxPieces,
        items: raw.items.map((item, i) => ({ id: `e${i}`, part: 'p', colour: 'c', ...item })),
        lines: raw.lines.map((line, i) => ({
          id: `d${i}`,
          qty: line.qty,
          accepts: [
            { id: 'exact', uses: [{ item: id(line.exact), qty: 1 }], penalty: 0 },
            ...(line.other
              ? [
                  {
                    id: 'other',
                    uses: [{ item: id(line.other.item), qty: line.other.qty }],
                    penalty: line.other.penalty,
                  },
                ]
              : []),
          ],
        })),
        shops: raw.shops.map(({ offers: _, rate, ...shop }, s) => ({
          id: `s${s}`,
          ...(rate !== undefined && { rate }),
          kind: 'shop',
          reliability: 0.9,
          levies: raw.levies.flatMap((levy, i) => ((levy.shops >> s) & 1 ? [`v${i}`] : [])),
          ...shop,
        })),
        offers: raw.shops.flatMap((shop, s) =>
          shop.offers.map((o, k) => ({ id: `o${s}-${k}`, shop: `s${s}`, ...o, item: id(o.item) })),
        ),
        sets: raw.set
          ? [
              {
                id: 'x0',
                price: raw.set.price,
                minCopies: raw.mustBuy,
                maxCopies: 2,
                contents: [{ item: 'e0', qty: raw.set.qty }],
                ...(raw.figure && {
                  figures: [
                    {
                      id: 'f0',
                      credit: raw.figure.credit,
                      pieces: raw.figure.pieces.map((p) => ({ item: id(p.item), qty: p.qty })),
                      ...(raw.figure.max !== undefined && { max: raw.figure.max }),
                    },
                  ],
                }),
              },
            ]
          : [],
        onOrder: raw.onOrder ? [{ item: 'e1', qty: raw.onOrder }] : [],
        levies: raw.levies.map(({ shops: _, ...levy }, i) => ({ id: `v${i}`, ...levy })),
      } satisfies SourcingProblem
    })

type Statement = {
  readonly constraints: Map<string, Constraint>
  readonly variable: (name: string, cost: number) => void
  readonly add: (name: string, row: string, value: number) => void
}

/** A shop's amounts as terms of rows: goods, and what it asks beside them. */
function amountsOf(problem: SourcingProblem, shop: SourcingProblem['shops'][number]) {
  const offers = problem.offers.filter((o) => o.shop === shop.id)
  const goods = offers.map((o) => [`y ${o.id}`, o.price * o.pack] as const)
  const fees = [
    ...offers.map((o) => [`l ${o.id}`, shop.lineFee] as const),
    [`z ${shop.id}`, shop.handling] as const,
    ...shop.bands.map((band, k) => [`b ${shop.id} ${k}`, band.fee] as const),
    ...(shop.service ? [[`f ${shop.id}`, shop.service.fee] as const] : []),
  ]
  return { goods, fees }
}

/**
 * Bills in other money: what they come to is the first whole number above their sum at the rate less a half. Sums are whole
 * and rates are ten-thousandths, so that just a half goes up.
 */
function stateExchange(
  problem: SourcingProblem,
  allowed: SourcingProblem['shops'],
  { constraints, variable, add }: Statement,
): void {
  for (const shop of allowed) {
    if (shop.rate === undefined) continue
    const part = shop.rate / 1e9
    const { goods, fees } = amountsOf(problem, shop)
    for (const [name, cost, terms] of [
      [`bill ${shop.id}`, 1, [...goods, ...fees]],
      [`worth ${shop.id}`, 0, goods],
    ] as const) {
      variable(name, cost)
      // From both sides, so that little is left to be searched.
      constraints.set(name, { min: -0.5, max: 0.49995 })
      add(name, name, -1)
      for (const [term, value] of terms) add(term, name, part * value)
    }
  }
}

/** Duty and tax on the orders of shops, as the format describes them. */
function stateLevies(
  problem: SourcingProblem,
  allowed: SourcingProblem['shops'],
  { constraints, variable, add }: Statement,
): void {
  for (const levy of problem.levies ?? [])
    for (const shop of allowed) {
      if (!shop.levies?.includes(levy.id)) continue
      // Due (w) unless the goods stay below the threshold; its amount (t) is the first whole number above the rate's
      // share less a half, at which halves go up as rates are ten-thousandths.
      const [w, t] = [`w ${shop.id} ${levy.id}`, `t ${shop.id} ${levy.id}`]
      variable(w, levy.fee)
      variable(t, 1)
      const z = `z ${shop.id}`
      const MUCH = 10_000
      constraints.set(w, { max: 0 })
      add(z, w, 1 - levy.threshold)
      add(w, w, -MUCH)
      constraints.set(`one ${w}`, { max: 1 })
      add(w, `one ${w}`, 1)
      constraints.set(t, { max: MUCH - 0.0001 })
      add(w, t, MUCH - 0.5)
      add(t, t, -1)
      const part = levy.rate / 10_000
      if (levy.threshold === 0) {
        constraints.set(`due ${w}`, { min: 0 })
        add(w, `due ${w}`, 1)
        add(z, `due ${w}`, -1)
      }
      const { goods, fees } = amountsOf(problem, shop)
      const own = shop.rate === undefined
      for (const [name, value] of own ? goods : [[`worth ${shop.id}`, 1] as const]) add(name, w, value)
      const base = levy.on === 'goods' ? goods : [...goods, ...fees]
      const changed = [[`${levy.on === 'goods' ? 'worth' : 'bill'} ${shop.id}`, 1] as const]
      for (const [name, value] of own ? base : changed) add(name, t, part * value)
    }
}

/** Figures that may be sold whole: at most `max`, and one for every copy bought (the copies' part is stated with the sets). */
function stateFigures(problem: SourcingProblem, { constraints, variable, add }: Statement) {
  const whole = problem.sets.flatMap((set) => (set.figures ?? []).map((figure) => ({ set, figure })))
  for (const { set, figure } of whole) {
    variable(`u ${set.id} ${figure.id}`, -figure.credit)
    constraints.set(`u ${set.id} ${figure.id}`, { max: figure.max ?? 99 })
    add(`u ${set.id} ${figure.id}`, `u ${set.id} ${figure.id}`, 1)
    constraints.set(`of ${set.id} ${figure.id}`, { max: 0 })
    add(`u ${set.id} ${figure.id}`, `of ${set.id} ${figure.id}`, 1)
  }
  return whole
}

/** What figures sold whole take of an item's surplus, and of what was bought of it. */
function sellWhole(whole: ReturnType<typeof stateFigures>, item: string, add: Statement['add']): void {
  for (const { set, figure } of whole)
    for (const piece of figure.pieces)
      if (piece.item === item)
        for (const row of ['surplus', 'procured']) add(`u ${set.id} ${figure.id}`, `${row} ${item}`, -piece.qty)
}

/**
 * The same problem written down a second time, with full integrality and no tricks, for the solver `yalps`. Every rule
 * is stated from the format's description, not from our model.
 */
export function optimumByYalps(problem: SourcingProblem): number | undefined {
  const constraints = new Map<string, Constraint>()
  const variables = new Map<string, Map<string, number>>()
  const integers = new Set<string>()
  const variable = (name: string, cost: number, integer = true) => {
    variables.set(name, new Map([['cost', cost]]))
    if (integer) integers.add(name)
  }
  const add = (name: string, row: string, value: number) => {
    const entries = variables.get(name)
    entries?.set(row, (entries.get(row) ?? 0) + value)
  }
  const allowed = problem.shops.filter(
    (s) => s.status !== 'excluded' && (problem.deadlineDays === null || s.leadDays <= problem.deadlineDays),
  )
  if (problem.shops.some((s) => s.status === 'pinned' && !allowed.includes(s))) return undefined
  const whole = stateFigures(problem, { constraints, variable, add })
  for (const item of problem.items) {
    const free = item.owned + problem.onOrder.filter((o) => o.item === item.id).reduce((n, o) => n + o.qty, 0)
    constraints.set(`supply ${item.id}`, { min: -free })
    // What is sold, one by one or whole, is left over and was bought.
    constraints.set(`surplus ${item.id}`, { min: -free })
    constraints.set(`procured ${item.id}`, { min: 0 })
    sellWhole(whole, item.id, add)
    if (item.resale) {
      variable(`credit ${item.id}`, -item.resale.credit)
      constraints.set(`creditMax ${item.id}`, { max: item.resale.max })
      add(`credit ${item.id}`, `creditMax ${item.id}`, 1)
      for (const row of ['surplus', 'procured']) add(`credit ${item.id}`, `${row} ${item.id}`, -1)
    }
  }
  for (const line of problem.lines) {
    constraints.set(`line ${line.id}`, { equal: line.qty })
    for (const accept of line.accepts) {
      const x = `x ${line.id} ${accept.id}`
      variable(x, accept.penalty)
      add(x, `line ${line.id}`, 1)
      for (const use of accept.uses) for (const row of ['supply', 'surplus']) add(x, `${row} ${use.item}`, -use.qty)
    }
  }
  constraints.set('shops', { max: problem.maxShops ?? 99 })
  constraints.set('loose pieces', { max: problem.maxPieces ?? 999 })
  for (const shop of allowed) {
    const z = `z ${shop.id}`
    // What a shop of other money asks counts in its bill alone.
    const inMoney = shop.rate === undefined ? 1 : 0
    variable(z, inMoney * shop.handling)
    add(z, 'shops', 1)
    constraints.set(`z ${shop.id}`, shop.status === 'pinned' ? { equal: 1 } : { max: 1 })
    add(z, `z ${shop.id}`, 1)
    constraints.set(`min ${shop.id}`, { min: 0 })
    add(z, `min ${shop.id}`, -shop.minOrder)
    constraints.set(`some ${shop.id}`, { min: 0 })
    add(z, `some ${shop.id}`, -1)
    if (shop.bands.length > 0) {
      constraints.set(`band ${shop.id}`, { equal: 0 })
      add(z, `band ${shop.id}`, -1)
      constraints.set(`mass ${shop.id}`, { max: 0 })
      for (const [k, band] of shop.bands.entries()) {
        const b = `b ${shop.id} ${k}`
        variable(b, inMoney * band.fee)
        add(b, `band ${shop.id}`, 1)
        add(b, `mass ${shop.id}`, -band.maxMass)
      }
    }
    if (shop.service) {
      const f = `f ${shop.id}`
      variable(f, inMoney * shop.service.fee)
      constraints.set(f, { max: 1 })
      add(f, f, 1)
      constraints.set(`service ${shop.id}`, { min: 0 })
      add(z, `service ${shop.id}`, -shop.service.threshold)
      add(f, `service ${shop.id}`, shop.service.threshold)
    }
    for (const offer of problem.offers.filter((o) => o.shop === shop.id)) {
      const y = `y ${offer.id}`
      const packs = Math.floor(offer.stock / offer.pack)
      variable(y, (inMoney * offer.price + (offer.penalty ?? 0)) * offer.pack)
      constraints.set(`link ${offer.id}`, { max: 0 })
      add(y, `link ${offer.id}`, 1)
      add(z, `link ${offer.id}`, -packs)
      add(y, `min ${shop.id}`, offer.price * offer.pack)
      add(y, `some ${shop.id}`, 1)
      add(y, 'loose pieces', offer.pack)
      add(y, `service ${shop.id}`, offer.price * offer.pack)
      add(y, `mass ${shop.id}`, (problem.items.find((i) => i.id === offer.item)?.mass ?? 0) * offer.pack)
      for (const row of ['supply', 'surplus', 'procured']) add(y, `${row} ${offer.item}`, offer.pack)
      const l = `l ${offer.id}`
      variable(l, inMoney * shop.lineFee)
      constraints.set(l, { max: 0 })
      add(y, l, 1)
      add(l, l, -packs)
    }
  }
  stateExchange(problem, allowed, { constraints, variable, add })
  stateLevies(problem, allowed, { constraints, variable, add })
  for (const set of problem.sets) {
    const k = `k ${set.id}`
    variable(k, set.price)
    constraints.set(k, { min: set.minCopies ?? 0, max: set.maxCopies })
    add(k, k, 1)
    for (const figure of set.figures ?? []) add(k, `of ${set.id} ${figure.id}`, -1)
    for (const content of set.contents)
      for (const row of ['supply', 'surplus', 'procured']) add(k, `${row} ${content.item}`, content.qty)
  }
  const solution = solveWithYalps(
    { direction: 'minimize', objective: 'cost', constraints, variables, integers },
    { tolerance: 0, maxIterations: 200_000, timeout: 3000 },
  )
  // In one of some hundred the other solver goes round in circles: that one says nothing, and another is drawn.
  fc.pre(solution.status !== 'timedout')
  if (solution.status === 'infeasible') return undefined
  if (solution.status !== 'optimal') throw new Error(`yalps: ${solution.status}`)
  // Never −0.
  return Math.round(solution.result) + 0
}
