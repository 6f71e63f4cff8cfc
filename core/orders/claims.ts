import type { ItemKey } from '../catalogue/item.ts'
import { billTotal } from '../costs/order-cost.ts'
import { daysTo } from '../units/instants.ts'
import { formatMoney } from '../units/money.ts'
import { plural } from '../units/numbers.ts'
import { fail, ok, type Result } from '../units/result.ts'
import { draftOrders, type OrderMaking } from './make-orders.ts'
import {
  chargesOf,
  claimState,
  dayOfState,
  type Claim,
  type ClaimLine,
  type ClaimState,
  type Order,
  type OrderLine,
  type Receipt,
} from './order.ts'
import type { OrderRefusal } from './order-states.ts'

/** What may become of a claim next. */
export const CLAIM_MOVES: Readonly<Record<ClaimState, readonly ClaimState[]>> = {
  open: ['promised', 'sent again', 'refunded', 'refused'],
  promised: ['sent again', 'refunded', 'refused'],
  // What was sent again may never come either; a refusal may be taken back.
  'sent again': ['refunded', 'open'],
  refunded: [],
  refused: ['open', 'refunded'],
}

/** What is amiss in a receipt, as lines of a claim. */
export const amissLines = (line: string, { short, damaged, wrong }: Receipt): ClaimLine[] => [
  ...(short > 0 ? [{ line, reason: 'short' as const, qty: short }] : []),
  ...(damaged > 0 ? [{ line, reason: 'damaged' as const, qty: damaged }] : []),
  ...(wrong.length > 0 ? [{ line, reason: 'wrong' as const, qty: wrong.reduce((n, w) => n + w.qty, 0) }] : []),
]

/** All of an order, which never came. */
export const lostLines = ({ lines, copies }: Pick<Order, 'lines' | 'copies'>): ClaimLine[] => [
  ...lines.map((l): ClaimLine => ({ line: l.id, reason: 'lost', qty: l.qty })),
  ...copies.map((c): ClaimLine => ({ copy: c.id, reason: 'lost', qty: 1 })),
]

/** What claimed lines cost, minor units of the seller's money; of a lost order all that the seller charged. */
export function amountOf(order: Order, lines: readonly ClaimLine[]): number {
  if (lines.length > 0 && lines.every((l) => l.reason === 'lost')) return billTotal(chargesOf(order))
  const priceOf = new Map(order.lines.map((l) => [l.id, l.price]))
  const copies = new Map(order.copies.map((c) => [c.id, c.price]))
  return lines.reduce(
    (sum, l) =>
      sum +
      l.qty *
        (l.line !== undefined ? (priceOf.get(l.line) ?? 0) : l.copy !== undefined ? (copies.get(l.copy) ?? 0) : 0),
    0,
  )
}

/** Of each line the pieces that claims are about already. */
export function claimedPieces({ claims }: Pick<Order, 'claims'>): Map<string, number> {
  const claimed = new Map<string, number>()
  for (const { lines } of claims)
    for (const { line, qty } of lines) if (line !== undefined) claimed.set(line, (claimed.get(line) ?? 0) + qty)
  return claimed
}

/** An order with one more claim, open; refused where more of a line is claimed than was ordered. */
export function claimFrom(
  order: Order,
  lines: readonly ClaimLine[],
  on: string,
  id: string,
): Result<Order, OrderRefusal> {
  if (lines.length === 0) return fail({ code: 'empty', message: 'Say what is to be claimed: at least one line.' })
  const claimed = claimedPieces(order)
  for (const { line, qty } of lines) {
    if (line === undefined) continue
    const of = order.lines.find((l) => l.id === line)
    const all = (claimed.get(line) ?? 0) + qty
    claimed.set(line, all)
    if (of && all > of.qty)
      return fail({
        code: 'more than ordered',
        message: `${plural(all, 'piece')} of a line would be claimed, of which ${of.qty} were ordered. Claim fewer.`,
      })
  }
  const claim: Claim = { id, lines: [...lines], asked: amountOf(order, lines), history: [{ state: 'open', on }] }
  return ok({ ...order, claims: [...order.claims, claim] })
}

