import { useDeferredValue, useEffect, useState } from 'react'
import { useAddress } from './address.ts'

const PAUSE = 300

/**
 * What is left of the texts that a field sent to the address when one of them arrives there, earlier ones having been
 * overtaken; undefined when the text came from someone else.
 */
export function awaitedAfter(sent: readonly string[], arrived: string): readonly string[] | undefined {
  const at = sent.indexOf(arrived)
  return at < 0 ? undefined : sent.slice(at + 1)
}

/**
 * What is typed in a search field, kept in the address too: the field follows the typing at once, what is found follows
 * as `deferred`, and the address only when the typing pauses, as every change of it draws the whole page anew. The
 * router tells the change when there is time for it, which may be after more was typed: that is no reason to change
 * the field.
 */
export function useFindText(key = 'find'): { text: string; deferred: string; setText: (text: string) => void } {
  const { params, change } = useAddress()
  const written = params.get(key) ?? ''
  const [text, setText] = useState(written)
  const [seen, setSeen] = useState(written)
  const [sent, setSent] = useState<readonly string[]>([])
  if (written !== seen) {
    setSeen(written)
    const awaited = awaitedAfter(sent, written)
    setSent(awaited ?? [])
    // The address was changed by someone else, such as the palette: the field follows.
    if (awaited === undefined) setText(written)
  }
  const last = sent.at(-1) ?? written
  useEffect(() => {
    if (text === last) return undefined
    const timer = setTimeout(() => {
      setSent((now) => [...now, text])
      change({ [key]: text === '' ? null : text }, { replace: true, late: true })
    }, PAUSE)
    return () => {
      clearTimeout(timer)
    }
  }, [text, last, key, change])
  return { text, deferred: useDeferredValue(text), setText }
}
