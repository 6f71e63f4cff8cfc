/** What is done when a write that began while a field committed its text fails; none outside of a commit. */
let refused: (() => void) | undefined

/**
 * Runs what a field does with its text. A write that begins in it and fails tells the field, which then keeps the text:
 * what was typed is never lost to a full disk.
 */
export function committing<T>(onRefused: () => void, run: () => T): T {
  const outer = refused
  refused = onRefused
  try {
    return run()
  } finally {
    refused = outer
  }
}

/** To be asked when a write begins: whom to tell should it fail. */
export const refusalOfCommit = (): (() => void) | undefined => refused
