import { Tags } from 'lucide-react'
import { useMemo, useState } from 'react'
import { fetchList, type FetchRow } from '../../../core/making/fetch-list.ts'
import type { LookAlike } from '../../../core/studies/recolouring.ts'
import type { Label } from '../../../core/formats/label-sheet.ts'
import type { PlaceId } from '../../../core/units/ids.ts'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import { LookAlikeNote } from '../../pieces/look-alike-note.tsx'
import { ItemName } from '../../pieces/item-name.tsx'
import { useAboutCount } from '../../store/about-count.ts'
import { saveMaking } from '../../store/making.ts'
import { useRecords } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'
import { Choice, Tick } from '../../ui/fields.tsx'
import { PrintButton } from '../../ui/print-button.tsx'
import { useGrowing } from '../../ui/use-growing.ts'
import { LabelDialog } from './label-dialog.tsx'
import { workName } from './make-words.ts'
import type { MakeView } from './make-view.ts'
import { useInTurn } from './use-in-turn.ts'
import { wantedFor } from '../../../core/making/wanted.ts'
import { useAddress } from '../../ui/address.ts'

const GROUPS = [
  { value: 'place', label: 'by place, as you walk' },
  { value: 'module', label: 'by module' },
  { value: 'part', label: 'by part' },
] as const
type Group = (typeof GROUPS)[number]['value']

/** What to fetch from where: for the next repeats, for one module, or for all that is open. */
export function FetchView(view: MakeView) {
  const { at, tally, progress, next } = view
  const { nameItem, copies, sets } = useRecords()
  const { design, places } = tally.now
  const { params, change } = useAddress()
  const scope = params.get('for') ?? 'next'
  const group = (params.get('by') ?? 'place') as Group
  const once = params.get('once') === 'yes'
  const [openOnly, setOpenOnly] = useState(false)
  const [labels, setLabels] = useState(false)
  const palette = useAboutCount(tally.count, 'palette', null)
  const nameOf = useMemo(() => placeNames(places), [places])
  const whereOf = (row: FetchRow): string => {
    if (row.at.kind === 'place') return nameOf.get(row.at.place) ?? 'the shelf'
    const { copy: id, stage } = row.at
    const copy = copies.find((c) => c.id === id)
    const named = sets.find((s) => s.id === copy?.setId)?.stages.find((s) => s.id === stage)
    return `${copy?.label ?? 'a copy'}${named ? ` › ${named.name}` : ''}`
  }
  const list = useMemo(
    () => fetchList(at.build, wantedFor({ at, progress, next }, scope, once), at.stock, whereOf),
    // The names of places follow from places, those of copies from the stock.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [at, progress, next, scope, once, nameOf],
  )
  const fetchedOf = useMemo(() => new Map(at.making.fetched.map((f) => [`${f.from}\n${f.item}`, f.qty])), [at.making])
  const isFetched = (row: FetchRow) => (fetchedOf.get(row.id) ?? 0) >= row.qty
  const rows = openOnly ? list.rows.filter((r) => !isFetched(r)) : list.rows
  const heading = (row: FetchRow): string =>
    group === 'place'
      ? whereOf(row)
      : group === 'part'
        ? nameItem(row.item).part.name
        : row.uses.map((u) => workName(u.work, design)).join(', ')
  const sorted = group === 'place' ? rows : [...rows].sort((p, q) => (heading(p) < heading(q) ? -1 : 1))
  const shown = useGrowing(sorted)
  const pieces = list.rows.reduce((n, r) => n + r.qty, 0)
  const done = list.rows.reduce((n, r) => n + Math.min(r.qty, fetchedOf.get(r.id) ?? 0), 0)
  const say = (name: string, value: string) => {
    change({ [name]: value })
  }
  const inTurn = useInTurn(at)
  const toggle = (row: FetchRow) => {
    const on = !isFetched(row)
    void inTurn(({ making }) => {
      const others = making.fetched.filter((f) => f.from !== row.from || f.item !== row.item)
      return saveMaking(on ? `Fetched ${nameItem(row.item).name}` : 'Not fetched after all', making, {
        ...making,
        fetched: on ? [...others, { from: row.from, item: row.item, qty: row.qty }] : others,
      })
    })
  }
  return (
    <div className="flex min-h-0 flex-1 flex-col gap-3 text-sm">
      <div className="no-print flex flex-wrap items-center gap-3">
        <Choice
          label="What to fetch for"
          className="max-w-80"
          value={scope}
          options={[
            { value: 'next', label: 'the next repeat of all that can be built' },
            { value: 'all', label: 'everything that is open' },
            ...at.works.map((w) => ({ value: w.key, label: `all of ${workName(w, design)}` })),
          ]}
          onChange={(value) => {
            say('for', value)
          }}
        />
        <Choice
          label="In which order"
          value={group}
          options={GROUPS}
          onChange={(value) => {
            say('by', value)
          }}
        />
        {scope !== 'all' && scope !== 'next' && (
          <Tick
            checked={once}
            onChange={(yes) => {
              say('once', yes ? 'yes' : 'no')
            }}
          >
            Its next repeat alone
          </Tick>
        )}
        <Tick checked={openOnly} onChange={setOpenOnly}>
          Not fetched yet
        </Tick>
        <PrintButton label="Print the fetch list" />
        <Button
          onClick={() => {
            setLabels(true)
          }}
        >
          <Tags size={14} aria-hidden="true" /> Labels
        </Button>
      </div>
      <p role="status">
        <b>
          {formatNumber(done)} of {plural(pieces, 'piece')}
        </b>{' '}
        fetched
        {list.missing.length > 0 &&
          `; ${formatNumber(list.missing.reduce((n, m) => n + m.qty, 0))} wanted and not here: on order, or short`}
        .
      </p>
      <div className={`min-h-0 flex-1 overflow-auto ${labels ? '' : 'print-area'}`}>
        <p className="print-only font-display text-lg font-medium">Fetch for {tally.now.build.name}</p>
        <ul aria-label="To fetch">
          {shown.map((row, i) => {
            const title = heading(row)
            const before = shown[i - 1]
            return (
              <li key={row.id} className="break-inside-avoid">
                {(!before || heading(before) !== title) && (
                  <h2 className="mt-2 border-b border-rule pb-0.5 font-semibold wrap-anywhere">{title}</h2>
                )}
                <Fetched
                  row={row}
                  design={design}
                  where={group === 'place' ? undefined : whereOf(row)}
                  checked={isFetched(row)}
                  alike={palette.value?.alike ?? []}
                  onToggle={() => {
                    toggle(row)
                  }}
                />
              </li>
            )
          })}
        </ul>
        {list.rows.length === 0 && <p>Nothing has to be fetched for this.</p>}
      </div>
      {labels && (
        <LabelDialog
          labels={labelsOf(list.rows, whereOf, design, group)}
          onClose={() => {
            setLabels(false)
          }}
        />
      )}
    </div>
  )
}

