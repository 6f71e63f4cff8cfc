import type { ReactNode } from 'react'
import { Button } from '../../ui/button.tsx'

/** A way out in words, and the button that takes it. */
export function WayRow({
  act,
  onAct,
  disabled = false,
  children,
}: {
  act: string
  onAct: () => void
  disabled?: boolean
  children: ReactNode
}) {
  return (
    <li className="flex flex-wrap items-center gap-3 py-1.5">
      <div className="min-w-60 flex-1">{children}</div>
      <Button disabled={disabled} onClick={onAct}>
        {act}
      </Button>
    </li>
  )
}
