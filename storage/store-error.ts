import Dexie from 'dexie'
import { fail, ok, type Result } from '../core/units/result.ts'

/** Why an act was not done. Nothing of it is written, whatever the code. */
export type StoreError = {
  /**
   * `quota` no room; `blocked` the database is closed, newer or held by another tab; `gone` what it changes is not there;
   * `unfit` a value is out of bounds; `foreign` it would undo what was not asked for; `failed` the browser failed.
   */
  readonly code: 'quota' | 'blocked' | 'gone' | 'unfit' | 'foreign' | 'failed'
  readonly message: string
  /** Of `foreign`: the act that was not undone, which may be asked for by itself. */
  readonly entry?: number
}

/** An act cannot be done as asked; nothing of it is written. */
export class Refusal extends Error {
  readonly error: StoreError
  constructor(error: StoreError) {
    super(error.message)
    this.error = error
  }
}

/** Names that Dexie gives to what IndexedDB and the browser report, beside its own. */
const STORAGE_NAMES: ReadonlySet<string> = new Set([
  ...Object.values(Dexie.errnames),
  'UnknownError',
  'AbortError',
  'InvalidStateError',
  'NotFoundError',
  'SecurityError',
  'NotAllowedError',
  'TimeoutError',
  'ConstraintError',
  'ReadOnlyError',
  'TransactionInactiveError',
  'OperationError',
  'NotReadableError',
])
/** Faults of ours that only look like the storage's. */
const OURS: ReadonlySet<string> = new Set([
  'DataCloneError',
  'DataError',
  'SchemaError',
  'InvalidTableError',
  'InvalidArgumentError',
])

/** Turns the storage failures a user can meet into data; anything else is a bug and passes through. */
export async function guarded<T>(work: () => Promise<T>): Promise<Result<T, StoreError>> {
  try {
    return ok(await work())
  } catch (error) {
    const refusal = error instanceof Refusal ? error : (error as { inner?: unknown } | null)?.inner
    if (refusal instanceof Refusal) return fail(refusal.error)
    const known = storageFailure(error)
    if (known) return fail(known)
    throw error
  }
}

/** A failure of the browser's storage in words, with a way on; undefined for anything else. */
export function storageFailure(error: unknown): StoreError | undefined {
  const named = namesOf(error)
  const names = named.map(({ name }) => name)
  if (names.includes('QuotaExceededError'))
    return {
      code: 'quota',
      message:
        'The browser has no room left for this. Nothing was changed. Free disk space, or export and remove old builds.',
    }
  if (names.includes('DatabaseClosedError') || names.includes('VersionError'))
    return {
      code: 'blocked',
      message: 'The data was upgraded or closed in another tab. Nothing was changed. Reload this page.',
    }
  const found = named.find(({ name }) => STORAGE_NAMES.has(name) && !OURS.has(name))
  if (!found) return undefined
  const [line = ''] = found.message.split('\n')
  const said = line
    .replace(/\s+/g, ' ')
    .replace(/[.\s]+$/, '')
    .slice(0, 200)
  return {
    code: 'failed',
    message: `The browser could not write this (${found.name}${said === '' || said === found.name ? '' : `: ${said}`}). Nothing was changed. Try again; if it stays so, export everything on the Data screen and reload.`,
  }
}

/** The names of an error and of what is inside it, outermost first. */
function namesOf(error: unknown): { name: string; message: string }[] {
  const names: { name: string; message: string }[] = []
  for (
    let e = error;
    (e instanceof Error || e instanceof DOMException) && names.length < 10;
    e = (e as { inner?: unknown }).inner
  )
    names.push({ name: e.name, message: e.message })
  return names
}
