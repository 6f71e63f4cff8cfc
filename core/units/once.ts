/**
 * A function that gives what another gave for the same value before: for work that few different values of many ask for.
 * What was given is kept as long as the function is.
 */
export function once<K, V>(make: (key: K) => V): (key: K) => V {
  const made = new Map<K, V>()
  return (key) => {
    const before = made.get(key)
    if (before !== undefined || made.has(key)) return before as V
    const now = make(key)
    made.set(key, now)
    return now
  }
}
