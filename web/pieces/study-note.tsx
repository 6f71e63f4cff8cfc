import { RotateCcw, Square } from 'lucide-react'
import type { StudyState } from '../store/use-study.ts'
import { Button } from '../ui/button.tsx'
import { plural } from '../../core/units/numbers.ts'

/** Says that a question is being worked on, how far it is, and lets it be stopped; or that it failed, to ask again. */
export function StudyNote({ study }: { study: Omit<StudyState<unknown>, 'value'> & { readonly value?: unknown } }) {
  if (study.problem !== undefined)
    return (
      <p role="alert" className="flex flex-wrap items-center gap-3 text-sm text-warn">
        {study.problem}
        {study.value !== undefined && ' What is shown is of an earlier state.'}
        <Button onClick={study.retry}>
          <RotateCcw size={12} aria-hidden="true" /> Try again
        </Button>
      </p>
    )
  if (!study.busy) return null
  return (
    <p role="status" className="flex items-center gap-3 text-sm text-soft">
      Working it out{study.steps > 0 ? `: ${plural(study.steps, 'step')} done` : ''}…
      {study.value !== undefined && ' What is shown is of before the last change.'}
      <Button onClick={study.stop}>
        <Square size={12} aria-hidden="true" /> Stop
      </Button>
    </p>
  )
}
