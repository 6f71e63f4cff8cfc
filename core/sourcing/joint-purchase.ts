import * as v from 'valibot'
import { ItemKeySchema, type ItemKey } from '../catalogue/item.ts'
import type { BuildId } from '../units/ids.ts'
import { ok, refuse, type Fault, type Result } from '../units/result.ts'
import { pieceOf } from './plan-pieces.ts'
import type { SourcingProblem } from './problem.ts'

/** A build's part of a purchase for several: all that is to be bought for it by itself. */
export type Party = { readonly build: BuildId; readonly asked: SourcingProblem }

/** Builds that one purchase may be for at most. */
export const MOST_TOGETHER = 6

/** Why builds cannot be bought for together. */
export type JointFault = 'currency' | 'rates' | 'levies' | 'loose pieces'

/** An option of a line in the joint problem: whose it is, by its place, and what it takes. */
export type JointAccept = {
  readonly party: number
  /** Per required piece, by item of the joint problem. */
  readonly takes: readonly { readonly item: string; readonly qty: number }[]
}

export type JointProblem = {
  readonly problem: SourcingProblem
  /** Of each line's options, by both ids (`acceptKey`). */
  readonly accepts: ReadonlyMap<string, JointAccept>
  /** The build that an item, a line or a donor set belongs to, by its place; undefined of items that several may use. */
  readonly partyOf: ReadonlyMap<string, number>
}

export const acceptKey = (line: string, accept: string): string => JSON.stringify([line, accept])

/** The name under which something of one build stands in a problem for several. */
const own = (party: number, id: string): string => `${party + 1}:${id}`

/** What piece something stands for, said beside its new name. */
const meaningOf = (named: Parameters<typeof pieceOf>[0]): { readonly piece?: ItemKey } => {
  const piece = pieceOf(named)
  return v.is(ItemKeySchema, piece) ? { piece } : {}
}

/** Ways to take pieces from several stocks that are told apart, at most, before mixed ones of three stocks are left out. */
const MOST_WAYS = 60

/** The ways to take `qty` pieces from so many stocks: how many of each. */
function* mixtures(stocks: number, qty: number): Generator<number[]> {
  if (stocks === 1) yield [qty]
  else for (let n = qty; n >= 0; n--) for (const rest of mixtures(stocks - 1, qty - n)) yield [n, ...rest]
}

/**
 * One purchase problem for several builds. Each line keeps the options and penalties of its own build; an offer serves just
 * the builds whose rules allow it (their condition, makers, excluded shops and time): pieces that the same builds may use
 * are one item, which their lines share. What a build owns and the copies it wants are its own. Shops are ordered from
 * once; `maxShops` is the limit for all together. Refused where one address cannot serve them: other money, other duty
 * and tax, or a limit on loose pieces, which is of one build alone.
 */
export function jointProblem(
  parties: readonly Party[],
  maxShops: number | null,
): Result<JointProblem, Fault<JointFault>> {
  const [first] = parties
  if (!first) throw new Error('there is no build to buy for')
  const fault = whyApart(parties)
  if (fault) return refuse(fault.code, fault.message)

  const shops = sharedShops(parties)
  const levies = first.asked.levies ?? []
  const classes = offerClasses(parties)
  const items: SourcingProblem['items'] = []
  const partyOf = new Map<string, number>()
  for (const [p, { asked }] of parties.entries())
    for (const item of asked.items) {
      partyOf.set(own(p, item.id), p)
      items.push({ ...item, ...meaningOf(item), id: own(p, item.id) })
    }
  for (const [p, { asked }] of parties.entries())
    for (const { id } of [...asked.sets, ...asked.lines]) partyOf.set(own(p, id), p)
  const itemById = new Map(parties.flatMap(({ asked }, p) => asked.items.map((i) => [own(p, i.id), i] as const)))
  for (const { id, users } of classes.shared.values()) {
    const [user] = users
    const like = user && itemById.get(own(user.party, user.item))
    if (like) items.push({ ...like, ...meaningOf(like), id, owned: 0, resale: null })
  }

  const accepts = new Map<string, JointAccept>()
  const lines = parties.flatMap(({ asked }, p) =>
    asked.lines.map((line): SourcingProblem['lines'][number] => ({
      ...line,
      ...meaningOf(line),
      id: own(p, line.id),
      accepts: line.accepts.flatMap((accept) =>
        waysOf(accept.uses, (item) => [own(p, item), ...(classes.of.get(own(p, item)) ?? [])]).map((uses, n) => {
          const id = n === 0 ? accept.id : `${accept.id}\n${n}`
          accepts.set(acceptKey(own(p, line.id), id), { party: p, takes: uses })
          return { ...accept, id, uses: [...uses] }
        }),
      ),
    })),
  )
  return ok({
    accepts,
    partyOf,
    problem: {
      format: 'sourcing-problem',
      version: 2,
      id: parties.map((p) => p.build).join(' and '),
      currency: first.asked.currency,
      maxShops,
      deadlineDays: null,
      maxPieces: null,
      items,
      lines,
      shops,
      offers: [...classes.offers],
      sets: parties.flatMap(({ asked }, p) =>
        asked.sets.map((set) => ({
          ...set,
          id: own(p, set.id),
          contents: set.contents.map(({ item, qty }) => ({ item: own(p, item), qty })),
          ...(set.figures && {
            figures: set.figures.map((figure) => ({
              ...figure,
              pieces: figure.pieces.map(({ item, qty }) => ({ item: own(p, item), qty })),
            })),
          }),
        })),
      ),
      onOrder: parties.flatMap(({ asked }, p) => asked.onOrder.map(({ item, qty }) => ({ item: own(p, item), qty }))),
      levies: [...levies],
    },
  })
}

