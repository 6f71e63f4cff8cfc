import { CATEGORIES, isIncome, type Category } from './entry.ts'
import { costOf, type Posting, type Stage } from './postings.ts'

/** Minor units of the build's money. Of income `paid` is what came in. */
export type LedgerRow = { readonly category: Category } & { readonly [S in Stage]: number }

export type Ledger = {
  readonly rows: readonly LedgerRow[]
  /** Spending alone. */
  readonly total: { readonly [S in Stage]: number }
  /** What came in: resale, instructions sold. */
  readonly income: number
  /** What the build has cost: paid, less what was paid back and what came in. */
  readonly net: number
}

const NOTHING = { planned: 0, ordered: 0, paid: 0, back: 0 }

/** What a build has cost so far by category: planned, ordered, paid and paid back; and what came in. */
export function ledgerOf(postings: readonly Posting[]): Ledger {
  const rows = new Map(CATEGORIES.map((c) => [c, { ...NOTHING }]))
  let net = 0
  for (const posting of postings) {
    const row = rows.get(posting.category)
    if (row) row[posting.stage] += posting.minor
    if (posting.stage === 'paid' || posting.stage === 'back') net += costOf(posting)
  }
  const list = CATEGORIES.map((category) => ({ category, ...(rows.get(category) ?? NOTHING) }))
  const total = { ...NOTHING }
  for (const row of list)
    if (!isIncome(row.category)) for (const stage of Object.keys(total) as Stage[]) total[stage] += row[stage]
  return {
    rows: list,
    total,
    income: list.reduce((n, row) => n + (isIncome(row.category) ? row.paid : 0), 0),
    net,
  }
}

/** Money that moved, the latest first; what has no day at the end. */
export const movementsOf = (postings: readonly Posting[]): Posting[] =>
  postings
    .filter((p) => p.stage === 'paid' || p.stage === 'back')
    .map((posting) => ({ posting, day: posting.on ?? '' }))
    .sort((p, q) => (p.day === q.day ? (p.posting.key < q.posting.key ? -1 : 1) : p.day > q.day ? -1 : 1))
    .map(({ posting }) => posting)

/** What a build had cost at the end of a day; undefined for all that has no day, which comes first. */
export type OutlayPoint = { readonly on: string | undefined; readonly minor: number }

export type Outlay = {
  /** One for each day on which money moved, in order. */
  readonly points: readonly OutlayPoint[]
  /** The most it ever was, and the first day on which it was that. */
  readonly peak: OutlayPoint
}

/** What was laid out by when: paid, less what was paid back and what came in, day by day. */
export function outlayOf(postings: readonly Posting[]): Outlay {
  const byDay = new Map<string | undefined, number>()
  for (const p of postings)
    if (p.stage === 'paid' || p.stage === 'back') byDay.set(p.on, (byDay.get(p.on) ?? 0) + costOf(p))
  const days = [...byDay].sort(([p], [q]) =>
    p === q ? 0 : p === undefined ? -1 : q === undefined ? 1 : p < q ? -1 : 1,
  )
  let minor = 0
  const points = days.map(([on, sum]) => ({ on, minor: (minor += sum) }))
  const peak = points.reduce(
    (most, point) => (point.minor > most.minor ? point : most),
    points[0] ?? { on: undefined, minor: 0 },
  )
  return { points, peak }
}
