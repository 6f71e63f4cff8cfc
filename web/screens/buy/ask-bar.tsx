import { Play, Square } from 'lucide-react'
import type { Build } from '../../../core/build/build.ts'
import type { Patience } from '../../../workers/sourcing.worker.ts'
import type { Count } from '../../store/count-store.ts'
import type { Purchase } from '../../store/purchases.ts'
import { Button } from '../../ui/button.tsx'

/** What a question about a kept plan is put with. */
export type QuestionProps = {
  readonly purchase: Purchase
  readonly build: Build
  readonly count: Count
  /** For the question as a whole. */
  readonly patience: Patience
}

/** The button that puts a question to a worker, and, while it is worked on, how far that is and the button that stops it. */
export function AskBar({
  ask,
  limits,
  running,
  onAsk,
  onStop,
}: {
  ask: string
  /** How long it may take, and of what. */
  limits: string
  /** How far it is; undefined when nothing is under way. */
  running: string | undefined
  onAsk: () => void
  onStop: () => void
}) {
  return (
    <div className="flex flex-wrap items-center gap-3 text-sm">
      {running === undefined ? (
        <>
          <Button onClick={onAsk}>
            <Play size={14} aria-hidden="true" /> {ask}
          </Button>
          <span className="text-soft">{limits}</span>
        </>
      ) : (
        <>
          <span role="status">{running}</span>
          <Button onClick={onStop}>
            <Square size={14} aria-hidden="true" /> Stop, keep what is found
          </Button>
        </>
      )}
    </div>
  )
}

/** The cell of a table of plans that says which one is kept, and keeps another. */
export function KeepCell({ kept, label, onKeep }: { kept: boolean; label: string; onKeep: () => void }) {
  return (
    <td className="py-1 pl-2 text-right">
      {kept ? (
        <span className="text-xs font-semibold">kept</span>
      ) : (
        <Button aria-label={label} onClick={onKeep}>
          Keep
        </Button>
      )}
    </td>
  )
}
