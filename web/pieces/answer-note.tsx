import { RotateCcw } from 'lucide-react'
import type { CountAnswer } from '../store/about-count.ts'
import { Button } from '../ui/button.tsx'

/** Says that an answer is on its way or could not be had; nothing once it is there. */
export function AnswerNote({ answer }: { answer: CountAnswer<unknown> }) {
  if (answer.problem !== undefined)
    return (
      <p role="alert" className="flex flex-wrap items-center gap-3 text-sm text-warn">
        <span className="wrap-anywhere">This could not be worked out: {answer.problem}.</span>
        <Button onClick={answer.retry}>
          <RotateCcw size={12} aria-hidden="true" /> Try again
        </Button>
      </p>
    )
  if (answer.value !== undefined) return null
  return (
    <p role="status" className="text-sm text-soft">
      Working it out…
    </p>
  )
}
