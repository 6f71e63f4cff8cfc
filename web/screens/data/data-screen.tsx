import { dayOf, minuteOf } from '../../../core/units/instants.ts'
import { Download, FileUp, Redo2, Undo2 } from 'lucide-react'
import { useEffect, useEffectEvent, useRef, useState, useSyncExternalStore } from 'react'
import { toast } from 'sonner'
import { RECORD_KINDS, type RecordKind } from '../../../core/records/registry.ts'
import { MAX_JOB_BYTES } from '../../../core/formats/job-file.ts'
import type { ListKind } from '../../../core/formats/list-fields.ts'
import { countRecords } from '../../../storage/job.ts'
import type { Damaged } from '../../../storage/workspace.ts'
import { remove } from '../../../storage/journal.ts'
import { storeWorker } from '../../../workers/store-client.ts'
import type { JobPreview } from '../../../workers/store.worker.ts'
import { useBackup } from '../../store/backup.ts'
import { db, nowIso } from '../../store/database.ts'
import { loadDemo } from '../../store/demo.ts'
import { perform, performed, redoLast, undoLast, wordsOf } from '../../store/perform.ts'
import { thisTab } from '../../store/tab.ts'
import { saveJobFile } from '../../store/save-job-file.ts'
import { caughtUp, useRecords } from '../../store/records.tsx'
import { useStored } from '../../store/stored.ts'
import { takeDropped, useDropped } from '../../pieces/import/dropped-files.ts'
import { ImportDialog } from '../../pieces/import/import-dialog.tsx'
import { PracticeFiles } from '../../pieces/practice-files.tsx'
import { Button } from '../../ui/button.tsx'
import { Dialog } from '../../ui/dialog.tsx'
import { plural } from '../../../core/units/numbers.ts'
import { Figure, Screen } from '../../ui/screen.tsx'

const KIND_LABELS: Record<RecordKind, string> = {
  parts: 'parts',
  colours: 'colours',
  sets: 'donor sets',
  copies: 'copies',
  places: 'places',
  holdings: 'holdings',
  builds: 'builds',
  designs: 'designs',
  shops: 'shops',
  offers: 'offers',
  plans: 'purchase plans',
  versions: 'design versions',
  pictures: 'pictures',
  decisions: 'decisions by hand',
  scenarios: 'scenarios',
  orders: 'orders',
  units: 'repeats being built',
  makings: 'notes on making',
  entries: 'ledger entries',
  sales: 'sales',
  notes: 'notes of logs',
}

/** Whether this browser keeps the app itself. */
function Offline() {
  const kept = useSyncExternalStore(watchController, () => navigator.serviceWorker?.controller != null)
  return (
    <section>
      <h2 className="text-base font-semibold">Without a network</h2>
      <p className="text-sm text-soft">
        {kept
          ? 'This browser keeps the whole app: it opens and works without a network. Only asking the market needs one. The browser’s own menu installs it like a program.'
          : 'Once this page has been open for a moment over a secure connection, the browser keeps the whole app, and it opens without a network from the next time on.'}
      </p>
    </section>
  )
}

function watchController(changed: () => void) {
  const container = navigator.serviceWorker as ServiceWorkerContainer | undefined
  container?.addEventListener('controllerchange', changed)
  return () => {
    container?.removeEventListener('controllerchange', changed)
  }
}

