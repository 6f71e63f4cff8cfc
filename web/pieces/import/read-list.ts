import type { ListRow } from '../../../core/formats/list-row.ts'
import type { ListReading, RefusedRow } from '../../../core/formats/list-rows.ts'
import { listWorker } from '../../../workers/list-client.ts'
import type { ListPreview } from '../../../workers/list.worker.ts'

/** A list as it was read, with all its rows. */
export type ReadList = Omit<ListPreview, 'reading' | 'rows' | 'refused'> & { readonly reading: ListReading }

/** Rows that come at once, so that the page stays at hand. */
const AT_ONCE = 1500

/** Fetches the rows of a list that was just read. */
export async function withRows({ reading, rows, refused: refusals, ...preview }: ListPreview): Promise<ReadList> {
  const accepted: ListRow[] = []
  for (let from = 0; from < rows; from += AT_ONCE)
    accepted.push(...(await listWorker().call('rows', from, from + AT_ONCE)))
  const refused: RefusedRow[] = []
  while (refused.length < refusals) {
    const more = await listWorker().call('refused', refused.length)
    if (more.length === 0) break
    refused.push(...more)
  }
  return { ...preview, reading: { ...reading, accepted, refused } }
}
