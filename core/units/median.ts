/** The lower median of integers; undefined of none. */
export function lowerMedian(values: readonly number[]): number | undefined {
  const sorted = [...values].sort((p, q) => p - q)
  return sorted[Math.floor((sorted.length - 1) / 2)]
}
