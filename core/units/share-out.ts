/**
 * Whole shares of a whole amount in proportion to weights, which add up to just the amount: Hamilton's method of the largest
 * remainder. Each gets its quota rounded down; what is left over goes, one unit each, to the largest remainders, to the
 * first of equal ones. Equal shares where nothing weighs anything. Weights are whole and not negative; an amount below
 * nothing is shared like its opposite.
 */
export function sharesOf(amount: number, weights: readonly number[]): number[] {
  if (weights.length === 0) return []
  if (amount < 0) return sharesOf(-amount, weights).map((share) => 0 - share)
  const all = weights.reduce((sum, w) => sum + BigInt(w), 0n)
  if (all === 0n)
    return sharesOf(
      amount,
      weights.map(() => 1),
    )
  const quotas = weights.map((w, i) => {
    const product = BigInt(amount) * BigInt(w)
    return { i, share: Number(product / all), rest: product % all }
  })
  let left = amount - quotas.reduce((sum, q) => sum + q.share, 0)
  const shares = quotas.map((q) => q.share)
  for (const { i } of [...quotas].sort((p, q) => (p.rest === q.rest ? p.i - q.i : p.rest > q.rest ? -1 : 1))) {
    if (left <= 0) break
    shares[i] = (shares[i] ?? 0) + 1
    left--
  }
  return shares
}
