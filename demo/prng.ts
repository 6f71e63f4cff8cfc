/** A seeded stream of uniform numbers in [0, 1) (mulberry32), with the draws the generator needs. */
export class Prng {
  #state: number

  constructor(seed: number) {
    this.#state = seed >>> 0
  }

  next(): number {
    this.#state = (this.#state + 0x6d2b79f5) >>> 0
    let t = this.#state
    t = Math.imul(t ^ (t >>> 15), t | 1)
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61)
    return ((t ^ (t >>> 14)) >>> 0) / 2 ** 32
  }

  /** An integer from low to high, both included. */
  int(low: number, high: number): number {
    return low + Math.floor(this.next() * (high - low + 1))
  }

  pick<T>(choices: readonly [T, ...T[]]): T {
    return choices[this.int(0, choices.length - 1)] ?? choices[0]
  }

  chance(probability: number): boolean {
    return this.next() < probability
  }

  shuffle<T>(values: readonly T[]): T[] {
    const result = [...values]
    for (let i = result.length - 1; i > 0; i--) {
      const j = this.int(0, i)
      const [p, q] = [result[i], result[j]]
      if (p !== undefined && q !== undefined) [result[i], result[j]] = [q, p]
    }
    return result
  }
}
