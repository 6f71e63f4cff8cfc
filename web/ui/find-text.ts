import { useDeferredValue, useEffect, useState } from 'react'
import { useSearchParams } from 'react-router'

const PAUSE = 300

/**
 * What is typed in a search field, kept in the address too: the field follows the typing at once, what is found follows
 * as `deferred`, and the address only when the typing pauses, as every change of it draws the whole page anew.
 */
export function useFindText(key = 'find'): { text: string; deferred: string; setText: (text: string) => void } {
  const [params, setParams] = useSearchParams()
  const written = params.get(key) ?? ''
  const [text, setText] = useState(written)
  const [seen, setSeen] = useState(written)
  // The address was changed by someone else, such as the palette: the field follows.
  if (written !== seen) {
    setSeen(written)
    setText(written)
  }
  useEffect(() => {
    if (text === written) return undefined
    const timer = setTimeout(() => {
      setSeen(text)
      setParams(
        (now) => {
          const next = new URLSearchParams(now)
          if (text === '') next.delete(key)
          else next.set(key, text)
          return next
        },
        { replace: true },
      )
    }, PAUSE)
    return () => {
      clearTimeout(timer)
    }
  }, [text, written, key, setParams])
  return { text, deferred: useDeferredValue(text), setText }
}