/** A claim one step on; a refund says how much came back, minor units of the seller's money. */
export function moveClaim(
  order: Order,
  id: string,
  to: ClaimState,
  on: string,
  refunded?: number,
): Result<Order, OrderRefusal> {
  const claim = order.claims.find((c) => c.id === id)
  if (!claim || !CLAIM_MOVES[claimState(claim)].includes(to))
    return fail({ code: 'not from here', message: 'The claim cannot come to that from where it is.' })
  if (on < (claim.history.at(-1)?.on ?? on))
    return fail({ code: 'before the step before', message: 'That day is before the last step of the claim.' })
  const most = Math.max(claim.asked, billTotal(chargesOf(order)))
  if (refunded !== undefined && refunded > most)
    return fail({ code: 'more than ordered', message: 'More would come back than the order cost. Check the amount.' })
  const next: Claim = {
    ...claim,
    history: [...claim.history, { state: to, on }],
    ...(to === 'refunded' && { refunded: refunded ?? claim.asked }),
  }
  return ok({ ...order, claims: order.claims.map((c) => (c.id === id ? next : c)) })
}

/** What is sent in place of what a claim is about: a parcel of its own, which costs nothing and is on its way. */
export function sentAgain(order: Order, claim: Claim, making: OrderMaking): Order | undefined {
  const qtyOf = new Map<string, number>()
  for (const { line, qty } of claim.lines) if (line !== undefined) qtyOf.set(line, (qtyOf.get(line) ?? 0) + qty)
  const lines = order.lines.flatMap((line): OrderLine[] => {
    const qty = qtyOf.get(line.id) ?? 0
    if (qty === 0) return []
    const { got: _, ...bare } = line
    return [{ ...bare, qty, price: 0, for: lastOf(line, qty) }]
  })
  if (lines.length === 0) return undefined
  const [made] = draftOrders(
    [
      {
        seller: order.seller,
        builds: order.builds,
        currency: order.currency,
        ...(order.rate !== undefined && { rate: order.rate }),
        lines,
        copies: [],
        planned: { goods: 0, shipping: 0, handling: 0, lineFees: 0, service: 0, levies: 0 },
        leadDays: order.leadDays,
        replaces: order.id,
      },
    ],
    making,
  )
  return (
    made && {
      ...made,
      history: (['drafted', 'placed', 'paid', 'dispatched'] as const).map((state) => ({ state, on: making.on })),
    }
  )
}

/** Whom the last so many pieces of a line are for: what is missing was the last build's, as the first came first. */
function lastOf(line: OrderLine, qty: number): OrderLine['for'] {
  const shares: { build: OrderLine['for'][number]['build']; qty: number }[] = []
  // What is for none is missed first.
  let left = qty - Math.max(0, line.qty - line.for.reduce((n, f) => n + f.qty, 0))
  for (const { build, qty: own } of [...line.for].reverse()) {
    const share = Math.min(own, left)
    if (share > 0) shares.unshift({ build, qty: share })
    left -= Math.max(0, share)
  }
  return shares
}

/** A claim in words for the seller, a line each, with what is asked back; in the seller's money. */
export function claimText(order: Order, claim: Claim, nameOf: (item: ItemKey) => string): string {
  const lineOf = new Map(order.lines.map((l) => [l.id, l]))
  const copyOf = new Map(order.copies.map((c) => [c.id, c]))
  const placed = dayOfState(order, 'placed')
  const whole = claim.lines.every((l) => l.reason === 'lost')
  return [
    `To ${order.seller.name}: ${order.reference ? `your order ${order.reference}` : `my order ${order.number}`}${placed === undefined ? '' : ` of ${placed}`}`,
    whole ? 'The parcel has not come.' : 'This was not as ordered:',
    ...claim.lines.map(({ line, copy, reason, qty, note }) => {
      const of = line === undefined ? undefined : lineOf.get(line)
      const what = of ? nameOf(of.item) : copy === undefined ? 'the order' : (copyOf.get(copy)?.label ?? 'a copy')
      const wrong = reason === 'wrong' && of?.got ? ` (${of.got.wrong.map((w) => nameOf(w.item)).join(', ')} came)` : ''
      return `${qty} x ${what}: ${REASON_WORDS[reason]}${wrong}${note ? `, ${note}` : ''}`
    }),
    `Please send them again, or pay back ${formatMoney(claim.asked, order.currency)}.`,
  ].join('\n')
}

const REASON_WORDS: Readonly<Record<ClaimLine['reason'], string>> = {
  short: 'missing',
  wrong: 'other pieces came in their place',
  damaged: 'damaged',
  lost: 'not come',
}

/** Minor units of the seller's money that came back. */
export const refundedOf = ({ claims }: Pick<Order, 'claims'>): number =>
  claims.reduce((sum, c) => sum + (c.refunded ?? 0), 0)

/** Whether something is still to be done about a claim. */
export const isClaimOpen = (claim: Claim): boolean => ['open', 'promised'].includes(claimState(claim))

/** Days since the last step of a claim. */
export const claimAge = (claim: Claim, today: string): number => daysTo(claim.history.at(-1)?.on ?? today, today)
