import { RotateCcw } from 'lucide-react'
import type { BuildTally } from '../store/tallies.ts'
import { Button } from '../ui/button.tsx'

/**
 * Says when the figures are of a moment ago, and when counting anew failed; nothing while they are of now. Its line is kept
 * free in the gap between its neighbours: what is below it stays where it is, under a finger too.
 */
export function StaleNote({ tally: { stale, failure } }: { tally: Pick<BuildTally, 'stale' | 'failure'> }) {
  if (failure)
    return (
      <p role="alert" className="flex flex-wrap items-center gap-3 border-l-4 border-bad bg-bad-wash px-3 py-2 text-sm">
        <span className="wrap-anywhere">
          Counting again failed: {failure.message}. The figures are of before the last change.
        </span>
        <Button onClick={failure.retry}>
          <RotateCcw size={14} aria-hidden="true" /> Try again
        </Button>
      </p>
    )
  return (
    <div className="-my-3 min-h-5">
      {stale && (
        <p role="status" className="truncate text-sm font-semibold text-warn">
          Counting again: the figures are of a moment ago.
        </p>
      )}
    </div>
  )
}
