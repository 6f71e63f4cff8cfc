import { minuteOf } from '../../../core/units/instants.ts'
import { BookmarkPlus, RotateCcw, Trash2 } from 'lucide-react'
import { useMemo, useState } from 'react'
import { compareDesigns, type DesignDifference } from '../../../core/design/compare-designs.ts'
import type { Design } from '../../../core/design/design.ts'
import { explode, type Requirement } from '../../../core/design/explode.ts'
import type { DesignVersion } from '../../../core/design/version.ts'
import type { Snapshot } from '../../../core/netting/snapshot.ts'
import type { Tally } from '../../../core/netting/tally.ts'
import type { VersionId } from '../../../core/units/ids.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { add, remove } from '../../../storage/journal.ts'
import { fresh, nowIso } from '../../store/database.ts'
import { perform } from '../../store/perform.ts'
import { useRecords } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'
import { DataGrid, type Column } from '../../ui/data-grid.tsx'
import { Choice, TextInput } from '../../ui/fields.tsx'
import { ItemName } from '../../pieces/item-name.tsx'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import type { EditDesign } from './edit-design.ts'
import { useStudy } from '../../store/use-study.ts'
import { StudyNote } from '../../pieces/study-note.tsx'
import { UncertainPanel } from './uncertain-panel.tsx'

const NOW = 'now'
const KIND_WORDS: Record<DesignDifference['kind'], string> = {
  added: 'added',
  removed: 'removed',
  quantity: 'quantity',
  colour: 'colour',
  part: 'part',
}

/** Named versions: kept, compared line by line and by totals, returned to; ideas for later and uncertain quantities. */
export function VersionsView({ edit, snapshot, result }: { edit: EditDesign; snapshot: Snapshot; result: Tally }) {
  const { build } = snapshot
  const { versions: all } = useRecords()
  const versions = useMemo(
    () => all.filter((v) => v.buildId === build.id).sort((p, q) => (p.at < q.at ? -1 : 1)),
    [all, build.id],
  )
  const [name, setName] = useState('')
  const [before, setBefore] = useState<string | undefined>()
  const [after, setAfter] = useState<string>(NOW)
  const left = before ?? versions[0]?.id ?? NOW
  const designOf = (id: string): Design => versions.find((v) => v.id === id)?.design ?? edit.design
  const options = [
    { value: NOW, label: 'as it is now' },
    ...versions.map((v) => ({ value: v.id as string, label: v.name })),
  ]
  const keep = () => {
    const version: DesignVersion = {
      id: `v-${fresh()}` as VersionId,
      buildId: build.id,
      name: name.trim().slice(0, 120) || `Version ${versions.length + 1}`,
      at: nowIso(),
      design: edit.design,
    }
    void perform(`Kept version ${version.name}`, [add('versions', [version])])
    setName('')
  }
  return (
    <div className="grid min-h-0 flex-1 grid-cols-[18rem_minmax(0,1fr)] gap-6 overflow-auto max-[960px]:grid-cols-1">
      <div className="flex flex-col gap-4 text-sm">
        <form
          className="flex flex-wrap gap-2"
          onSubmit={(e) => {
            e.preventDefault()
            keep()
          }}
        >
          <TextInput
            aria-label="Name of the version"
            placeholder={`Version ${versions.length + 1}`}
            value={name}
            maxLength={120}
            className="min-w-0 flex-1"
            onChange={(e) => {
              setName(e.target.value)
            }}
          />
          <Button type="submit" look="primary">
            <BookmarkPlus size={14} aria-hidden="true" /> Keep
          </Button>
        </form>
        <ul aria-label="Versions">
          {versions.map((v) => (
            <li key={v.id} className="flex items-center justify-between gap-2 border-b border-hair py-1">
              <span className="min-w-0">
                <b className="block truncate">{v.name}</b>
                <span className="text-xs text-soft">{minuteOf(v.at)}</span>
              </span>
              <span className="flex shrink-0 gap-1">
                <Button
                  aria-label={`Return to ${v.name}`}
                  onClick={() => {
                    edit.save(`Returned to ${v.name}`, { ...v.design, id: build.id }, [], false)
                  }}
                >
                  <RotateCcw size={13} aria-hidden="true" />
                </Button>
                <Button
                  aria-label={`Remove ${v.name}`}
                  onClick={() => void perform(`Removed version ${v.name}`, [remove('versions', [v.id])])}
                >
                  <Trash2 size={13} aria-hidden="true" />
                </Button>
              </span>
            </li>
          ))}
          {versions.length === 0 && <li className="text-soft">None kept yet: name the design as it is now.</li>}
        </ul>
        <Later snapshot={snapshot} result={result} />
        <UncertainPanel snapshot={snapshot} />
      </div>
      <div className="flex min-h-0 min-w-0 flex-col gap-3">
        <div className="flex flex-wrap items-center gap-2 text-sm">
          Compare
          <Choice label="Before" value={left} options={options} onChange={setBefore} />
          with
          <Choice label="After" value={after} options={options} onChange={setAfter} />
        </div>
        <Comparison key={`${left} ${after}`} before={designOf(left)} after={designOf(after)} snapshot={snapshot} />
      </div>
    </div>
  )
}

