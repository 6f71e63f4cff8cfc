import { useMemo, useState } from 'react'
import { toast } from 'sonner'
import { splitItemKey } from '../../../core/catalogue/item.ts'
import { departures, designAsMade } from '../../../core/making/as-made.ts'
import { exchange, forShow } from '../../../core/making/exchange.ts'
import { CHECK_KINDS, CHECK_STATES, STICKER_STATES, type Check, type Sticker } from '../../../core/making/making.ts'
import { takesFor } from '../../../core/making/takes.ts'
import { putOf } from '../../../core/making/unit.ts'
import { isSticker } from '../../../core/shelf/stickers.ts'
import type { VersionId } from '../../../core/units/ids.ts'
import { plural } from '../../../core/units/numbers.ts'
import { add, edit } from '../../../storage/journal.ts'
import { ItemName } from '../../pieces/item-name.tsx'
import { QuickEntry } from '../../pieces/quick-entry.tsx'
import { fresh, nowIso } from '../../store/database.ts'
import { doMaking, saveMaking, unitChanges } from '../../store/making.ts'
import { perform } from '../../store/perform.ts'
import { useRecords } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'
import { Choice, CommitInput, TextInput } from '../../ui/fields.tsx'
import { useGrowing } from '../../ui/use-growing.ts'
import { workName } from './make-words.ts'
import type { MakeView } from './make-view.ts'

/** Stickers, what the reference shows, what is there for show only, and what was built otherwise than drawn. */
export function RemarksView(view: MakeView) {
  return (
    <div className="flex min-h-0 flex-1 flex-col gap-6 overflow-auto text-sm">
      <Departures {...view} />
      <Shown {...view} />
      <Stickers {...view} />
      <Checks {...view} />
    </div>
  )
}

/** What was built otherwise becomes the design in one act; the design as drawn stays as a version. */
function Departures({ at, tally, today }: MakeView) {
  const { units, nameItem, versions } = useRecords()
  const { design, parts, build } = tally.now
  const found = useMemo(() => departures(design, at.works, at.units), [design, at.works, at.units])
  const open = found.filter((d) => !d.shared)
  const nameOf = new Map(design.modules.map((m) => [m.id, m.name]))
  const become = () => {
    const made = designAsMade(design, at.works, at.units, parts, fresh)
    const name = `As drawn, before ${today}`
    void perform('What was built became the design', [
      add('versions', [{ id: `v-${fresh()}` as VersionId, buildId: build.id, name, at: nowIso(), design }]),
      edit('designs', design, made.design),
      ...unitChanges(units, made.units),
    ])
  }
  return (
    <section aria-label="As built">
      <div className="flex flex-wrap items-center gap-3">
        <h2 className="font-display text-base font-medium">As built</h2>
        {open.length > 0 && (
          <Button onClick={become}>Make it the design, {plural(open.length, 'line changes', 'lines change')}</Button>
        )}
        {versions.some((v) => v.buildId === build.id && v.name.startsWith('As drawn')) && (
          <span className="text-soft">The design as drawn is kept among its versions.</span>
        )}
      </div>
      {found.length === 0 ? (
        <p className="text-soft">Everything that is in is as drawn.</p>
      ) : (
        <ul className="divide-y divide-hair border-y border-hair">
          {found.map((d, i) => (
            <li key={i} className="flex flex-wrap items-center gap-2 py-1">
              <b>{nameOf.get(d.module) ?? 'a module'}:</b>
              {d.used.map((u) => (
                <span key={u.item} className="flex items-center gap-1">
                  {u.qty} × <ItemName item={u.item} size={26} />
                </span>
              ))}
              {d.drawn !== undefined && d.used.length > 0 && <span>in place of {nameItem(d.drawn).name}</span>}
              {d.drawn === undefined && <span>added, on no line</span>}
              {d.leftOut > 0 && d.drawn !== undefined && (
                <span>
                  {d.leftOut} × {nameItem(d.drawn).name} left out
                </span>
              )}
              {d.shared && (
                <span className="text-warn">stands in several places: its line cannot say it, change it on Design</span>
              )}
            </li>
          ))}
        </ul>
      )}
    </section>
  )
}

