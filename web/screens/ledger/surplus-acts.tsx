import { useState } from 'react'
import { piecesLeft, type Left } from '../../../core/settling/surplus.ts'
import type { Sale } from '../../../core/settling/sale.ts'
import { MOST_AMOUNT, parseMinor, decimal } from '../../../core/units/money.ts'
import { plural } from '../../../core/units/numbers.ts'
import { useRecords } from '../../store/records.tsx'
import { keepLeft, offerLeft } from '../../store/selling.ts'
import type { BuildTally } from '../../store/tallies.ts'
import { Button } from '../../ui/button.tsx'
import { Dialog } from '../../ui/dialog.tsx'
import { Choice, Field, NumberInput, TextInput } from '../../ui/fields.tsx'
import type { SurplusRow } from './surplus-row.ts'

const NOBODY = 'nobody'

/** Part of a leftover of one item. */
const partOf = (left: Left, qty: number): Left => ({ ...left, pieces: left.pieces.map((p) => ({ ...p, qty })) })

/** What can be done with the chosen leftovers: keep them in a place, hold them for a build, sell them, give them away. */
export function SurplusActs({ rows, tally, today }: { rows: readonly SurplusRow[]; tally: BuildTally; today: string }) {
  const { places, builds } = useRecords()
  const { build } = tally.now
  const [only] = rows.length === 1 ? rows : []
  const single = only && only.left.pieces.length === 1 && !only.left.figure ? only.left : undefined
  const [some, setSome] = useState<number | null>(null)
  const left = single && some !== null ? [partOf(single, some)] : rows.map((r) => r.left)
  const pieces = left.reduce((n, l) => n + piecesLeft(l), 0)
  const homes = places.filter((p) => !['model', 'post', 'promise'].includes(p.kind))
  const [to, setTo] = useState<string | undefined>()
  const [forBuild, setForBuild] = useState(() => only?.takers[0]?.build ?? NOBODY)
  const [selling, setSelling] = useState<Sale['way'] | undefined>()
  const place = homes.find((p) => p.id === to) ?? homes[0]
  const holdFor = builds.find((b) => b.id === forBuild)
  if (rows.length === 0)
    return <p className="text-sm text-soft">Choose a row, or several with Shift or Ctrl, to keep, sell or give away.</p>
  const waits = tally.stale
  return (
    <div role="group" aria-label="What becomes of it" className="flex flex-wrap items-center gap-2 text-sm">
      {single && piecesLeft(single) > 1 ? (
        <NumberInput
          aria-label="How many pieces"
          className="w-16"
          min={1}
          max={piecesLeft(single)}
          value={pieces}
          onCommit={setSome}
        />
      ) : (
        <b>{plural(pieces, 'piece')}</b>
      )}
      <span>to</span>
      <Choice
        label="Place"
        className="w-44"
        value={(place?.id ?? '') as string}
        options={homes.map((p) => ({ value: p.id as string, label: p.name }))}
        onChange={setTo}
      />
      <Choice
        label="Hold for"
        className="w-48"
        value={forBuild}
        options={[
          { value: NOBODY, label: 'for no build' },
          ...builds.filter((b) => b.id !== build.id).map((b) => ({ value: b.id as string, label: `for ${b.name}` })),
        ]}
        onChange={setForBuild}
      />
      <Button
        disabled={waits || !place}
        onClick={() => {
          if (place) void keepLeft(left, build.id, place, holdFor)
        }}
      >
        Keep them there
      </Button>
      <Button
        disabled={waits}
        onClick={() => {
          setSelling('price')
        }}
      >
        Sell…
      </Button>
      <Button
        disabled={waits}
        onClick={() => {
          setSelling('gift')
        }}
      >
        Give away…
      </Button>
      {waits && <span className="text-soft">Counting again…</span>}
      {selling && (
        <SaleDialog
          rows={rows}
          left={left}
          tally={tally}
          today={today}
          first={selling}
          onClose={() => {
            setSelling(undefined)
          }}
        />
      )}
    </div>
  )
}

const WAYS = [
  { value: 'price', label: 'at a price' },
  { value: 'auction', label: 'to who bids most' },
  { value: 'gift', label: 'for nothing' },
] as const