function Comparison({ before, after, snapshot }: { before: Design; after: Design; snapshot: Snapshot }) {
  const { nameItem } = useRecords()
  const { build, parts } = snapshot
  const scenes = useMemo(
    () => [before, after].map((design) => ({ ...snapshot, design })) as [Snapshot, Snapshot],
    [snapshot, before, after],
  )
  const [then, next] = [useStudy('goods', scenes[0], null), useStudy('goods', scenes[1], null)]
  const found = useMemo(() => {
    const names = (design: Design) => new Map(design.modules.map((m) => [m.id, m.name]))
    const known = new Map([...names(before), ...names(after)])
    const nameOf = (r: Requirement) => known.get(r.module) ?? r.module
    return compareDesigns(explode(before, { parts }), explode(after, { parts }), nameOf)
  }, [before, after, parts])
  const columns = useMemo((): Column<DesignDifference>[] => {
    const side = (d: DesignDifference['before']) =>
      d ? (
        <span className="flex min-w-0 items-center gap-2">
          <b>{d.qty}</b> <ItemName item={d.item} size={28} />
        </span>
      ) : (
        <span className="text-soft">none</span>
      )
    return [
      {
        id: 'module',
        header: 'Module',
        width: 'minmax(0, 1fr)',
        sort: (d) => d.module,
        cell: (d) => <span className="truncate">{d.module}</span>,
      },
      { id: 'kind', header: 'Change', width: '84px', sort: (d) => d.kind, cell: (d) => KIND_WORDS[d.kind] },
      {
        id: 'before',
        header: 'Before',
        width: 'minmax(0, 2fr)',
        sort: (d) => (d.before ? nameItem(d.before.item).name : ''),
        cell: (d) => side(d.before),
      },
      {
        id: 'after',
        header: 'After',
        width: 'minmax(0, 2fr)',
        sort: (d) => (d.after ? nameItem(d.after.item).name : ''),
        cell: (d) => side(d.after),
      },
    ]
  }, [nameItem])
  const busy = then.busy || next.busy
  const [old, now] = busy ? [] : [then.value, next.value]
  return (
    <>
      <p className="text-sm">
        {plural(found.pieces[0], 'piece')} become <b>{found.pieces[1]}</b>, {plural(found.items[0], 'item')} become{' '}
        <b>{found.items[1]}</b>
        {old && now && (
          <>
            , {formatNumber(old.short)} short become <b>{formatNumber(now.short)}</b>
            {old.cost + now.cost > 0 && (
              <>
                , goods {formatMoney(old.cost, build.currency)} become <b>{formatMoney(now.cost, build.currency)}</b>
              </>
            )}
          </>
        )}
        . {plural(found.differences.length, 'difference')}.
        {old && now && old.cost + now.cost > 0 && ' Goods alone, loose at the cheapest offers the rules allow.'}
      </p>
      {then.problem !== undefined && <StudyNote study={then} />}
      {next.problem !== undefined && <StudyNote study={next} />}
      <DataGrid
        label="Differences"
        columns={columns}
        rows={found.differences}
        rowKey={(d) => `${d.module} ${d.kind} ${d.before?.item ?? ''} ${d.after?.item ?? ''}`}
        empty="The two are the same, line by line."
      />
    </>
  )
}

/** Ideas kept apart from what is needed now, and what they would cost on top. */
function Later({ snapshot, result }: { snapshot: Snapshot; result: Tally }) {
  const ideas = snapshot.design.modules.filter((m) => m.later)
  const some = ideas.length > 0
  const scene = useMemo(() => ({ ...snapshot, explosion: { ...snapshot.explosion, later: true } }), [snapshot])
  const [with_, without] = [
    useStudy('goods', scene, some ? null : undefined),
    useStudy('goods', snapshot, some ? null : undefined),
  ]
  const known = with_.value && without.value && !with_.busy && !without.busy
  const extra =
    known && with_.value && without.value
      ? {
          pieces: with_.value.need - result.need,
          short: with_.value.short - result.coverage.short,
          cost: with_.value.cost - without.value.cost,
        }
      : undefined
  return (
    <section aria-label="Ideas for later">
      <h2 className="text-base font-semibold">Ideas for later</h2>
      {some && extra === undefined ? (
        <StudyNote study={with_.problem === undefined && without.problem !== undefined ? without : with_} />
      ) : extra === undefined ? (
        <p className="text-soft">None. Mark a module as an idea for later to keep it apart.</p>
      ) : (
        <p>
          {ideas.map((m) => m.name).join(', ')}: {plural(extra.pieces, 'more piece')}, {formatNumber(extra.short)} more
          short
          {extra.cost > 0 && `, ${formatMoney(extra.cost, snapshot.build.currency)} of goods on top`}.
        </p>
      )}
    </section>
  )
}
