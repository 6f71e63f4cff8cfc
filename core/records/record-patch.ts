/** How a list became another: so many taken out at a place, these put in there; all else is as it was. */
export type Patch<T> = { readonly at: number; readonly removed: number; readonly added: readonly T[] }

/** The smallest single splice between two lists, by identity; linear. */
export function patchBetween<T>(before: readonly T[], after: readonly T[]): Patch<T> {
  const most = Math.min(before.length, after.length)
  let at = 0
  while (at < most && before[at] === after[at]) at++
  let end = 0
  while (end < most - at && before[before.length - 1 - end] === after[after.length - 1 - end]) end++
  return { at, removed: before.length - at - end, added: after.slice(at, after.length - end) }
}

/** The list after a patch; a new list. */
export const patched = <T>(before: readonly T[], { at, removed, added }: Patch<T>): readonly T[] => [
  ...before.slice(0, at),
  ...added,
  ...before.slice(at + removed),
]
