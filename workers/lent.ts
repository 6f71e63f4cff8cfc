import type { Rest } from '../core/netting/shared-records.ts'
import type { Snapshot } from '../core/netting/snapshot.ts'

/** The part of a snapshot that another worker sends. */
const received = (from: MessagePort): Promise<Partial<Snapshot>> =>
  new Promise((resolve) => {
    from.onmessage = ({ data }: MessageEvent<Partial<Snapshot>>) => {
      resolve(data)
      from.close()
    }
  })

/** A snapshot of which the page sends one part and, where there is a lender, another worker the rest. */
export const wholeSnapshot = async (sent: Rest, lender?: MessagePort): Promise<Snapshot> =>
  ({ ...sent, ...(lender && (await received(lender))) }) as Snapshot
