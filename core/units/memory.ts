/** What something is remembered for: values of one kind by what they were worked out from. */
export type Purpose<K extends WeakKey, V> = {
  readonly name: string
  /** Of no value: it tells the types. */
  readonly keeps?: (key: K) => V
}

export const purpose = <K extends WeakKey, V>(name: string): Purpose<K, V> => ({ name })

/**
 * What was worked out of values that never change; each is kept as long as the value it is of. Who counts again and again
 * owns one and hands it down; nothing is remembered between two of them.
 */
export class Memory {
  readonly #kept = new Map<unknown, WeakMap<WeakKey, unknown>>()

  /** What is remembered for a purpose. */
  for<K extends WeakKey, V>(purpose: Purpose<K, V>): WeakMap<K, V> {
    return this.#keptFor(purpose)
  }

  /** What a function makes of a value, made once. It must depend on the value alone. */
  of<K extends WeakKey, V>(make: (value: K) => V, value: K): V {
    const kept = this.#keptFor<K, { readonly made: V }>(make)
    const known = kept.get(value)
    if (known) return known.made
    const made = make(value)
    kept.set(value, { made })
    return made
  }

  #keptFor<K extends WeakKey, V>(key: unknown): WeakMap<K, V> {
    const known = this.#kept.get(key)
    if (known) return known as WeakMap<K, V>
    const made = new WeakMap<K, V>()
    this.#kept.set(key, made as WeakMap<WeakKey, unknown>)
    return made
  }
}