/** Pieces exchanged for show, to be put back: listed while they stand. */
function Shown({ at, tally, today }: MakeView) {
  const records = useRecords()
  const { design } = tally.now
  const shown = forShow(at.units)
  const rows = useMemo(
    () =>
      at.works.flatMap((work) =>
        [...(at.unitsOf.get(work.key)?.values() ?? [])].flatMap((unit) =>
          unit.standsIn !== undefined
            ? []
            : work.lines
                .filter((l) => putOf(unit, l.line) > 0)
                .map((line) => ({ key: `${unit.id} ${line.line}`, work, unit, line })),
        ),
      ),
    [at.works, at.unitsOf],
  )
  const [chosen, setChosen] = useState('')
  const row = rows.find((r) => r.key === chosen) ?? rows[0]
  const back = (of: (typeof shown)[number]) => {
    const { groups, short } = takesFor(at.build, of.was, of.put.covers, [], at.stock)
    if (short > 0) {
      toast.error(`${records.nameItem(of.was).name} is not on the shelf: ${short} missing.`)
      return
    }
    void doMaking(`Put ${records.nameItem(of.was).name} back`, exchange(of.unit, of.line, groups, at.stock), records)
  }
  return (
    <section aria-label="For show">
      <h2 className="font-display text-base font-medium">For show, to be put back</h2>
      {shown.length === 0 ? (
        <p className="text-soft">Nothing is exchanged for show.</p>
      ) : (
        <ul className="divide-y divide-hair border-y border-hair">
          {shown.map((s, i) => (
            <li key={i} className="flex flex-wrap items-center gap-3 py-1">
              <span className="flex flex-1 flex-wrap items-center gap-2">
                {s.put.qty} × <ItemName item={s.put.item} size={26} /> since {s.on} in {workName(s.unit, design)}{' '}
                {s.unit.repeat}, in place of <ItemName item={s.was} size={26} />
              </span>
              <Button
                onClick={() => {
                  back(s)
                }}
              >
                Put it back
              </Button>
            </li>
          ))}
        </ul>
      )}
      {row && (
        <div className="mt-2 flex flex-wrap items-center gap-3">
          <Choice
            label="Which piece of the model"
            className="max-w-96"
            value={row.key}
            options={rows.slice(0, 2000).map((r) => ({
              value: r.key,
              label: `${records.nameItem(r.line.item).name} · ${workName(r.work, design)} ${r.unit.repeat}`,
            }))}
            onChange={setChosen}
          />
          <QuickEntry
            label="What is shown instead"
            action="Show it"
            onAdd={([first], more) => {
              if (!first) return
              if (more.some((c) => c.puts.length > 0)) void perform('A piece for show', more, { quiet: true })
              const qty = Math.min(Math.max(1, first.qty), putOf(row.unit, row.line.line))
              const { groups, short } = takesFor(at.build, first.item, qty, [], at.stock)
              const all =
                short > 0
                  ? [...groups, { covers: short, takes: [{ kind: 'found' as const, item: first.item, qty: short }] }]
                  : groups
              void doMaking(
                `${records.nameItem(first.item).name} for show`,
                exchange(row.unit, row.line.line, all, at.stock, today),
                records,
                { quiet: false },
              )
            }}
          />
        </div>
      )}
    </section>
  )
}

