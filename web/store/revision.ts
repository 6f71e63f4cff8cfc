const numbers = new WeakMap<object, number>()
let last = 0

/** A number for each value of records, for keys of queries: values that never change are told apart by being another. */
export function revisionOf(value: object): number {
  const known = numbers.get(value)
  if (known !== undefined) return known
  numbers.set(value, ++last)
  return last
}
