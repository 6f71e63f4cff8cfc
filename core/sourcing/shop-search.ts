import type { PresolvedProblem } from './presolve.ts'
import type { Coverer } from './greedy-cover.ts'

export type Choice = { readonly open: Uint8Array; readonly copies: Int32Array; readonly cost: number }

/**
 * A good choice of shops and copies: greedy additions, then drops, additions, swaps and copy changes until none helps or
 * the time is up. `onImproved` sees the choice after the greedy phase and after each improving sweep. Deterministic
 * unless it runs out of time.
 */
export function searchShops(
  net: PresolvedProblem,
  coverer: Coverer,
  timeUp: () => boolean,
  onImproved: (choice: Choice) => void,
): Choice {
  const shopCount = net.shops.length
  const cap = net.problem.maxShops ?? Infinity
  const open = Uint8Array.from(net.shops.map((s) => (s.status === 'pinned' ? 1 : 0)))
  const copies = new Int32Array(net.sets.length)
  let openCount = open.reduce((n, f) => n + f, 0)
  let best = coverer.evaluate(open, copies).cost

  /** Tries a flip of up to two shops; keeps it when it is cheaper. */
  const attempt = (change: () => void, revert: () => void): boolean => {
    change()
    const { cost } = coverer.evaluate(open, copies)
    if (cost < best - 1e-9) {
      best = cost
      return true
    }
    revert()
    return false
  }
  const flip = (s: number) => {
    openCount += open[s] === 1 ? -1 : 1
    open[s] = open[s] === 1 ? 0 : 1
  }
  const movable = (s: number) => net.shops[s]?.status !== 'pinned'

  // Greedy, lazily: gains shrink as shops are added, so an old gain is an upper estimate; only the most promising shop
  // is evaluated again, until it stays in front.
  const queue = Array.from({ length: shopCount }, (_, s) => ({ s, gain: Infinity })).filter(({ s }) => open[s] !== 1)
  while (openCount < cap && queue.length > 0 && !timeUp()) {
    const first = queue.pop()
    if (!first) break
    open[first.s] = 1
    const gain = best - coverer.evaluate(open, copies).cost
    open[first.s] = 0
    if (gain >= (queue.at(-1)?.gain ?? -Infinity)) {
      if (gain <= 1e-9) break
      flip(first.s)
      best -= gain
    } else {
      let at = queue.length
      while (at > 0 && (queue[at - 1]?.gain ?? 0) > gain) at--
      queue.splice(at, 0, { s: first.s, gain })
    }
  }
  onImproved({ open: open.slice(), copies: copies.slice(), cost: best })

  for (let improved = true; improved && !timeUp();) {
    improved = false
    for (let k = 0; k < copies.length; k++)
      for (const step of [1, -1]) {
        const next = (copies[k] ?? 0) + step
        if (next < 0 || next > (net.sets[k]?.maxCopies ?? 0)) continue
        const add = (by: number) => () => {
          copies[k] = (copies[k] ?? 0) + by
        }
        improved = attempt(add(step), add(-step)) || improved
      }
    for (let s = 0; s < shopCount; s++)
      if (movable(s) && (open[s] === 1 || openCount < cap)) {
        const toggle = () => {
          flip(s)
        }
        improved = attempt(toggle, toggle) || improved
      }
    for (let out = 0; out < shopCount && !timeUp(); out++) {
      if (open[out] !== 1 || !movable(out)) continue
      for (let into = 0; into < shopCount; into++) {
        if (open[into] === 1 || into === out) continue
        const swap = () => {
          flip(out)
          flip(into)
        }
        if (attempt(swap, swap)) {
          improved = true
          break
        }
      }
    }
    if (improved) onImproved({ open: open.slice(), copies: copies.slice(), cost: best })
  }
  return { open: open.slice(), copies: copies.slice(), cost: best }
}
