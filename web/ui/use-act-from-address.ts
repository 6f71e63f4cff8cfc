import { useEffect, useRef, useState } from 'react'
import { useAddress } from './address.ts'

/** The parameter by which an address asks a screen to do something as it opens. */
export const DO = 'do'

/**
 * Does an act that the address asks for (`?do=import`), once, and takes it out of the address: whoever comes back, or
 * shares it, does not do it again. Waits while `ready` is false.
 */
export function useActFromAddress(act: string, run: () => void, ready = true): void {
  const { params, change } = useAddress()
  const asked = params.get(DO) === act
  const latest = useRef(run)
  useEffect(() => {
    latest.current = run
  })
  useEffect(() => {
    if (!asked || !ready) return
    change({ [DO]: null })
    latest.current()
  }, [asked, ready, change])
}

/** Whether a dialog is open that the address may ask for. */
export function useDialogFromAddress(act: string): [boolean, (open: boolean) => void] {
  const [open, setOpen] = useState(false)
  useActFromAddress(act, () => {
    setOpen(true)
  })
  return [open, setOpen]
}