export function DataScreen() {
  const records = useRecords()
  const { builds, holdings, sets } = records
  const backup = useBackup()
  const [kind, setKind] = useState<ListKind | null>(null)
  const [restoring, setRestoring] = useState<JobPreview | null>(null)
  const [reading, setReading] = useState(false)
  const [problem, setProblem] = useState('')
  const file = useRef<HTMLInputElement>(null)
  const save = async () => {
    try {
      const damaged = await saveJobFile()
      if (damaged > 0)
        toast(
          `Exported; ${plural(damaged, 'record')} that ${damaged === 1 ? 'does' : 'do'} not fit ${damaged === 1 ? 'is' : 'are'} set aside in it.`,
        )
    } catch (error) {
      toast.error(`Not exported: ${wordsOf(error)}. Try again.`)
    }
  }
  const choose = async (chosen: File | undefined) => {
    setProblem('')
    if (!chosen) return
    if (chosen.size > MAX_JOB_BYTES) {
      setProblem(`The file is larger than ${MAX_JOB_BYTES / 1024 / 1024} MB, more than a job file can be.`)
      return
    }
    setReading(true)
    try {
      const read = await storeWorker().call('read', chosen)
      if (read.ok) setRestoring(read.value)
      else setProblem(read.error.message)
    } catch (error) {
      setProblem(`The file could not be read: ${wordsOf(error)}. Try again.`)
    } finally {
      setReading(false)
    }
    if (file.current) file.current.value = ''
  }
  const [next] = useDropped()
  const restoreNext = useEffectEvent(() => {
    const dropped = takeDropped('job')
    if (dropped) void choose(dropped)
  })
  useEffect(() => {
    if (next?.kind === 'job' && restoring === null) void Promise.resolve().then(restoreNext)
  }, [next, restoring])
  return (
    <Screen
      title="Data"
      headline={
        <>
          <Figure>{plural(builds.length, 'build')}</Figure>, {plural(sets.length, 'donor set')} and{' '}
          {plural(holdings.length, 'holding')} live in this browser
          {backup?.exported === undefined ? (
            <>, and nowhere else yet: export a backup.</>
          ) : (
            <>
              ; last exported {dayOf(backup.exported)}
              {backup.acts > 0 && `, ${plural(backup.acts, 'change')} ago`}.
            </>
          )}
        </>
      }
      actions={
        <Button look="primary" onClick={() => void save()}>
          <Download size={16} aria-hidden="true" /> Export everything
        </Button>
      }
    >
      <div className="grid min-h-0 flex-1 grid-cols-2 gap-10 overflow-auto max-[960px]:grid-cols-1">
        <div className="flex flex-col gap-6">
          {records.damaged.length > 0 && <SetAside damaged={records.damaged} />}
          <section>
            <h2 className="text-base font-semibold">Restore a job file</h2>
            <p className="mb-2 text-sm text-soft">
              You see what it replaces before anything changes, and can undo it after.
            </p>
            <input
              ref={file}
              type="file"
              accept=".json,application/json"
              aria-label="Job file"
              hidden
              onChange={(e) => void choose(e.target.files?.[0])}
            />
            <Button disabled={reading} onClick={() => file.current?.click()}>
              <FileUp size={14} aria-hidden="true" /> {reading ? 'Reading…' : 'Choose a job file'}
            </Button>
            {problem && (
              <p role="alert" className="mt-2 border-l-4 border-bad bg-bad-wash px-3 py-2 text-sm">
                {problem}
              </p>
            )}
          </section>
          <Offline />
          <section>
            <h2 className="text-base font-semibold">Import a list</h2>
            <p className="mb-2 text-sm text-soft">A design is imported inside its build.</p>
            <div className="flex flex-wrap gap-2">
              {(
                [
                  ['donor', 'Donor inventory'],
                  ['shelf', 'Shelf list'],
                  ['offers', 'Offers'],
                ] as const
              ).map(([value, label]) => (
                <Button
                  key={value}
                  onClick={() => {
                    setKind(value)
                  }}
                >
                  <FileUp size={14} aria-hidden="true" /> {label}
                </Button>
              ))}
            </div>
            <PracticeFiles />
          </section>
          <section>
            <h2 className="text-base font-semibold">Demo</h2>
            <p className="mb-2 text-sm text-soft">
              A mountain observatory with a funicular station, with invented sets, shelf and shops. It comes beside your
              data.
            </p>
            <Button onClick={() => void loadDemo(records)}>Load the demo</Button>
          </section>
        </div>
        <History />
      </div>
      <ImportDialog
        kind={kind ?? 'shelf'}
        build={null}
        open={kind !== null}
        onOpenChange={(open) => {
          if (!open) setKind(null)
        }}
      />
      {restoring && (
        <RestorePreview
          job={restoring}
          onClose={() => {
            setRestoring(null)
          }}
        />
      )}
    </Screen>
  )
}