function SaleDialog({
  rows,
  left,
  tally,
  today,
  first,
  onClose,
}: {
  rows: readonly SurplusRow[]
  left: readonly Left[]
  tally: BuildTally
  today: string
  first: Sale['way']
  onClose: () => void
}) {
  const { build } = tally.now
  const pieces = left.reduce((n, l) => n + piecesLeft(l), 0)
  const whole = rows.reduce((n, r) => n + piecesLeft(r.left), 0)
  // Part of a row brings its share.
  const share = (sum: (r: SurplusRow) => number) =>
    Math.floor((rows.reduce((n, r) => n + sum(r), 0) * pieces) / Math.max(1, whole))
  const [title, setTitle] = useState(
    rows.length === 1 ? (rows[0]?.name ?? '') : `${plural(pieces, 'piece')} of ${build.name}`.slice(0, 200),
  )
  const [way, setWay] = useState<Sale['way']>(first)
  const text = (minor: number) => decimal(minor, build.currency)
  // What is not known is left open.
  const known = (minor: number) => (minor === 0 ? '' : text(minor))
  const [ask, setAsk] = useState(() => known(share((r) => r.may.asked)))
  const [likely, setLikely] = useState(() => known(share((r) => r.may.likely)))
  const [hoped, setHoped] = useState(() => known(share((r) => r.may.hoped)))
  const [problem, setProblem] = useState('')
  const offer = async () => {
    const read = (typed: string) => (typed.trim() === '' ? undefined : parseMinor(typed, build.currency))
    const sums = [ask, likely, hoped].map(read)
    const amiss = [ask, likely, hoped].some((typed, i) => {
      const minor = sums[i]
      return typed.trim() !== '' && (minor === undefined || minor < 0 || minor > MOST_AMOUNT)
    })
    if (way !== 'gift' && amiss) {
      setProblem(`Amounts such as ${text(1250)} are expected; what is not known is left open.`)
      return
    }
    const [asked, low, high] = sums
    const how = {
      title: title.trim().slice(0, 200) || plural(pieces, 'piece'),
      way,
      currency: build.currency,
      ...(way !== 'gift' && {
        ...(asked !== undefined && { ask: asked }),
        ...(low !== undefined && { likely: low }),
        ...(high !== undefined && { hoped: high }),
      }),
    }
    if (await offerLeft(left, build.id, how, today)) onClose()
  }
  const amounts = [
    [way === 'auction' ? 'Begins at' : 'Asking price', ask, setAsk],
    ['Likely', likely, setLikely],
    ['Hoped for', hoped, setHoped],
  ] as const
  return (
    <Dialog
      open
      onOpenChange={onClose}
      title={way === 'gift' ? 'Give away' : 'Offer for sale'}
      description={`${plural(pieces, 'piece')} ${pieces === 1 ? 'is' : 'are'} set aside: no build counts on them until they come back.`}
    >
      <form
        className="flex flex-col gap-3"
        onSubmit={(e) => {
          e.preventDefault()
          void offer()
        }}
      >
        <Field label="What it is">
          {(id) => (
            <TextInput
              id={id}
              value={title}
              maxLength={200}
              onChange={(e) => {
                setTitle(e.target.value)
              }}
            />
          )}
        </Field>
        <Field label="How">{(id) => <Choice id={id} value={way} options={WAYS} onChange={setWay} />}</Field>
        {way !== 'gift' && (
          <div className="grid grid-cols-3 gap-3">
            {amounts.map(([label, value, set]) => (
              <Field key={label} label={`${label}, ${build.currency}`}>
                {(id) => (
                  <TextInput
                    id={id}
                    inputMode="decimal"
                    placeholder="not known"
                    value={value}
                    onChange={(e) => {
                      set(e.target.value)
                    }}
                  />
                )}
              </Field>
            ))}
          </div>
        )}
        {problem && (
          <p role="alert" className="text-sm text-bad">
            {problem}
          </p>
        )}
        <div>
          <Button type="submit" look="primary" disabled={tally.stale}>
            {way === 'gift' ? 'Set aside' : 'Offer it'}
          </Button>
        </div>
      </form>
    </Dialog>
  )
}
