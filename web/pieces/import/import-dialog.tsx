import { shopMoney } from '../../../core/offers/shop.ts'
import { FileUp } from 'lucide-react'
import { useEffect, useEffectEvent, useState } from 'react'
import { useDropzone } from 'react-dropzone'
import { toast } from 'sonner'
import { plural } from '../../../core/units/numbers.ts'
import { MAX_BYTES } from '../../../core/formats/delimited.ts'
import { searchKey } from '../../../core/colours/colour.ts'
import type { Field, ListKind } from '../../../core/formats/list-fields.ts'
import { headingFits } from '../../../core/formats/list-headings.ts'
import type { BuildId } from '../../../core/units/ids.ts'
import { listWorker } from '../../../workers/list-client.ts'
import type { ListPreview } from '../../../workers/list.worker.ts'
import { wordsOf } from '../../store/perform.ts'
import { useRecords } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'
import { Dialog } from '../../ui/dialog.tsx'
import { ImportPreview } from './import-preview.tsx'
import { recallWords, type LearntWords } from './learnt-words.ts'
import { destinationOf } from './destination.tsx'
import { awaitImport, forgetDropped, takeDropped, useDropped } from './dropped-files.ts'
import type { Loaded } from './loaded.ts'
import { recall } from './remembered-columns.ts'

const TITLES: Record<ListKind, { title: string; example: string }> = {
  donor: { title: 'Import a donor inventory', example: 'part;colour;quantity;stage\nplate 2x8;Soot;14;Walls' },
  shelf: { title: 'Import a shelf list', example: 'part,colour,quantity,place\nbrick 2x4,Chalk,~60,Drawer A1' },
  design: {
    title: 'Import a design parts list',
    example: 'part,colour,quantity,module\nslope 2x2 45°,Rowanberry,24,Roof',
  },
  offers: {
    title: 'Import an offers list',
    example: 'shop,part,colour,price,stock\nCorner shop,tile 1x4,Soot,0.08,40',
  },
}

/** Characters from which on what is pasted is read at once. */
const LONG_PASTE = 300_000

/** Paste, drop or choose a list; see what would come in; import it in one undoable act. */
export function ImportDialog({
  kind,
  build,
  open,
  onOpenChange,
}: {
  kind: ListKind
  build: BuildId | null
  open: boolean
  onOpenChange: (open: boolean) => void
}) {
  // What was read, or typed, waits until it is imported: leaving the dialog discards nothing.
  const [loaded, setLoaded] = useState<Loaded | null>(null)
  const [text, setText] = useState('')
  const waiting = useDropped()
  const more = waiting[0]?.kind === kind
  return (
    <Dialog
      open={open}
      onOpenChange={(next) => {
        if (!next && waiting.length > 0) {
          // Who closes the dialog is done with what waits for it, and is told.
          forgetDropped()
          toast(
            `${plural(waiting.length, 'more file was', 'more files were')} not read: drop ${waiting.length === 1 ? 'it' : 'them'} again.`,
          )
        }
        onOpenChange(next)
      }}
      wide
      title={TITLES[kind].title}
      description="Text with commas, semicolons or tabs, or an XLSX workbook; columns in any order. Nothing is written before you see it."
    >
      {loaded ? (
        <ImportPreview
          kind={kind}
          build={build}
          loaded={loaded}
          onRematch={(preview, words = loaded.words) => {
            setLoaded({ ...loaded, preview, words })
          }}
          onDraft={(draft) => {
            setLoaded({ ...loaded, ...draft })
          }}
          onBack={() => {
            setLoaded(null)
          }}
          onDone={() => {
            setLoaded(null)
            setText('')
            // Of several files the next one comes.
            if (!more) onOpenChange(false)
          }}
        />
      ) : (
        <ChooseSource kind={kind} build={build} text={text} onText={setText} onLoaded={setLoaded} />
      )}
    </Dialog>
  )
}

