import { FileCode, FileSpreadsheet, FileText } from 'lucide-react'
import { useMemo, useState } from 'react'
import { designPart } from '../../../core/formats/design-part.ts'
import { jobFileText } from '../../../core/formats/job-file.ts'
import { sheetCsv } from '../../../core/formats/sheet-csv.ts'
import { buildSheet } from '../../../core/settling/build-sheet.ts'
import { idText } from '../../../core/units/ids.ts'
import { dayOf } from '../../../core/units/instants.ts'
import { OFFERS_FETCHED } from '../../../storage/database.ts'
import { add, edit } from '../../../storage/journal.ts'
import { AddPicture } from '../../pieces/add-picture.tsx'
import { db, nowIso } from '../../store/database.ts'
import { download, downloadBlob } from '../../store/download.ts'
import { useLooseMarket } from '../../store/ledger.ts'
import { perform } from '../../store/perform.ts'
import { useRecords } from '../../store/records.tsx'
import { useStored } from '../../store/stored.ts'
import { Button } from '../../ui/button.tsx'
import { Tick } from '../../ui/fields.tsx'
import { PrintButton } from '../../ui/print-button.tsx'
import './build-sheet.css'
import type { LedgerView } from './ledger-view.ts'
import { SheetDocument, type SheetContent } from './sheet-document.tsx'

/** How another builder could build it: as it will be read, and as files. */
export function SheetView({ tally, settlement, today }: LedgerView) {
  const records = useRecords()
  const { snapshot, result } = tally
  const { build, design } = tally.now
  const { pictures: all, units: allUnits, parts, colours, nameItem } = records
  const market = useLooseMarket(build)
  const fetched = useStored(() => db.settings.get(OFFERS_FETCHED), [], undefined)
  // Offers of a file have no day.
  const ofMarket = useMemo(() => records.offers.every((o) => o.source === 'market'), [records.offers])
  const [asked, setAsked] = useState({ notes: false, paid: false, photos: true })
  const units = useMemo(() => allUnits.filter((u) => u.build === build.id), [allUnits, build.id])
  const sheet = useMemo(
    () =>
      buildSheet({
        provenance: snapshot.build.provenance,
        design: snapshot.design,
        lines: result.lines,
        copies: snapshot.copies.filter((c) => c.buildId === build.id),
        ...{ sets: snapshot.sets, parts: snapshot.parts, units },
        ...market,
      }),
    [snapshot, result, build.id, units, market],
  )
  const pictures = useMemo(() => new Map(all.map((p) => [p.id as string, p])), [all])
  const photo = (id: string | undefined) => (id !== undefined && asked.photos ? pictures.get(id) : undefined)
  const content: SheetContent = {
    ...{ title: build.name, sheet, currency: build.currency, made: today, nameItem, within: true },
    pricesOf: fetched && ofMarket ? dayOf(fetched.value) : undefined,
    note: asked.notes ? build.note : undefined,
    moduleNotes: asked.notes,
    paid: asked.paid ? { soFar: settlement.completion.soFar, total: settlement.completion.total } : undefined,
    before: photo(build.before),
    after: photo(build.after),
    pictures: asked.photos ? pictures : NO_PICTURES,
  }
  const name = `${idText(build.name)}-build-sheet`
  return (
    <div className="flex min-h-0 flex-1 flex-col gap-3">
      <div className="no-print flex flex-wrap items-center gap-x-4 gap-y-2 text-sm">
        <Button
          look="primary"
          disabled={tally.stale}
          onClick={() =>
            void import('./sheet-file.tsx').then(({ sheetFile }) => {
              download(`${name}.html`, sheetFile({ ...content, within: false }), 'text/html')
            })
          }
        >
          <FileText size={14} aria-hidden="true" /> As a page
        </Button>
        <Button
          disabled={tally.stale}
          onClick={() => {
            download(`${name}.csv`, sheetCsv(sheet, nameItem), 'text/csv')
          }}
        >
          <FileSpreadsheet size={14} aria-hidden="true" /> Parts as CSV
        </Button>
        <Button
          onClick={() => {
            const file = designPart(build, design, { parts, colours, sets: records.sets }, nowIso())
            downloadBlob(
              `${idText(build.name)}-design.json`,
              new Blob([...jobFileText(file)], { type: 'application/json' }),
            )
          }}
        >
          <FileCode size={14} aria-hidden="true" /> The design as a job file
        </Button>
        <PrintButton />
        <Choices asked={asked} onChange={setAsked} />
        <BeforeAfter tally={tally} />
      </div>
      <p className="no-print text-sm text-soft">
        {sheet.withheld.length > 0
          ? `${sheet.withheld.join(', ')}: left out of all three files, as the licence forbids to share. `
          : ''}
        In the files: nothing of your shelf, your orders or yourself; notes and what you paid only where ticked.
      </p>
      <div
        role="region"
        aria-label="As it will be read"
        // Whoever has no mouse scrolls it by keys.
        // eslint-disable-next-line jsx-a11y/no-noninteractive-tabindex
        tabIndex={0}
        className="min-h-0 flex-1 overflow-auto border border-rule"
      >
        <SheetDocument {...content} />
      </div>
    </div>
  )
}

const NO_PICTURES: SheetContent['pictures'] = new Map()

type Asked = { readonly notes: boolean; readonly paid: boolean; readonly photos: boolean }

function Choices({ asked, onChange }: { asked: Asked; onChange: (asked: Asked) => void }) {
  const ticks = [
    ['photos', 'Pictures'],
    ['notes', 'My notes'],
    ['paid', 'What I paid'],
  ] as const
  return ticks.map(([key, label]) => (
    <Tick
      key={key}
      checked={asked[key]}
      onChange={(checked) => {
        onChange({ ...asked, [key]: checked })
      }}
    >
      {label}
    </Tick>
  ))
}

/** Pictures of the model before and after. */
function BeforeAfter({ tally }: Pick<LedgerView, 'tally'>) {
  const { build } = tally.now
  return (['before', 'after'] as const).map((when) => (
    <AddPicture
      key={when}
      label={`Picture ${when}`}
      onPicture={(picture) =>
        void perform(`Added the picture ${when}`, [
          add('pictures', [picture]),
          edit('builds', build, { ...build, [when]: picture.id }),
        ])
      }
    >
      {build[when] === undefined ? `Picture ${when}` : `Another picture ${when}`}
    </AddPicture>
  ))
}
