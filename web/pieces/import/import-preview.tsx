import { shopMoney } from '../../../core/offers/shop.ts'
import type { StatedCondition } from '../../../core/units/condition.ts'
import { LikeParts } from './like-parts.tsx'
import { useState } from 'react'
import { colourKey } from '../../../core/colours/colour.ts'
import type { ListKind } from '../../../core/formats/list-fields.ts'
import type { BuildId } from '../../../core/units/ids.ts'
import type { ListPreview } from '../../../workers/list.worker.ts'
import { useRecords, type RecordsView } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import { AcceptedRows } from './accepted-rows.tsx'
import { ConditionWords } from './condition-words.tsx'
import { rememberHeadings, type LearntWords } from './learnt-words.ts'
import type { Loaded } from './loaded.ts'
import { RawRows } from './raw-rows.tsx'
import { RefusedRows } from './refused-rows.tsx'
import { remember } from './remembered-columns.ts'
import { runImport } from './run-import.ts'
import { UnknownColours } from './unknown-colours.tsx'
import { useListActions } from './use-list-actions.ts'
import { headOf, Verdict } from './verdict.tsx'
import { Destination } from './destination.tsx'
import { SourceSettings } from './source-settings.tsx'

type Tab = 'accepted' | 'doubtful' | 'refused'

export function ImportPreview({
  kind,
  build,
  loaded,
  onRematch,
  onDraft,
  onBack,
  onDone,
}: {
  kind: ListKind
  build: BuildId | null
  loaded: Loaded
  onRematch: (preview: ListPreview, words?: LearntWords) => void
  onDraft: (draft: Partial<Pick<Loaded, 'choices' | 'destination' | 'same'>>) => void
  onBack: () => void
  onDone: () => void
}) {
  const records = useRecords()
  const { preview } = loaded
  const { reading } = preview
  const { choices, destination } = loaded
  const { name, place, mode, addCopy } = destination
  const [busy, setBusy] = useState(false)
  const [tab, setTab] = useState<Tab>('accepted')

  const currency = records.builds.find((b) => b.id === build)?.currency ?? 'EUR'
  const context = {
    kind,
    colours: records.allColours,
    currency,
    shopMoney: shopMoney(records.shops, currency),
    codes: records.partNameByCode,
    sameAs: records.mergedParts,
    parts: records.parts,
    ...loaded.words,
    serial: preview.serial,
  }
  const leftOut = new Set(
    reading.unknownColours.map((u) => colourKey(u.name)).filter((key) => (choices.get(key) ?? 'leave') === 'leave'),
  )
  const left =
    reading.moreUnknown.rows +
    reading.unknownColours.reduce((n, u) => n + (leftOut.has(colourKey(u.name)) ? u.rows : 0), 0)
  const ready = preview.accepted - left

  const actions = useListActions(context, preview, leftOut, onRematch)
  const { problem, said } = actions
  const submit = async () => {
    setBusy(true)
    actions.setProblem('')
    let done = false
    await said(
      runImport({
        kind,
        build,
        colours: reading.colours,
        choices,
        same: loaded.same,
        name: name.trim(),
        place: place.trim(),
        mode,
        addCopy,
        records,
        edition: preview.edition,
      }).then((written) => {
        done = written
      }),
    )
    if (done) {
      await remember(preview)
      await rememberHeadings(kind, preview.match, headOf(preview))
    }
    setBusy(false)
    if (done) onDone()
  }
  return (
    <div className="flex min-h-0 flex-1 flex-col gap-3">
      <div className="flex min-h-0 flex-1 flex-col gap-3 overflow-auto">
        <Verdict loaded={loaded} ready={ready} left={left} />
        {problem && (
          <p role="alert" className="border-l-4 border-bad bg-bad-wash px-3 py-2 text-sm">
            {problem}
          </p>
        )}
        <SourceSettings
          preview={preview}
          onSplit={actions.split}
          onSheet={actions.turn}
          onListColours={actions.listColours}
        >
          <Destination
            kind={kind}
            ofBuild={build !== null}
            state={destination}
            onChange={(next) => {
              onDraft({ destination: next })
            }}
          />
        </SourceSettings>
        <RawRows kind={kind} preview={preview} onChoose={actions.rematch} onHeadings={actions.headings} />
        <Asked loaded={loaded} records={records} onDraft={onDraft} onCondition={actions.sayCondition} />
        <div className="flex items-center gap-2" role="group" aria-label="Rows shown">
          <RowTabs
            tab={tab}
            counts={{ accepted: ready, doubtful: preview.doubtful, refused: preview.refused }}
            onChoose={setTab}
          />
          <Button look="bare" onClick={() => void actions.report()}>
            Download the report
          </Button>
        </div>
        <div className="flex min-h-72 flex-1 flex-col">
          {tab === 'refused' ? (
            <RefusedRows preview={preview} said={said} onFix={actions.fix} />
          ) : (
            <AcceptedRows
              key={tab}
              which={tab}
              preview={preview}
              said={said}
              kind={kind}
              records={records}
              currency={currency}
            />
          )}
        </div>
      </div>
      <Foot
        busy={busy}
        rereading={actions.rereading}
        ready={ready}
        nameMissing={kind === 'donor' && name.trim() === ''}
        onImport={() => void submit()}
        onBack={onBack}
      />
    </div>
  )
}

