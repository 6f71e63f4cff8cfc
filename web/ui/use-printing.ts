import { useEffect, useState } from 'react'
import { flushSync } from 'react-dom'

/** Whether the page is being printed: what is drawn as far as it is seen has to be drawn whole then. */
export function usePrinting(): boolean {
  const [printing, setPrinting] = useState(false)
  useEffect(() => {
    const set = (on: boolean) => () => {
      // The browser takes the page as it is when this returns.
      flushSync(() => {
        setPrinting(on)
      })
    }
    const [before, after] = [set(true), set(false)]
    window.addEventListener('beforeprint', before)
    window.addEventListener('afterprint', after)
    return () => {
      window.removeEventListener('beforeprint', before)
      window.removeEventListener('afterprint', after)
    }
  }, [])
  return printing
}
