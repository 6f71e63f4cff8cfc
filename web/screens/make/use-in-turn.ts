import { useCallback, useEffect, useRef } from 'react'
import type { AtWork } from '../../../core/making/at-work.ts'

/** Does something with what is on the table as it is by then; the act says whether it wrote something. */
export type InTurn = (act: (at: AtWork) => Promise<boolean>) => Promise<boolean>

/** Milliseconds that what was written takes to the page at most, and between two looks. */
const MOST_MS = 5000
const LOOK_MS = 4

const sameRecords = (p: AtWork, q: AtWork): boolean =>
  p.units === q.units &&
  p.making === q.making &&
  p.stock.copies === q.stock.copies &&
  p.stock.holdings === q.stock.holdings

/** Acts one after the other, each with the table as the one before left it: fingers are faster than what is written. */
export function useInTurn(at: AtWork): InTurn {
  const latest = useRef(at)
  const queue = useRef<Promise<unknown>>(Promise.resolve())
  useEffect(() => {
    latest.current = at
  }, [at])
  return useCallback((act) => {
    const run = queue.current.then(async () => {
      const before = latest.current
      const done = await act(before)
      // A count that came in is no sign of it: what was written is in the records.
      for (let ms = 0; done && sameRecords(latest.current, before) && ms < MOST_MS; ms += LOOK_MS)
        await new Promise((resolve) => setTimeout(resolve, LOOK_MS))
      return done
    })
    queue.current = run.catch(() => false)
    return run
  }, [])
}
