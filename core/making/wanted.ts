import type { Wanted } from './fetch-list.ts'
import { needOf, openOf } from './works.ts'
import type { AtWork } from './at-work.ts'
import type { Next, Progress } from './progress.ts'

/** What to fetch for: the next repeat of all that can be built, all that is open, or a module by its key. */
export type FetchScope = 'next' | 'all' | (string & {})

/** What is wanted at the table; of one module its next repeat alone where that is asked. */
export function wantedFor(
  { at, progress, next }: { readonly at: AtWork; readonly progress: Progress; readonly next: readonly Next[] },
  scope: FetchScope,
  once: boolean,
): Wanted[] {
  return at.works.flatMap((work) => {
    if (scope !== 'all' && scope !== 'next' && scope !== work.key) return []
    const repeat = progress.states.get(work.key)?.next
    if (repeat === undefined) return []
    if (scope === 'next' && next.find((n) => n.work.key === work.key)?.missing !== 0) return []
    const touched = [...(at.unitsOf.get(work.key)?.keys() ?? [])]
    return work.lines.flatMap((line): Wanted[] => {
      const openIn = (r: number) => openOf(work, line, r, at.sumsAt(work, r))
      const one = scope === 'next' || (scope === work.key && once)
      const qty = one
        ? openIn(repeat)
        : line.total - line.built - touched.reduce((n, r) => n + needOf(work, line, r) - openIn(r), 0)
      return qty > 0 ? [{ work, line, qty, pegs: at.pegsOf(line.id) }] : []
    })
  })
}