/** Why one purchase cannot serve these builds; undefined where it can. */
export function whyApart(parties: readonly Party[]): Fault<JointFault> | undefined {
  const [first, ...others] = parties.map((p) => p.asked)
  if (!first) return undefined
  if (others.some((o) => o.currency !== first.currency))
    return { code: 'currency', message: 'The builds are reckoned in different currencies.' }
  // Only what several may order from has to agree: a build without a rate for a shop's money does not use it.
  const known = new Map<string, { readonly rate: number | undefined; readonly levies: string }>()
  let levied = others.some((o) => JSON.stringify(o.levies ?? []) !== JSON.stringify(first.levies ?? []))
  for (const { asked } of parties)
    for (const { id, rate, levies = [] } of asked.shops) {
      const own = { rate, levies: JSON.stringify(levies) }
      const other = known.get(id) ?? own
      if (other.rate !== rate)
        return { code: 'rates', message: 'The same money is changed at different rates in their house rules.' }
      levied ||= other.levies !== own.levies
      known.set(id, own)
    }
  if (levied)
    return {
      code: 'levies',
      message:
        'Duty and tax, or the country to send to, are not the same in their house rules: one parcel has one address.',
    }
  if (parties.some((p) => typeof p.asked.maxPieces === 'number'))
    return {
      code: 'loose pieces',
      message: 'One of the builds has a limit on loose pieces: buy for it by itself, or lift the limit.',
    }
  return undefined
}

/** The shops of all, once each: one that any insists on is insisted on, one that all exclude is excluded. */
function sharedShops(parties: readonly Party[]): SourcingProblem['shops'] {
  const byId = new Map<string, SourcingProblem['shops'][number][]>()
  for (const { asked } of parties)
    for (const shop of asked.shops) {
      const known = byId.get(shop.id)
      if (known) known.push(shop)
      else byId.set(shop.id, [shop])
    }
  return [...byId.values()].flatMap((same) => {
    const [shop] = same
    if (!shop) return []
    const status = same.some((s) => s.status === 'pinned')
      ? ('pinned' as const)
      : same.every((s) => s.status === 'excluded')
        ? ('excluded' as const)
        : ('free' as const)
    return [{ ...shop, status }]
  })
}

type User = { readonly party: number; readonly item: string }

/** Offers as items of the joint problem: those of one build as its own, those that the same builds may use as one. */
function offerClasses(parties: readonly Party[]) {
  const users = new Map<string, { readonly offer: SourcingProblem['offers'][number]; readonly users: User[] }>()
  for (const [p, { asked }] of parties.entries()) {
    const barred = new Set(
      asked.shops
        .filter((s) => s.status === 'excluded' || (asked.deadlineDays !== null && s.leadDays > asked.deadlineDays))
        .map((s) => s.id),
    )
    for (const offer of asked.offers) {
      if (barred.has(offer.shop)) continue
      const known = users.get(offer.id)
      if (known) known.users.push({ party: p, item: offer.item })
      else users.set(offer.id, { offer, users: [{ party: p, item: offer.item }] })
    }
  }
  const shared = new Map<string, { readonly id: string; readonly users: readonly User[] }>()
  /** Of a build's item the shared ones that do for it. */
  const of = new Map<string, string[]>()
  const offers = [...users.values()].map(({ offer, users: by }) => {
    const [only] = by
    if (by.length === 1 && only) return { ...offer, item: own(only.party, only.item) }
    const id = `shared ${JSON.stringify(by.map((u) => [u.party + 1, u.item]))}`
    if (!shared.has(id)) {
      shared.set(id, { id, users: by })
      for (const u of by) of.set(own(u.party, u.item), [...(of.get(own(u.party, u.item)) ?? []), id])
    }
    return { ...offer, item: id }
  })
  return { shared, of, offers }
}

type Uses = readonly { readonly item: string; readonly qty: number }[]

/** The ways to take what an option uses, item by item, from the stocks that have it; all from the build's own first. */
function waysOf(uses: Uses, stocksOf: (item: string) => readonly string[]): Uses[] {
  let ways: Uses[] = [[]]
  for (const { item, qty } of uses) {
    const stocks = stocksOf(item)
    const all = [...mixtures(stocks.length, qty)]
    const kept = all.length <= MOST_WAYS ? all : all.filter((m) => m.filter((n) => n > 0).length <= 2)
    ways = ways.flatMap((way) =>
      kept.map((mixture) => [
        ...way,
        ...mixture.flatMap((n, s) => (n > 0 ? [{ item: stocks[s] ?? item, qty: n }] : [])),
      ]),
    )
  }
  return ways
}
