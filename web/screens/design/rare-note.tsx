import { Link } from 'react-router'
import type { Count } from '../../store/count-store.ts'
import { useAboutCount } from '../../store/about-count.ts'
import { rareSummary } from '../../pieces/rare-words.ts'

const NO_ORDERS = { openers: [], hinted: false }

/** Says, while there is still time to draw it otherwise, which short pieces are hard to buy by the offers that are known. */
export function RareNote({ count }: { count: Count }) {
  const { build } = count
  const { value } = useAboutCount(count, 'rare', NO_ORDERS)
  if (!value || value.items.length === 0 || build.rules.sources !== 'donors, shelf and shops') return null
  return (
    <p className="border-l-4 border-warn bg-raised px-3 py-2 text-sm">
      Hard to buy, by the offers known: {rareSummary(value.items)}.{' '}
      <Link className="text-accent underline" to={`/build/${encodeURIComponent(build.id)}/buy#rare`}>
        Which, and what would avoid them
      </Link>
    </p>
  )
}
