import { useCallback, useEffect, useState } from 'react'
import { useLocation, useNavigate } from 'react-router'
import { toast } from 'sonner'
import { MAX_BYTES } from '../../core/formats/delimited.ts'
import type { ListKind } from '../../core/formats/list-fields.ts'
import type { BuildId } from '../../core/units/ids.ts'
import { plural } from '../../core/units/numbers.ts'
import { listWorker } from '../../workers/list-client.ts'
import { awaitImport, forgetDropped, useDropped, type DroppedFile } from '../pieces/import/dropped-files.ts'
import { wordsOf } from '../store/perform.ts'
import { Button } from '../ui/button.tsx'
import { Dialog } from '../ui/dialog.tsx'
import { DO } from '../ui/use-act-from-address.ts'

const KINDS: readonly { readonly kind: ListKind; readonly label: string }[] = [
  { kind: 'donor', label: 'What a donor set holds' },
  { kind: 'shelf', label: 'What lies on the shelf' },
  { kind: 'design', label: 'What the design needs' },
  { kind: 'offers', label: 'What shops offer' },
]

/** The screen that imports a kind of file; none for a design without a build. */
function importerOf(kind: DroppedFile['kind'], build: BuildId | undefined): string | undefined {
  const base = build === undefined ? undefined : `/build/${encodeURIComponent(build)}`
  switch (kind) {
    case 'job':
      return '/data'
    case 'shelf':
      return '/shelf'
    case 'donor':
      return base === undefined ? '/catalogue' : `${base}/donors`
    case 'offers':
      return base === undefined ? '/shops' : `${base}/buy`
    case 'design':
      return base && `${base}/design`
  }
}

/** The kind of list that the screen at hand imports itself. */
const kindOfScreen = (path: string): ListKind | undefined =>
  /\/donors$|^\/catalogue/.test(path)
    ? 'donor'
    : /^\/shelf/.test(path)
      ? 'shelf'
      : /\/design$/.test(path)
        ? 'design'
        : /\/buy$|^\/shops/.test(path)
          ? 'offers'
          : undefined

/** Opens the import for files as they were dropped, one after the other; asks where a file does not say what it is. */
export function DropAnywhere({
  files,
  build,
  onTaken,
}: {
  files: readonly File[]
  build: BuildId | undefined
  onTaken: () => void
}) {
  const { pathname } = useLocation()
  const navigate = useNavigate()
  const waiting = useDropped()
  const [unknown, setUnknown] = useState<readonly File[]>([])
  const here = kindOfScreen(pathname)
  const take = useCallback(
    (file: File, kind: DroppedFile['kind']) => {
      if (importerOf(kind, build) === undefined)
        toast.error(`${file.name} is a design: open the build that it is for, and drop it again.`)
      else awaitImport([{ file, kind }])
    },
    [build],
  )
  useEffect(() => {
    if (files.length === 0) return
    onTaken()
    const sort = async () => {
      for (const file of files) {
        if (/\.json$/i.test(file.name)) take(file, 'job')
        else if (file.size > MAX_BYTES) toast.error(`${file.name} is larger than 25 MB. Split it into smaller files.`)
        else {
          const kind = await listWorker().call('guess', new Uint8Array(await file.arrayBuffer()))
          const meant = kind ?? here
          if (meant) take(file, meant)
          else setUnknown((list) => [...list, file])
        }
      }
    }
    sort().catch((error: unknown) => {
      toast.error(`The file could not be read: ${wordsOf(error)}. Drop it again.`)
    })
  }, [files, here, onTaken, take])
  useEffect(() => {
    const [next] = waiting
    if (!next) return undefined
    const to = importerOf(next.kind, build)
    const go = (): boolean => {
      // A dialog that is open takes the next itself, or closes first.
      if (to === undefined || document.querySelector('[role="dialog"]')) return false
      void navigate(next.kind === 'job' ? to : `${to}?${DO}=import`)
      return true
    }
    if (go()) return undefined
    const timer = setInterval(() => {
      if (go()) clearInterval(timer)
    }, 200)
    return () => {
      clearInterval(timer)
    }
  }, [waiting, build, navigate])
  const [asked] = unknown
  return (
    <Dialog
      open={asked !== undefined}
      onOpenChange={() => {
        setUnknown([])
        forgetDropped()
      }}
      title={`What is in ${asked?.name ?? 'the file'}?`}
      description={
        unknown.length > 1
          ? `Its headings do not say. ${plural(unknown.length - 1, 'more file')} after this.`
          : 'Its headings do not say.'
      }
    >
      <div className="flex flex-col items-start gap-2">
        {KINDS.filter(({ kind }) => importerOf(kind, build) !== undefined).map(({ kind, label }) => (
          <Button
            key={kind}
            onClick={() => {
              setUnknown((list) => list.slice(1))
              // The dialog is gone when the import opens.
              if (asked)
                setTimeout(() => {
                  take(asked, kind)
                }, 0)
            }}
          >
            {label}
          </Button>
        ))}
      </div>
    </Dialog>
  )
}
