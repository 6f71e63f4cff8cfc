import { normal, uniform } from './random.ts'
import { makeShops } from './shops.ts'
import type { CopiesRequest, CopiesResponse, WireCopy } from './wire.ts'

/** What a copy costs beside a new one, by its condition, and how much of it is lost; new ones lack nothing. */
const CONDITIONS = [
  { condition: 'new', upTo: 0.15, level: 0.85, lost: 0 },
  { condition: 'used', upTo: 0.75, level: 0.55, lost: 0.04 },
  { condition: 'worn', upTo: 1, level: 0.38, lost: 0.1 },
] as const

/** The share of shops that offer a copy of a set at a time, and for how many days they do. */
const [OFFERING, DAYS_OFFERED] = [0.09, 12]
/** How much likelier a piece of a figure is lost than another. */
const FIGURES_LOST = 4
/** What a piece costs of a set of which no price is known, cents. */
const PIECE = 9

/**
 * Copies of sets that shops offer second hand: complete or not, at a price of their own, gone after some days. What is
 * missing is told piece by piece. Depends on seed, day and set alone.
 */
export function copiesFor(request: CopiesRequest, seed: number, day: number): CopiesResponse {
  const copies = request.sets.flatMap(({ set, retail, lines }) =>
    makeShops(seed)
      .filter(({ terms }) => terms.kind === 'shop')
      .flatMap(({ terms }): WireCopy[] => {
        // Each shop changes what it offers on days of its own.
        const shift = Math.floor(uniform(seed, terms.id, set, 'shift') * DAYS_OFFERED)
        const round = Math.floor((day + shift) / DAYS_OFFERED)
        const words = [seed, terms.id, set, round] as const
        if (uniform(...words, 'offers') >= OFFERING) return []
        const worn = uniform(...words, 'condition')
        const { condition, level, lost } = CONDITIONS.find((c) => worn < c.upTo) ?? CONDITIONS[1]
        const care = 0.2 + 1.6 * uniform(...words, 'care')
        const missing = lines.flatMap(({ item, qty, figure }, i) => {
          const odds = Math.min(0.9, lost * care * (figure ? FIGURES_LOST : 1))
          if (uniform(...words, item, i, 'lost') >= odds) return []
          return [{ item, qty: 1 + Math.floor(uniform(...words, item, i, 'how many') * Math.min(3, qty)) }]
        })
        const pieces = lines.reduce((n, l) => n + l.qty, 0)
        const gone = missing.reduce((n, l) => n + l.qty, 0)
        const whole = retail ?? pieces * PIECE
        const share = 1 - 1.5 * (gone / Math.max(1, pieces))
        const price = Math.max(
          1,
          Math.round(whole * level * Math.max(0.3, share) * Math.exp(0.15 * normal(...words, 'price'))),
        )
        return [
          { id: `${terms.id}-${round}`, set, seller: terms.name, country: terms.country, price, condition, missing },
        ]
      }),
  )
  return { currency: 'EUR', day, copies }
}
