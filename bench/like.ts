import type { SourcingProblem } from '../core/sourcing/problem.ts'
import { lowerMedian } from '../core/units/median.ts'
import { Prng } from '../demo/prng.ts'

type Offer = SourcingProblem['offers'][number]

function groups(offers: readonly Offer[], keyOf: (offer: Offer) => string): Map<string, Offer[]> {
  const found = new Map<string, Offer[]>()
  for (const offer of offers) {
    const own = found.get(keyOf(offer))
    if (own) own.push(offer)
    else found.set(keyOf(offer), [offer])
  }
  return found
}

/**
 * Another problem of the same kind and size, drawn from a seed: each shop keeps its terms, its number of offers and how
 * its prices lie to those of others; which items it offers is dealt anew, items that many shops have more often. No line asks for
 * more than all shops have.
 */
export function drawnLike(problem: SourcingProblem, seed: number): SourcingProblem {
  const prng = new Prng(seed)
  const byItem = groups(problem.offers, (o) => o.item)
  const middle = new Map([...byItem].map(([item, offers]) => [item, lowerMedian(offers.map((o) => o.price)) ?? 0]))
  const popular = problem.offers.map((o) => o.item)
  const offers = [...groups(problem.offers, (o) => o.shop)].flatMap(([, own]) => {
    const items = new Set<string>()
    while (items.size < Math.min(own.length, byItem.size)) items.add(popular[prng.int(0, popular.length - 1)] ?? '')
    const dealt = prng.shuffle([...items])
    return own.map((offer, i): Offer => {
      const item = dealt[i] ?? offer.item
      const price = Math.round((offer.price / (middle.get(offer.item) ?? 1)) * (middle.get(item) ?? 1))
      return { ...offer, item, price: Math.max(1, price) }
    })
  })
  const stock = new Map<string, number>()
  for (const { item, stock: pieces, pack } of offers)
    stock.set(item, (stock.get(item) ?? 0) + Math.floor(pieces / pack) * pack)
  const most = ({ uses }: { uses: readonly { item: string; qty: number }[] }) =>
    Math.min(...uses.map((use) => Math.floor((stock.get(use.item) ?? 0) / use.qty)))
  return {
    ...problem,
    id: `${problem.id}-like-${seed}`,
    offers,
    lines: problem.lines
      .map((line) => ({ ...line, qty: Math.min(line.qty, Math.max(...line.accepts.map(most))) }))
      .filter((line) => line.qty > 0),
  }
}
