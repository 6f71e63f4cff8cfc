import type { PresolvedProblem } from './presolve.ts'
import type { Coverer } from './greedy-cover.ts'

export type Choice = { readonly open: Uint8Array; readonly copies: Int32Array; readonly cost: number }

/** Donor copies that must be bought, and no more. */
export const fewestCopies = (net: PresolvedProblem): Int32Array => Int32Array.from(net.sets, (set) => set.minCopies)

/** A choice of shops and copies while it is being bettered. */
class Search {
  readonly #net: PresolvedProblem
  readonly #coverer: Coverer
  readonly #timeUp: () => boolean
  readonly #cap: number
  readonly #open: Uint8Array
  readonly #copies: Int32Array
  #openCount: number
  #best: number

  constructor(net: PresolvedProblem, coverer: Coverer, timeUp: () => boolean) {
    this.#net = net
    this.#coverer = coverer
    this.#timeUp = timeUp
    this.#cap = net.problem.maxShops ?? Infinity
    this.#open = Uint8Array.from(net.shops.map((s) => (s.status === 'pinned' ? 1 : 0)))
    this.#copies = fewestCopies(net)
    this.#openCount = this.#open.reduce((n, f) => n + f, 0)
    this.#best = coverer.evaluate(this.#open, this.#copies).cost
  }

  get choice(): Choice {
    return { open: this.#open.slice(), copies: this.#copies.slice(), cost: this.#best }
  }

  #flip(s: number): void {
    this.#openCount += this.#open[s] === 1 ? -1 : 1
    this.#open[s] = this.#open[s] === 1 ? 0 : 1
  }

  #movable(s: number): boolean {
    return this.#net.shops[s]?.status !== 'pinned'
  }

  /** Tries a change; keeps it when it is cheaper. */
  #attempt(change: () => void, revert: () => void): boolean {
    change()
    const { cost } = this.#coverer.evaluate(this.#open, this.#copies)
    if (cost < this.#best - 1e-9) {
      this.#best = cost
      return true
    }
    revert()
    return false
  }

  /**
   * Adds shops greedily and lazily: gains shrink as shops are added, so an old gain is an upper estimate; only the most
   * promising shop is evaluated again, until it stays in front.
   */
  addShops(): void {
    const queue = Array.from(this.#open, (isOpen, s) => ({ s, gain: Infinity, isOpen })).filter((q) => q.isOpen !== 1)
    while (this.#openCount < this.#cap && !this.#timeUp()) {
      const first = queue.pop()
      if (!first) break
      this.#open[first.s] = 1
      const gain = this.#best - this.#coverer.evaluate(this.#open, this.#copies).cost
      this.#open[first.s] = 0
      if (gain >= (queue.at(-1)?.gain ?? -Infinity)) {
        if (gain <= 1e-9) break
        this.#flip(first.s)
        this.#best -= gain
      } else {
        let at = queue.length
        while (at > 0 && (queue[at - 1]?.gain ?? 0) > gain) at--
        queue.splice(at, 0, { ...first, gain })
      }
    }
  }

  /** One sweep over all changes; whether any helped. */
  improve(): boolean {
    // All three, whatever the others brought.
    return [this.#changeCopies(), this.#toggleShops(), this.#swapShops()].some(Boolean)
  }

  #changeCopies(): boolean {
    const copies = this.#copies
    let improved = false
    for (let k = 0; k < copies.length; k++)
      for (const step of [1, -1]) {
        const next = (copies[k] ?? 0) + step
        if (next < (this.#net.sets[k]?.minCopies ?? 0) || next > (this.#net.sets[k]?.maxCopies ?? 0)) continue
        const add = (by: number) => () => {
          copies[k] = (copies[k] ?? 0) + by
        }
        improved = this.#attempt(add(step), add(-step)) || improved
      }
    return improved
  }

  #toggleShops(): boolean {
    let improved = false
    for (let s = 0; s < this.#open.length; s++) {
      if (!this.#movable(s) || (this.#open[s] !== 1 && this.#openCount >= this.#cap)) continue
      const toggle = () => {
        this.#flip(s)
      }
      improved = this.#attempt(toggle, toggle) || improved
    }
    return improved
  }

  #swapShops(): boolean {
    const open = this.#open
    let improved = false
    for (let out = 0; out < open.length && !this.#timeUp(); out++) {
      if (open[out] !== 1 || !this.#movable(out)) continue
      for (let into = 0; into < open.length; into++) {
        if (open[into] === 1 || into === out) continue
        const swap = () => {
          this.#flip(out)
          this.#flip(into)
        }
        if (this.#attempt(swap, swap)) {
          improved = true
          break
        }
      }
    }
    return improved
  }
}

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
  const search = new Search(net, coverer, timeUp)
  search.addShops()
  onImproved(search.choice)
  while (!timeUp() && search.improve()) onImproved(search.choice)
  return search.choice
}
