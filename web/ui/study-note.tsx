import { Square } from 'lucide-react'
import type { StudyState } from '../data/use-study.ts'
import { Button } from './button.tsx'
import { plural } from './screen.tsx'

/** Says that a question is being worked on, how far it is, and lets it be stopped. */
export function StudyNote({ study }: { study: StudyState<unknown> }) {
  if (study.problem !== undefined)
    return (
      <p role="alert" className="text-sm text-warn">
        {study.problem} Change something to ask again.
      </p>
    )
  if (!study.busy) return null
  return (
    <p role="status" className="flex items-center gap-3 text-sm text-soft">
      Working it out{study.steps > 0 ? `: ${plural(study.steps, 'design')} netted` : ''}…
      <Button onClick={study.stop}>
        <Square size={12} aria-hidden="true" /> Stop
      </Button>
    </p>
  )
}
