import { Printer } from 'lucide-react'
import { Button } from './button.tsx'

/** Prints what the screen shows, in the form it has on paper. */
export function PrintButton({ label }: { label?: string }) {
  return (
    <Button
      className="no-print"
      {...(label !== undefined && { 'aria-label': label })}
      onClick={() => {
        window.print()
      }}
    >
      <Printer size={14} aria-hidden="true" /> Print
    </Button>
  )
}
