import * as v from 'valibot'

/** The most pieces one record may speak of. */
export const MOST_PIECES = 1_000_000

/** Pieces: a positive integer, at most a million in one record. */
export const QtySchema = v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(MOST_PIECES))

/** So many of each item, in the order in which items first come; what is listed several times is added up. */
export function addUp<K>(list: readonly { readonly item: K; readonly qty: number }[]): { item: K; qty: number }[] {
  if (list.length === 1) return list.map(({ item, qty }) => ({ item, qty }))
  const sums = new Map<K, number>()
  for (const { item, qty } of list) sums.set(item, (sums.get(item) ?? 0) + qty)
  return [...sums].map(([item, qty]) => ({ item, qty }))
}