function ChooseSource({
  kind,
  build,
  text,
  onText: setText,
  onLoaded,
}: {
  kind: ListKind
  build: BuildId | null
  text: string
  onText: (text: string) => void
  onLoaded: (loaded: Loaded) => void
}) {
  const { allColours, builds, parts, partNameByCode, mergedParts, shops } = useRecords()
  const [problem, setProblem] = useState('')
  const [busy, setBusy] = useState(false)
  const currency = builds.find((b) => b.id === build)?.currency ?? 'EUR'
  const read = async (source: string | Uint8Array, name: string) => {
    setBusy(true)
    setProblem('')
    try {
      const words = await recallWords(kind)
      const context = {
        kind,
        colours: allColours,
        currency,
        shopMoney: shopMoney(shops, currency),
        codes: partNameByCode,
        sameAs: mergedParts,
        parts,
        ...words,
      }
      const preview = await listWorker().call('read', source, context)
      if (!preview.ok) {
        setProblem(preview.error.message)
        return
      }
      const remembered = await recall(preview.value, kind)
      onLoaded({
        preview: remembered
          ? await listWorker().call('rematch', { ...context, serial: preview.value.serial }, remembered)
          : preview.value,
        name,
        remembered: remembered !== undefined || byLearntHeadings(preview.value, words),
        words,
        choices: new Map(),
        same: new Map(),
        destination: destinationOf(kind, name),
      })
    } catch (error) {
      setProblem(`Reading failed: ${wordsOf(error)}. Try it again.`)
    } finally {
      setBusy(false)
    }
  }
  const readFile = async (file: File) => {
    // From now on, so that no other file is taken meanwhile.
    setBusy(true)
    await read(new Uint8Array(await file.arrayBuffer()), file.name.replace(/\.[^.]*$/, ''))
  }
  const [next] = useDropped()
  const readNext = useEffectEvent(() => {
    const file = takeDropped(kind)
    if (file) void readFile(file)
  })
  useEffect(() => {
    if (next?.kind === kind && !busy) void Promise.resolve().then(readNext)
  }, [next, kind, busy])
  const { getRootProps, getInputProps, open } = useDropzone({
    multiple: true,
    noClick: true,
    noKeyboard: true,
    maxSize: MAX_BYTES,
    onDrop: ([file, ...others], [rejected]) => {
      if (others.length > 0) awaitImport(others.map((f) => ({ file: f, kind })))
      if (file) void readFile(file)
      else if (rejected) setProblem('The file is larger than 25 MB. Split it into smaller files.')
    },
  })
  return (
    <div {...getRootProps()} className="flex min-h-0 flex-1 flex-col gap-3">
      <input {...getInputProps({ 'aria-label': 'List file' })} />
      <div className="flex items-center gap-3">
        <Button look="primary" onClick={open}>
          <FileUp size={16} aria-hidden="true" /> Choose files
        </Button>
        <span className="text-sm text-soft">or drop some anywhere, or paste the rows:</span>
      </div>
      <textarea
        aria-label="Rows"
        value={text}
        placeholder={TITLES[kind].example}
        spellCheck={false}
        className="min-h-40 flex-1 resize-none rounded-sm border border-rule bg-paper p-3 font-mono text-sm"
        onChange={(e) => {
          setText(e.target.value)
        }}
        onPaste={(e) => {
          const pasted = e.clipboardData.getData('text')
          if (pasted.length < LONG_PASTE) return
          // A field of megabytes would hold up the page: it is read as a file is.
          e.preventDefault()
          void read(pasted, '')
        }}
      />
      {problem && (
        <p role="alert" className="border-l-4 border-bad bg-bad-wash px-3 py-2 text-sm">
          {problem}
        </p>
      )}
      <div>
        <Button disabled={busy || text.trim() === ''} onClick={() => void read(text, '')}>
          {busy ? 'Reading…' : 'Read the rows'}
        </Button>
      </div>
    </div>
  )
}

/** Whether a column is known by what its heading meant in an earlier list alone. */
function byLearntHeadings(
  { match, sample }: Pick<ListPreview, 'match' | 'sample'>,
  { headings }: LearntWords,
): boolean {
  const head = sample.find((row) => row.kind === 'headings')?.cells ?? []
  return Object.entries(match.columns).some(([field, column]) => {
    const said = searchKey(head[column] ?? '')
    return headings.get(said) === field && headingFits(said, field as Field) === 0
  })
}
