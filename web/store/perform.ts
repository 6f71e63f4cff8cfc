import { toast } from 'sonner'
import type { Change } from '../../storage/journal-entry.ts'
import { fail, type Result } from '../../core/units/result.ts'
import { act, type Stepped, type StepOptions } from '../../storage/journal.ts'
import { storageFailure, type StoreError } from '../../storage/store-error.ts'
import { storeWorker } from '../../workers/store-client.ts'
import { refusalOfCommit } from '../ui/commit-scope.ts'
import { db, nowIso } from './database.ts'
import { caughtUp } from './records.tsx'
import { thisTab } from './tab.ts'

/** Up to so many records an act is written by the page itself, which is sooner; more go through the worker. */
const FEW = 300

const sizeOf = ({ puts, deletes, shelf }: Change): number =>
  puts.length +
  deletes.length +
  (shelf === undefined
    ? 0
    : (shelf.do === 'add' ? shelf.lots : shelf.do === 'count' ? shelf.counts : shelf.takes).length)

/** Writes a named act, here or in the worker, and gives its place in the history; says nothing. Never rejects. */
export async function write(
  label: string,
  changes: readonly Change[],
): Promise<Result<number | undefined, StoreError>> {
  const size = changes.reduce((n, c) => n + sizeOf(c), 0)
  try {
    const by = await thisTab()
    if (size <= FEW) return await act(db, label, changes, nowIso(), { by })
    const result = await storeWorker().call('act', label, changes, nowIso(), by)
    if (result.ok) await caughtUp()
    return result
  } catch (error) {
    return fail(
      storageFailure(error) ?? {
        code: 'failed',
        message: `Not written: ${wordsOf(error)}. Nothing was changed; try again.`,
      },
    )
  }
}

/** What an error says, without its end and not for ever. */
export const wordsOf = (error: unknown): string =>
  (error instanceof Error ? error.message : String(error)).replace(/[.\s]+$/, '').slice(0, 300) || 'unknown reason'

/** Performs a named act on the user's data and says so, with undo at hand; a failure is shown in words. */
export async function perform(
  label: string,
  changes: readonly Change[],
  options: { quiet?: boolean } = {},
): Promise<boolean> {
  const tellField = refusalOfCommit()
  const done = performed(label, await write(label, changes), options)
  if (!done) tellField?.()
  return done
}

/** Says what became of a named act: its label, with the undo of just that act at hand, or why it failed. */
export function performed(
  label: string,
  result: Result<number | undefined, StoreError>,
  options: { quiet?: boolean } = {},
): boolean {
  if (!result.ok) {
    toast.error(result.error.message, { duration: 20_000 })
    return false
  }
  const entry = result.value
  if (!options.quiet)
    toast.success(label, entry === undefined ? {} : { action: { label: 'Undo', onClick: () => void undoThis(entry) } })
  return true
}

type Ask = (options: StepOptions) => Promise<Result<Stepped, StoreError>>

/** Asks the worker for a step in the history, and says what came of it. A worker that fails is an error in words. */
async function stepped(ask: Ask, options: StepOptions, done: string, none: string): Promise<void> {
  let result: Result<Stepped, StoreError>
  try {
    result = await ask(options)
    if (result.ok && result.value) await caughtUp()
  } catch (error) {
    toast.error(`That failed: ${wordsOf(error)}. Nothing was changed; try again.`)
    return
  }
  if (result.ok) toast(result.value === undefined ? none : `${done}: ${result.value.label}`)
  else if (result.error.code === 'foreign' && result.error.entry !== undefined) {
    const only = result.error.entry
    toast(result.error.message, {
      duration: 20_000,
      action: {
        label: done === 'Undone' ? 'Undo it' : 'Do it again',
        onClick: () => void stepped(ask, { only }, done, none),
      },
    })
  } else toast.error(result.error.message, { duration: 20_000 })
}

/** Undoes one act by its place in the history, or says why not. */
const undoThis = (entry: number): Promise<void> =>
  stepped(async () => storeWorker().call('undoAct', entry, nowIso(), await thisTab()), {}, 'Undone', 'Nothing to undo')

/** Undoes the last act of this tab; asks before it takes back what another tab or an earlier visit did. */
export const undoLast = async (): Promise<void> =>
  stepped((options) => storeWorker().call('undo', options), { by: await thisTab() }, 'Undone', 'Nothing to undo')

export const redoLast = async (): Promise<void> =>
  stepped((options) => storeWorker().call('redo', options), { by: await thisTab() }, 'Done again', 'Nothing to redo')
