import * as v from 'valibot'
import { CurrencySchema } from '../units/money.ts'
import { fail, ok, type Result } from '../units/result.ts'

/** The sourcing problem's exchange format, version 1; described in docs/formats/sourcing.md. */

const Text = v.pipe(v.string(), v.minLength(1), v.maxLength(400))
/** Quantities, money in minor units and masses in milligrams: non-negative safe integers. */
const Count = v.pipe(v.number(), v.safeInteger(), v.minValue(0), v.maxValue(1e12))
const Positive = v.pipe(v.number(), v.safeInteger(), v.minValue(1), v.maxValue(1e12))
const Pieces = v.pipe(v.number(), v.safeInteger(), v.minValue(0), v.maxValue(1_000_000))

const ItemSchema = v.object({
  id: Text,
  part: v.string(),
  colour: v.string(),
  mass: Count,
  owned: Pieces,
  resale: v.nullable(v.object({ credit: Count, max: Pieces })),
})

const AcceptSchema = v.object({
  id: Text,
  uses: v.pipe(v.array(v.object({ item: Text, qty: Positive })), v.minLength(1)),
  penalty: Count,
})

const LineSchema = v.object({ id: Text, qty: Pieces, accepts: v.pipe(v.array(AcceptSchema), v.minLength(1)) })

const ShopSchema = v.object({
  id: Text,
  kind: v.picklist(['shop', 'counter']),
  minOrder: Count,
  bands: v.array(v.object({ maxMass: Positive, fee: Count })),
  service: v.nullable(v.object({ threshold: Count, fee: Count })),
  handling: Count,
  lineFee: Count,
  leadDays: Count,
  reliability: v.pipe(v.number(), v.minValue(0), v.maxValue(1)),
  status: v.picklist(['free', 'excluded', 'pinned']),
})

const OfferSchema = v.object({ id: Text, shop: Text, item: Text, price: Count, stock: Pieces, pack: Positive })

const SetSchema = v.object({
  id: Text,
  price: Count,
  maxCopies: v.pipe(v.number(), v.safeInteger(), v.minValue(0), v.maxValue(10_000)),
  contents: v.array(v.object({ item: Text, qty: Positive })),
})

export const SourcingProblemSchema = v.object({
  format: v.literal('sourcing-problem'),
  version: v.literal(1),
  id: v.string(),
  currency: CurrencySchema,
  maxShops: v.nullable(Count),
  deadlineDays: v.nullable(Count),
  items: v.array(ItemSchema),
  lines: v.array(LineSchema),
  shops: v.array(ShopSchema),
  offers: v.array(OfferSchema),
  sets: v.array(SetSchema),
  onOrder: v.array(v.object({ item: Text, qty: Positive })),
})

export type SourcingProblem = v.InferOutput<typeof SourcingProblemSchema>
export type SourcingShop = SourcingProblem['shops'][number]
export type SourcingOffer = SourcingProblem['offers'][number]

/**
 * Checks an unknown value as a sourcing problem: the fields, unique ids, references that exist, bands in ascending
 * order. The error names the place and what is expected there.
 */
export function parseSourcingProblem(value: unknown): Result<SourcingProblem, string> {
  const parsed = v.safeParse(SourcingProblemSchema, value)
  if (!parsed.success) {
    const issue = parsed.issues[0]
    const path = v.getDotPath(issue)
    return fail(path === null ? issue.message : `${path}: ${issue.message}`)
  }
  const problem = parsed.output
  for (const [field, records] of [
    ['items', problem.items],
    ['lines', problem.lines],
    ['shops', problem.shops],
    ['offers', problem.offers],
    ['sets', problem.sets],
  ] as const) {
    const seen = new Set<string>()
    for (const [i, record] of records.entries()) {
      if (seen.has(record.id)) return fail(`${field}.${i}.id: "${record.id}" occurs twice; ids must be unique`)
      seen.add(record.id)
    }
  }
  const items = new Set(problem.items.map((i) => i.id))
  const shops = new Set(problem.shops.map((s) => s.id))
  const missing = (where: string, kind: string, id: string) => fail(`${where}: there is no ${kind} "${id}"`)
  for (const [i, offer] of problem.offers.entries()) {
    if (!items.has(offer.item)) return missing(`offers.${i}.item`, 'item', offer.item)
    if (!shops.has(offer.shop)) return missing(`offers.${i}.shop`, 'shop', offer.shop)
  }
  for (const [i, line] of problem.lines.entries())
    for (const [j, accept] of line.accepts.entries()) {
      if (line.accepts.findIndex((a) => a.id === accept.id) !== j)
        return fail(`lines.${i}.accepts.${j}.id: "${accept.id}" occurs twice in line "${line.id}"`)
      for (const use of accept.uses)
        if (!items.has(use.item)) return missing(`lines.${i}.accepts.${j}.uses`, 'item', use.item)
    }
  for (const [i, set] of problem.sets.entries())
    for (const content of set.contents)
      if (!items.has(content.item)) return missing(`sets.${i}.contents`, 'item', content.item)
  for (const [i, order] of problem.onOrder.entries())
    if (!items.has(order.item)) return missing(`onOrder.${i}.item`, 'item', order.item)
  for (const [i, shop] of problem.shops.entries())
    for (let k = 1; k < shop.bands.length; k++)
      if ((shop.bands[k]?.maxMass ?? 0) <= (shop.bands[k - 1]?.maxMass ?? 0))
        return fail(`shops.${i}.bands.${k}.maxMass: bands must ascend by mass`)
  return ok(problem)
}