/** What was done, the latest first, with the way back and forth. */
function History() {
  const history = useStored(() => db.journal.reverse().limit(60).toArray(), [], [])
  return (
    <section className="flex min-h-0 flex-col">
      <div className="mb-2 flex items-center justify-between gap-3">
        <h2 className="text-base font-semibold">History</h2>
        <span className="flex flex-wrap gap-2">
          <Button onClick={() => void undoLast()}>
            <Undo2 size={14} aria-hidden="true" /> Undo
          </Button>
          <Button onClick={() => void redoLast()}>
            <Redo2 size={14} aria-hidden="true" /> Redo
          </Button>
        </span>
      </div>
      {history.length === 0 && <p className="text-sm text-soft">Nothing has been done yet.</p>}
      <ol className="text-sm">
        {history.map((entry) => (
          <li
            key={entry.id}
            className={`flex justify-between gap-4 border-b border-hair py-1 ${entry.done ? '' : 'text-soft line-through'}`}
          >
            <span>{entry.label}</span>
            <time className="shrink-0 text-soft" dateTime={entry.at}>
              {minuteOf(entry.at)}
            </time>
          </li>
        ))}
      </ol>
    </section>
  )
}

function RestorePreview({ job, onClose }: { job: JobPreview; onClose: () => void }) {
  const present = useStored(() => countRecords(db), [], undefined)
  const [busy, setBusy] = useState(false)
  const restore = async () => {
    setBusy(true)
    try {
      const result = await storeWorker().call('restore', job.reading, nowIso(), await thisTab())
      if (result.ok) await caughtUp()
      if (performed('Restored', result)) onClose()
    } catch (error) {
      toast.error(`Not restored: ${wordsOf(error)}. Nothing was changed; choose the file again.`, { duration: 20_000 })
      onClose()
    } finally {
      setBusy(false)
    }
  }
  return (
    <Dialog
      open
      onOpenChange={onClose}
      title={`Job file of ${minuteOf(job.savedAt)}`}
      description="Restoring replaces everything that is here. It can be undone."
    >
      <table className="w-full text-sm">
        <thead>
          <tr className="border-b border-ink text-left text-xs text-soft">
            <th className="py-1 font-semibold">Records</th>
            <th className="text-right font-semibold">Here now</th>
            <th className="text-right font-semibold">In the file</th>
          </tr>
        </thead>
        <tbody>
          {RECORD_KINDS.map((kind) => (
            <tr key={kind} className="border-b border-hair">
              <th scope="row" className="py-1 text-left font-normal">
                {KIND_LABELS[kind]}
              </th>
              <td className="text-right">{present?.[kind] ?? '…'}</td>
              <td className="text-right font-semibold">{job.counts[kind]}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {job.setAside > 0 && (
        <p className="text-sm text-warn">
          {plural(job.setAside, 'record')} in it do not fit: they come in set aside, as they are, and count nowhere.
        </p>
      )}
      <div className="flex flex-wrap gap-2">
        <Button look="primary" disabled={busy} onClick={() => void restore()}>
          {busy ? 'Restoring…' : 'Replace everything'}
        </Button>
        <Button onClick={onClose}>Keep what is here</Button>
      </div>
    </Dialog>
  )
}

/** Stored records that do not fit: named, in no count, in every export; they can be taken away (undo brings them back). */
function SetAside({ damaged }: { damaged: readonly Damaged[] }) {
  return (
    <section aria-label="Records set aside" className="border-l-4 border-bad bg-bad-wash px-3 py-2">
      <h2 className="text-base font-semibold">
        {plural(damaged.length, 'stored record')} {damaged.length === 1 ? 'does' : 'do'} not fit and{' '}
        {damaged.length === 1 ? 'is' : 'are'} set aside
      </h2>
      <p className="text-sm">
        {damaged.length === 1 ? 'It is' : 'They are'} left out of every count and kept as{' '}
        {damaged.length === 1 ? 'it is' : 'they are'}; an export holds {damaged.length === 1 ? 'it' : 'them'} too.
      </p>
      <ul className="mt-1 divide-y divide-hair text-sm">
        {damaged.slice(0, 50).map(({ kind, id, why }) => (
          <li key={`${kind} ${id}`} className="flex items-center justify-between gap-3 py-1">
            <span className="min-w-0 wrap-anywhere">
              One of the {KIND_LABELS[kind]}, {id.slice(0, 80)}: {why.slice(0, 200)}
            </span>
            <Button
              className="px-2"
              aria-label={`Remove ${id.slice(0, 80)}`}
              onClick={() =>
                void perform(`Removed a record of the ${KIND_LABELS[kind]} that did not fit`, [remove(kind, [id])])
              }
            >
              Remove
            </Button>
          </li>
        ))}
      </ul>
    </section>
  )
}
