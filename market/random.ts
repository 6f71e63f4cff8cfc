/** A number from 0 to 2³²−1 that depends on every word given (FNV-1a, then Murmur3's finaliser); the simulator's dice. */
export function hash(...words: readonly (string | number)[]): number {
  let h = 0x811c9dc5
  for (const word of words) {
    const text = `${word}\u0001`
    for (let i = 0; i < text.length; i++) h = Math.imul(h ^ text.charCodeAt(i), 0x01000193)
  }
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b)
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35)
  return (h ^ (h >>> 16)) >>> 0
}

/** Uniform in (0, 1), depending on every word. */
export const uniform = (...words: readonly (string | number)[]): number => (hash(...words) + 0.5) / 2 ** 32

/** Standard normal by the Box–Muller transform, depending on every word. */
export const normal = (...words: readonly (string | number)[]): number =>
  Math.sqrt(-2 * Math.log(uniform(...words, 'r'))) * Math.cos(2 * Math.PI * uniform(...words, 'a'))

export function pick<T>(choices: readonly [T, ...T[]], ...words: readonly (string | number)[]): T {
  return choices[hash(...words) % choices.length] ?? choices[0]
}