/** What only the user can say: colours nobody knows, parts that look alike, words for conditions. */
function Asked({
  loaded: { preview, choices, same },
  records: { allColours },
  onDraft,
  onCondition,
}: {
  loaded: Loaded
  records: RecordsView
  onDraft: (draft: Partial<Pick<Loaded, 'choices' | 'same'>>) => void
  onCondition: (word: string, condition: StatedCondition) => void
}) {
  const { reading, like } = preview
  return (
    <>
      {reading.unknownColours.length > 0 && (
        <UnknownColours
          unknown={reading.unknownColours}
          more={reading.moreUnknown}
          choices={choices}
          onChoose={(next) => {
            onDraft({ choices: next })
          }}
          colours={allColours}
        />
      )}
      {like.length > 0 && (
        <LikeParts
          parts={like}
          same={same}
          onSay={(next) => {
            onDraft({ same: next })
          }}
        />
      )}
      {reading.conditions.length > 0 && <ConditionWords words={reading.conditions} onSay={onCondition} />}
    </>
  )
}

function Foot({
  busy,
  rereading,
  ready,
  nameMissing,
  onImport,
  onBack,
}: {
  busy: boolean
  rereading: boolean
  ready: number
  nameMissing: boolean
  onImport: () => void
  onBack: () => void
}) {
  return (
    <div className="flex gap-2">
      <Button look="primary" disabled={busy || rereading || ready === 0 || nameMissing} onClick={onImport}>
        {busy ? 'Importing…' : `Import ${plural(ready, 'row')}`}
      </Button>
      <Button onClick={onBack}>Back</Button>
      {nameMissing && <span className="self-center text-sm text-warn">Give the donor set a name.</span>}
    </div>
  )
}

/** Which rows are shown. */
function RowTabs({
  tab,
  counts,
  onChoose,
}: {
  tab: Tab
  counts: Readonly<Record<Tab, number>>
  onChoose: (tab: Tab) => void
}) {
  return (
    <>
      {(
        [
          ['accepted', 'Accepted'],
          ['doubtful', 'Doubtful'],
          ['refused', 'Refused'],
        ] as const
      ).map(([value, label]) => (
        <Button
          key={value}
          look={tab === value ? 'primary' : 'plain'}
          aria-pressed={tab === value}
          onClick={() => {
            onChoose(value)
          }}
        >
          {label} ({formatNumber(counts[value])})
        </Button>
      ))}
    </>
  )
}
