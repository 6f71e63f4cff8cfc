import { toast } from 'sonner'
import type { Change } from '../../storage/journal-entry.ts'
import { act, redo, undo } from '../../storage/journal.ts'
import { db, nowIso } from './database.ts'

/** Performs a named act on the user's data and says so, with undo at hand; a failure is shown in words. */
export async function perform(
  label: string,
  changes: readonly Change[],
  options: { quiet?: boolean } = {},
): Promise<boolean> {
  const result = await act(db, label, changes, nowIso())
  if (!result.ok) {
    toast.error(result.error.message, { duration: 20_000 })
    return false
  }
  if (!options.quiet) toast.success(label, { action: { label: 'Undo', onClick: () => void undoLast() } })
  return true
}

export async function undoLast(): Promise<void> {
  const result = await undo(db)
  if (!result.ok) toast.error(result.error.message)
  else toast(result.value === undefined ? 'Nothing to undo' : `Undone: ${result.value}`)
}

export async function redoLast(): Promise<void> {
  const result = await redo(db)
  if (!result.ok) toast.error(result.error.message)
  else toast(result.value === undefined ? 'Nothing to redo' : `Done again: ${result.value}`)
}
