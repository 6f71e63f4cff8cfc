import { toast } from 'sonner'
import type { Change } from '../../storage/journal-entry.ts'
import type { Result } from '../../core/units/result.ts'
import { act, type StoreError } from '../../storage/journal.ts'
import { storeWorker } from '../../workers/store-client.ts'
import { db, nowIso } from './database.ts'

/** Up to so many records an act is written by the page itself, which is sooner; more go through the worker. */
const FEW = 300

/** Writes a named act, here or in the worker; says nothing. */
export function write(label: string, changes: readonly Change[]): Promise<Result<undefined, StoreError>> {
  const size = changes.reduce((n, c) => n + c.puts.length + c.deletes.length, 0)
  return size <= FEW ? act(db, label, changes, nowIso()) : storeWorker().call('act', label, changes, nowIso())
}

/** Performs a named act on the user's data and says so, with undo at hand; a failure is shown in words. */
export async function perform(
  label: string,
  changes: readonly Change[],
  options: { quiet?: boolean } = {},
): Promise<boolean> {
  const result = await write(label, changes)
  return performed(result.ok ? { ok: true, value: label } : result, options)
}

/** Says what became of a named act that was written elsewhere: its label, with undo at hand, or why it failed. */
export function performed(result: Result<string, StoreError>, options: { quiet?: boolean } = {}): boolean {
  if (!result.ok) {
    toast.error(result.error.message, { duration: 20_000 })
    return false
  }
  if (!options.quiet) toast.success(result.value, { action: { label: 'Undo', onClick: () => void undoLast() } })
  return true
}

export async function undoLast(): Promise<void> {
  const result = await storeWorker().call('undo')
  if (!result.ok) toast.error(result.error.message)
  else toast(result.value === undefined ? 'Nothing to undo' : `Undone: ${result.value}`)
}

export async function redoLast(): Promise<void> {
  const result = await storeWorker().call('redo')
  if (!result.ok) toast.error(result.error.message)
  else toast(result.value === undefined ? 'Nothing to redo' : `Done again: ${result.value}`)
}
