/** An expected outcome that may fail; failures are data with a reason code, never exceptions. */
export type Result<T, E> = { readonly ok: true; readonly value: T } | { readonly ok: false; readonly error: E }

export const ok = <T>(value: T): Result<T, never> => ({ ok: true, value })
export const fail = <E>(error: E): Result<never, E> => ({ ok: false, error })

/** Why something failed: a code for who decides by it, and words for who reads them, with the remedy. */
export type Fault<C extends string = string> = { readonly code: C; readonly message: string }

export const refuse = <C extends string>(code: C, message: string): Result<never, Fault<C>> => fail({ code, message })