/** One row: how many of what, ticked once they lie on the table. */
function Fetched({
  row,
  design,
  where,
  checked,
  alike,
  onToggle,
}: {
  row: FetchRow
  design: MakeView['tally']['now']['design']
  /** Where it lies, unless that is said above. */
  where: string | undefined
  checked: boolean
  alike: readonly LookAlike[]
  onToggle: () => void
}) {
  const { nameItem } = useRecords()
  return (
    <label className="flex min-h-11 cursor-pointer items-center gap-3 border-b border-hair py-1">
      <input type="checkbox" className="size-6 shrink-0 accent-(--accent)" checked={checked} onChange={onToggle} />
      <b className="w-12 text-right text-base">{formatNumber(row.qty)}</b>
      <span className="min-w-0 flex-1">
        <ItemName item={row.item} size={36} />
        <LookAlikeNote item={row.item} alike={alike} />
        {row.standsFor.length > 0 && (
          <span className="block text-xs text-soft">
            in place of {row.standsFor.map((s) => nameItem(s).name).join(', ')}
          </span>
        )}
      </span>
      <span className="w-2/5 text-xs text-soft">
        {where !== undefined && <b>{where}: </b>}
        {row.uses
          .slice(0, 4)
          .map((u) => `${u.qty} for ${workName(u.work, design)}`)
          .join(', ')}
        {row.uses.length > 4 && ` and ${row.uses.length - 4} more`}
      </span>
    </label>
  )
}

/** A label for each place that is walked to, or for each module's bag. */
function labelsOf(
  rows: readonly FetchRow[],
  whereOf: (row: FetchRow) => string,
  design: MakeView['tally']['now']['design'],
  group: Group,
): Label[] {
  const sums = new Map<string, { pieces: number; kinds: number }>()
  const count = (title: string, qty: number) => {
    const known = sums.get(title) ?? { pieces: 0, kinds: 0 }
    sums.set(title, { pieces: known.pieces + qty, kinds: known.kinds + 1 })
  }
  for (const row of rows)
    if (group === 'place') count(whereOf(row), row.qty)
    else for (const use of row.uses) count(workName(use.work, design), use.qty)
  return [...sums].map(([title, { pieces, kinds }]) => ({
    title,
    lines: [`${plural(pieces, 'piece')}, ${plural(kinds, 'kind')}`],
  }))
}

/** Places by their names with those around them, the outermost first. */
function placeNames(places: MakeView['tally']['now']['places']): ReadonlyMap<PlaceId, string> {
  const byId = new Map(places.map((p) => [p.id, p]))
  const names = new Map<PlaceId, string>()
  for (const place of places) {
    const way: string[] = []
    const seen = new Set<PlaceId>()
    for (
      let at: typeof place | undefined = place;
      at && !seen.has(at.id);
      at = at.parent === null ? undefined : byId.get(at.parent)
    ) {
      seen.add(at.id)
      way.unshift(at.name)
    }
    names.set(place.id, way.join(' › '))
  }
  return names
}