/** Every sticker, from the sheet to its piece: put off ones are a list of their own, applied last. */
function Stickers({ at, tally }: MakeView) {
  const { nameItem } = useRecords()
  const { making } = at
  const [only, setOnly] = useState<'all' | 'put off'>('all')
  const [name, setName] = useState('')
  const drawn = useMemo(
    () =>
      at.works.flatMap((w) =>
        w.lines.filter((l) => isSticker(splitItemKey(l.item).decoration)).map((l) => ({ work: w, line: l })),
      ),
    [at.works],
  )
  const missing = drawn.filter((d) => !making.stickers.some((s) => s.line === d.line.line))
  const save = (label: string, stickers: readonly Sticker[]) =>
    void saveMaking(label, making, { ...making, stickers: [...stickers] })
  const change = (sticker: Sticker, next: Partial<Sticker>) => {
    save(
      `Sticker ${sticker.name}`,
      making.stickers.map((s) => (s.id === sticker.id ? { ...s, ...next } : s)),
    )
  }
  const list = only === 'all' ? making.stickers : making.stickers.filter((s) => s.state === 'put off')
  const shown = useGrowing(list)
  const workOf = (line: Sticker['line']) => at.works.find((w) => w.lines.some((l) => l.line === line))
  const off = making.stickers.filter((s) => s.state === 'put off').length
  return (
    <section aria-label="Stickers">
      <h2 className="font-display text-base font-medium">Stickers</h2>
      <div className="flex flex-wrap items-center gap-3 py-1">
        <Choice
          label="Which stickers"
          value={only}
          options={[
            { value: 'all', label: `all ${making.stickers.length}` },
            { value: 'put off', label: `put off, to apply last: ${off}` },
          ]}
          onChange={setOnly}
        />
        {missing.length > 0 && (
          <Button
            onClick={() => {
              save(`Listed ${plural(missing.length, 'sticker')} of the design`, [
                ...making.stickers,
                ...missing.map(({ line }) => ({
                  id: fresh(),
                  name: splitItemKey(line.item)
                    .decoration.replace(/^sticker\s+/, '')
                    .slice(0, 120),
                  of: line.item,
                  state: 'on the sheet' as const,
                  line: line.line,
                })),
              ])
            }}
          >
            List the design’s {plural(missing.length, 'sticker')}
          </Button>
        )}
        <form
          className="flex items-center gap-2"
          onSubmit={(e) => {
            e.preventDefault()
            if (name.trim() === '') return
            save(`Noted sticker ${name.trim()}`, [
              ...making.stickers,
              { id: fresh(), name: name.trim().slice(0, 120), state: 'on the sheet' },
            ])
            setName('')
          }}
        >
          <TextInput
            aria-label="Number or picture of a sticker"
            placeholder="number or picture"
            value={name}
            maxLength={120}
            onChange={(e) => {
              setName(e.target.value)
            }}
          />
          <Button type="submit" disabled={name.trim() === ''}>
            Note a sticker
          </Button>
        </form>
      </div>
      <p className="text-xs text-soft">
        Peeling with hot water or a blade can hurt; a peeled sticker is seldom as good as new. Bought for its sticker, a
        piece is a plain one afterwards: peel it on the Shelf, and both are counted.
      </p>
      <ul className="divide-y divide-hair">
        {shown.map((s) => {
          const work = workOf(s.line)
          return (
            <li key={s.id} className="flex flex-wrap items-center gap-3 py-1">
              <span className="min-w-60 flex-1">
                <b>{s.name}</b>
                {s.of && <span className="text-soft"> · {nameItem(s.of).part.name}</span>}
                {work && <span className="text-soft"> · {workName(work, tally.now.design)}</span>}
              </span>
              <Choice
                label={`State of sticker ${s.name}`}
                className="w-36"
                value={s.state}
                options={STICKER_STATES.map((value) => ({ value, label: value }))}
                onChange={(state) => {
                  change(s, { state })
                }}
              />
              {(s.state === 'peeled' || s.state === 'spare') && (
                <Choice
                  label={`Condition of sticker ${s.name}`}
                  className="w-24"
                  value={s.condition ?? 'used'}
                  options={(['new', 'used', 'worn'] as const).map((value) => ({ value, label: value }))}
                  onChange={(condition) => {
                    change(s, { condition })
                  }}
                />
              )}
              <CommitInput
                aria-label={`Note on sticker ${s.name}`}
                placeholder="note"
                className="w-48"
                value={s.note ?? ''}
                maxLength={1000}
                onCommit={(note) => {
                  change(s, { note })
                }}
              />
              <Button
                aria-label={`Strike sticker ${s.name}`}
                onClick={() => {
                  save(
                    `Struck sticker ${s.name}`,
                    making.stickers.filter((x) => x.id !== s.id),
                  )
                }}
              >
                Strike
              </Button>
            </li>
          )
        })}
      </ul>
    </section>
  )
}

