import { useEffect, useState } from 'react'
import { usePrinting } from './use-printing.ts'

/** So many are drawn at once. */
const STEP = 100

/** A long list as it is drawn: some at first, the rest bit by bit, so that the page stays at hand; all of it on paper. */
export function useGrowing<T>(list: readonly T[]): readonly T[] {
  const printing = usePrinting()
  const [grown, setGrown] = useState({ list, to: STEP })
  const to = grown.list === list ? grown.to : STEP
  useEffect(() => {
    if (to >= list.length) return undefined
    const timer = setTimeout(() => {
      setGrown({ list, to: to + STEP })
    }, 16)
    return () => {
      clearTimeout(timer)
    }
  }, [list, to])
  return printing || to >= list.length ? list : list.slice(0, to)
}
