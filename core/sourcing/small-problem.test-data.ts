import fc from 'fast-check'
import { solve as solveWithYalps, type Constraint } from 'yalps'
import type { SourcingProblem } from './problem.ts'
import { LEVY_BASES } from '../costs/levy.ts'
import { currency } from '../units/money.ts'

/** Test data: small sourcing problems with every feature of the format, for fast-check. */
export const smallProblem = (): fc.Arbitrary<SourcingProblem> =>
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
            }),
            { minLength: 1, maxLength: 3 },
          ),
        }),
        { minLength: 1, maxLength: 3 },
      ),
      set: fc.option(fc.record({ price: fc.integer({ min: 20, max: 120 }), qty: fc.integer({ min: 1, max: 4 }) })),
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
        shops: raw.shops.map(({ offers: _, ...shop }, s) => ({
          id: `s${s}`,
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
      for (const offer of problem.offers.filter((o) => o.shop === shop.id)) {
        add(`y ${offer.id}`, w, offer.price * offer.pack)
        add(`y ${offer.id}`, t, part * offer.price * offer.pack)
        if (levy.on === 'goods and shipping') add(`l ${offer.id}`, t, part * shop.lineFee)
      }
      if (levy.on === 'goods') continue
      add(z, t, part * shop.handling)
      for (const [k, band] of shop.bands.entries()) add(`b ${shop.id} ${k}`, t, part * band.fee)
      if (shop.service) add(`f ${shop.id}`, t, part * shop.service.fee)
    }
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
  for (const item of problem.items) {
    const free = item.owned + problem.onOrder.filter((o) => o.item === item.id).reduce((n, o) => n + o.qty, 0)
    constraints.set(`supply ${item.id}`, { min: -free })
    if (item.resale) {
      variable(`credit ${item.id}`, -item.resale.credit)
      constraints.set(`creditMax ${item.id}`, { max: item.resale.max })
      add(`credit ${item.id}`, `creditMax ${item.id}`, 1)
      constraints.set(`surplus ${item.id}`, { min: -free })
      add(`credit ${item.id}`, `surplus ${item.id}`, -1)
      constraints.set(`procured ${item.id}`, { min: 0 })
      add(`credit ${item.id}`, `procured ${item.id}`, -1)
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
    variable(z, shop.handling)
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
        variable(b, band.fee)
        add(b, `band ${shop.id}`, 1)
        add(b, `mass ${shop.id}`, -band.maxMass)
      }
    }
    if (shop.service) {
      const f = `f ${shop.id}`
      variable(f, shop.service.fee)
      constraints.set(f, { max: 1 })
      add(f, f, 1)
      constraints.set(`service ${shop.id}`, { min: 0 })
      add(z, `service ${shop.id}`, -shop.service.threshold)
      add(f, `service ${shop.id}`, shop.service.threshold)
    }
    for (const offer of problem.offers.filter((o) => o.shop === shop.id)) {
      const y = `y ${offer.id}`
      const packs = Math.floor(offer.stock / offer.pack)
      variable(y, offer.price * offer.pack)
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
      variable(l, shop.lineFee)
      constraints.set(l, { max: 0 })
      add(y, l, 1)
      add(l, l, -packs)
    }
  }
  stateLevies(problem, allowed, { constraints, variable, add })
  for (const set of problem.sets) {
    const k = `k ${set.id}`
    variable(k, set.price)
    constraints.set(k, { min: set.minCopies ?? 0, max: set.maxCopies })
    add(k, k, 1)
    for (const content of set.contents)
      for (const row of ['supply', 'surplus', 'procured']) add(k, `${row} ${content.item}`, content.qty)
  }
  const solution = solveWithYalps(
    { direction: 'minimize', objective: 'cost', constraints, variables, integers },
    { tolerance: 0, maxIterations: 200_000, timeout: 20_000 },
  )
  if (solution.status === 'infeasible') return undefined
  if (solution.status !== 'optimal') throw new Error(`yalps: ${solution.status}`)
  // Never −0.
  return Math.round(solution.result) + 0
}