const STATE_WORDS: Readonly<Record<Check['state'], string>> = {
  open: 'not looked at',
  'as shown': 'as shown',
  departs: 'departs, accepted',
}

/** What the reference shows, compared with the model; where it departs that is accepted with why. */
function Checks({ at }: MakeView) {
  const { making } = at
  const [text, setText] = useState('')
  const [kind, setKind] = useState<Check['kind']>('count')
  const save = (label: string, checks: readonly Check[]) =>
    void saveMaking(label, making, { ...making, checks: [...checks] })
  const open = making.checks.filter((c) => c.state === 'open').length
  return (
    <section aria-label="Reference">
      <h2 className="font-display text-base font-medium">As the reference shows it</h2>
      <p className="text-soft">
        {making.checks.length === 0
          ? 'Counts, sides and positions that the photo or the drawing shows: write them down, look at each when it is built.'
          : `${open} of ${plural(making.checks.length, 'point')} not looked at.`}
      </p>
      <ul className="divide-y divide-hair">
        {making.checks.map((check) => (
          <li key={check.id} className="flex flex-wrap items-center gap-3 py-1">
            <span className="min-w-60 flex-1">
              <span className="text-soft">{check.kind}: </span>
              {check.text}
            </span>
            <Choice
              label={`Is it so: ${check.text}`}
              className="w-44"
              value={check.state}
              options={CHECK_STATES.map((value) => ({ value, label: STATE_WORDS[value] }))}
              onChange={(state) => {
                save(
                  check.text,
                  making.checks.map((c) => (c.id === check.id ? { ...c, state } : c)),
                )
              }}
            />
            <CommitInput
              aria-label={`Why, ${check.text}`}
              placeholder={check.state === 'departs' ? 'why that is accepted' : 'note'}
              className="w-56"
              value={check.note ?? ''}
              maxLength={1000}
              onCommit={(note) => {
                save(
                  check.text,
                  making.checks.map((c) => (c.id === check.id ? { ...c, note } : c)),
                )
              }}
            />
            <Button
              aria-label={`Strike ${check.text}`}
              onClick={() => {
                save(
                  `Struck a point of the reference`,
                  making.checks.filter((c) => c.id !== check.id),
                )
              }}
            >
              Strike
            </Button>
          </li>
        ))}
      </ul>
      <form
        className="flex flex-wrap items-center gap-2 py-2"
        onSubmit={(e) => {
          e.preventDefault()
          if (text.trim() === '') return
          save('Wrote down what the reference shows', [
            ...making.checks,
            { id: fresh(), kind, text: text.trim().slice(0, 300), state: 'open' },
          ])
          setText('')
        }}
      >
        <Choice
          label="What it is about"
          className="w-28"
          value={kind}
          options={CHECK_KINDS.map((value) => ({ value, label: value }))}
          onChange={setKind}
        />
        <TextInput
          aria-label="What the reference shows"
          className="w-80"
          placeholder="eight windows on the left side"
          value={text}
          maxLength={300}
          onChange={(e) => {
            setText(e.target.value)
          }}
        />
        <Button type="submit" disabled={text.trim() === ''}>
          Write it down
        </Button>
      </form>
    </section>
  )
}
