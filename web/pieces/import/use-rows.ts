import { useEffect, useEffectEvent, useState } from 'react'
import type { ListRow } from '../../../core/formats/list-row.ts'
import type { RefusedRow } from '../../../core/formats/list-rows.ts'
import { listWorker } from '../../../workers/list-client.ts'

/** Rows of a reading as far as they have come. */
export type RowsSoFar<Row> = {
  readonly rows: readonly Row[]
  /** They are of this reading, not of the one before. */
  readonly current: boolean
  /** They are all there. */
  readonly all: boolean
}

/** Tells what went wrong with a piece of work. */
type Said = (work: Promise<unknown>) => void

type Came<Row> = { readonly edition: number; readonly rows: readonly Row[] }

/**
 * Rows of a reading, fetched slice by slice: the first are there at once, then about twice as many each time, so that
 * drawing and sorting them costs little more than once. Until the first of another reading have come, those before stay.
 */
function useSlices<Row>(
  edition: number,
  count: number,
  slice: (edition: number, from: number) => Promise<readonly Row[]>,
  said: Said,
): RowsSoFar<Row> {
  const [came, setCame] = useState<Came<Row>>({ edition: -1, rows: [] })
  const fetchAll = useEffectEvent(async (asked: { readonly gone: boolean }) => {
    const rows: Row[] = []
    let shown = 0
    while (rows.length < count) {
      const more = await slice(edition, rows.length)
      if (asked.gone || more.length === 0) return
      rows.push(...more)
      if (rows.length < count && rows.length < 2 * shown) continue
      shown = rows.length
      setCame({ edition, rows: [...rows] })
    }
  })
  const tell = useEffectEvent(said)
  useEffect(() => {
    const asked = { gone: false }
    // What is asked of a reading that is no longer meant fails, and nobody misses it.
    const wanted = (error: unknown) => {
      if (!asked.gone) throw error
    }
    tell(
      Promise.resolve()
        .then(() => fetchAll(asked))
        .catch(wanted),
    )
    return () => {
      asked.gone = true
    }
  }, [edition, count])
  if (count === 0) return { rows: [], current: true, all: true }
  const current = came.edition === edition
  return { rows: came.rows, current, all: current && came.rows.length >= count }
}

/** Accepted rows, or the doubtful ones among them. */
export const useRows = (edition: number, which: 'accepted' | 'doubtful', count: number, said: Said) =>
  useSlices<ListRow>(edition, count, (meant, from) => listWorker().call('rows', meant, which, from), said)

/** Refused rows. */
export const useRefusals = (edition: number, count: number, said: Said) =>
  useSlices<RefusedRow>(edition, count, (meant, from) => listWorker().call('refusals', meant, from), said)
