import { copyContents } from '../../../core/donors/copy-contents.ts'
import type { Copy, DonorSet } from '../../../core/donors/donor-set.ts'
import type { Tally } from '../../../core/netting/tally.ts'
import type { CopyId } from '../../../core/units/ids.ts'

/** A copy with what it holds and what the design uses of it. */
export type CopyRow = {
  readonly copy: Copy
  readonly set: DonorSet | undefined
  readonly holds: number
  readonly used: number
}

export function copyRows(copies: readonly Copy[], sets: readonly DonorSet[], result: Tally): CopyRow[] {
  const used = new Map<CopyId, number>()
  for (const line of result.lines)
    for (const { source, qty } of line.pegs)
      if (source.kind === 'copy') used.set(source.copy, (used.get(source.copy) ?? 0) + qty)
  return copies.map((copy) => {
    const set = sets.find((s) => s.id === copy.setId)
    return {
      copy,
      set,
      holds: set ? copyContents(set, copy).reduce((n, c) => n + c.qty, 0) : 0,
      used: used.get(copy.id) ?? 0,
    }
  })
}

export const STATES = [
  { value: 'owned', label: 'owned' },
  { value: 'gift', label: 'a gift' },
  { value: 'promised', label: 'promised' },
  { value: 'to-buy', label: 'to buy' },
] as const satisfies readonly { value: Copy['state']; label: string }[]
