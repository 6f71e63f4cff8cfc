import { minutesWords } from '../../../core/units/minutes.ts'
import { Tags } from 'lucide-react'
import { useMemo, useState } from 'react'
import { shareOutWork, type Pile, type PileRule, type School, type SortPlan } from '../../../core/making/sort-plan.ts'
import { RATE_PILES, sortRate, USUAL_RATES } from '../../../core/making/sort-rate.ts'
import { heapOf } from '../../../core/making/conversion.ts'
import { isThere } from '../../../core/shelf/leftovers.ts'
import { placeStates } from '../../../core/shelf/place-state.ts'
import type { CopyId, PlaceId } from '../../../core/units/ids.ts'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import { useAboutCount } from '../../store/about-count.ts'
import { saveMaking } from '../../store/making.ts'
import { useRecords } from '../../store/records.tsx'
import { ItemName } from '../../pieces/item-name.tsx'
import { Button } from '../../ui/button.tsx'
import { Field, NumberInput, TextInput, Tick } from '../../ui/fields.tsx'
import { PrintButton } from '../../ui/print-button.tsx'
import { LabelDialog } from './label-dialog.tsx'
import { workName } from './make-words.ts'
import type { MakeView } from './make-view.ts'

const SCHOOL_WORDS: Readonly<Record<School, string>> = {
  'by type': 'By type',
  'by colour': 'By colour',
  'by module': 'By what it is for',
  mixed: 'As people do it',
}

const USUAL_PILES = 20
/** Kinds of a pile that are named; the rest are counted. */
const NAMED = 6

/** What lies in piles: into which to sort it, how long that takes, and whether another way would be sooner. */
export function SortView(view: MakeView) {
  const { at, tally } = view
  const { copies, places, holdings, makings } = useRecords()
  const { build } = tally.now
  const own = copies.filter((c) => c.buildId === build.id && isThere(c))
  const heaps = useMemo(() => looseHeaps(places, holdings), [places, holdings])
  const [chosen, setChosen] = useState<ReadonlySet<string>>(() => new Set(own.map((c) => c.id)))
  const [school, setSchool] = useState<School>('mixed')
  const [labels, setLabels] = useState(false)
  const { making } = at
  const most = making.piles ?? USUAL_PILES
  const people = making.people ?? 1
  const rate = useMemo(() => sortRate(makings.flatMap((m) => m.sorts)), [makings])
  const question = useMemo(
    () => ({
      poured: {
        copies: [...chosen].filter((id): id is CopyId => id.startsWith('y-')),
        places: [...chosen].filter((id): id is PlaceId => id.startsWith('l-')),
        heap: copies.filter((c) => chosen.has(c.id)).flatMap((c) => heapOf(c, at.units)),
      },
      piles: most,
      rate: rate.likely,
    }),
    [chosen, most, rate.likely, copies, at.units],
  )
  const { value: plans, busy, problem, retry } = useAboutCount(tally.count, 'sort', question)
  const plan = plans?.find((p) => p.school === school)
  return (
    <div className="relative flex min-h-0 flex-1 flex-col gap-4 overflow-auto text-sm">
      <fieldset className="no-print flex flex-wrap items-center gap-x-5 gap-y-2">
        <legend className="font-semibold">Poured out together</legend>
        {[...own.map((c) => ({ id: c.id as string, name: c.label })), ...heaps].map(({ id, name }) => (
          <Tick
            key={id}
            checked={chosen.has(id)}
            onChange={(on) => {
              const next = new Set(chosen)
              if (on) next.add(id)
              else next.delete(id)
              setChosen(next)
            }}
          >
            {name}
          </Tick>
        ))}
        {own.length + heaps.length === 0 && <span>No copy and no box of this build is here.</span>}
      </fieldset>
      <div className="no-print flex flex-wrap items-end gap-4">
        <Field label="Piles at most">
          {(id) => (
            <NumberInput
              id={id}
              className="w-20"
              value={most}
              min={2}
              max={60}
              onCommit={(n) => void saveMaking('Piles to sort into', making, { ...making, piles: n ?? USUAL_PILES })}
            />
          )}
        </Field>
        <Field label="People">
          {(id) => (
            <NumberInput
              id={id}
              className="w-20"
              value={people}
              min={1}
              max={20}
              onCommit={(n) => void saveMaking('People at the table', making, { ...making, people: n ?? 1 })}
            />
          )}
        </Field>
        <TimedSorting view={view} piles={plan?.piles.length ?? most} />
        <p className="text-xs text-soft">
          {formatNumber(rate.likely)} pieces an hour and person into {RATE_PILES} piles,{' '}
          {rate.timed === 0
            ? `common practice (${formatNumber(USUAL_RATES.low)} to ${formatNumber(USUAL_RATES.high)}): time your own sorting`
            : `by ${plural(rate.timed, 'timed sorting')} of yours (${formatNumber(rate.low)} to ${formatNumber(rate.high)})`}
          .
        </p>
      </div>
      {problem !== undefined && (
        <p role="alert" className="flex items-center gap-3 border-l-4 border-bad bg-bad-wash px-3 py-2">
          The piles could not be worked out: {problem}. <Button onClick={retry}>Try again</Button>
        </p>
      )}
      {!plans && problem === undefined && <p role="status">Working out the piles…</p>}
      {plans && plan && (
        <div aria-busy={busy} className="flex flex-col gap-4">
          <Schools plans={plans} school={school} people={people} onChoose={setSchool} />
          <div className="no-print flex flex-wrap gap-3">
            <PrintButton label="Print the sort plan" />
            <Button
              onClick={() => {
                setLabels(true)
              }}
            >
              <Tags size={14} aria-hidden="true" /> Labels for the trays
            </Button>
          </div>
          <Piles plan={plan} view={view} printed={!labels} />
          <Shares view={view} people={people} />
        </div>
      )}
      {labels && plan && (
        <PileLabels
          plan={plan}
          view={view}
          onClose={() => {
            setLabels(false)
          }}
        />
      )}
    </div>
  )
}

/** Places that hold loose pieces of several kinds: what may be poured out. The fullest first. */
function looseHeaps(
  places: ReturnType<typeof useRecords>['places'],
  holdings: ReturnType<typeof useRecords>['holdings'],
): { readonly id: string; readonly name: string }[] {
  const states = placeStates(places)
  const sums = new Map<string, number>()
  for (const h of holdings) sums.set(h.place, (sums.get(h.place) ?? 0) + h.qty)
  return places
    .filter((p) => p.kind === 'box' && states.get(p.id)?.kind === 'loose' && (sums.get(p.id) ?? 0) > 0)
    .sort((p, q) => (sums.get(q.id) ?? 0) - (sums.get(p.id) ?? 0))
    .slice(0, 12)
}

/** The ways to sort beside one another: time to sort and time to search, for all people together. */
function Schools({
  plans,
  school,
  people,
  onChoose,
}: {
  plans: readonly SortPlan[]
  school: School
  people: number
  onChoose: (school: School) => void
}) {
  const total = (p: SortPlan) => p.sortMinutes + p.searchMinutes
  const least = Math.min(...plans.map(total))
  const longest = Math.max(1, ...plans.map(total))
  return (
    <table aria-label="Ways to sort" className="no-print max-w-4xl [&_td]:py-1">
      <thead>
        <tr className="border-b border-rule text-left text-xs text-soft">
          <th className="py-1 font-semibold">Way</th>
          <th className="text-right font-semibold">Piles</th>
          <th className="pl-4 text-right font-semibold">To sort</th>
          <th className="pl-4 text-right font-semibold">To search</th>
          <th className="pl-4 text-right font-semibold">Together</th>
          <th className="w-56 pl-4 font-semibold">Sorting, then searching</th>
          <td />
        </tr>
      </thead>
      <tbody>
        {plans.map((p) => (
          <tr key={p.school} className={`border-b border-hair ${p.school === school ? 'bg-mark' : ''}`}>
            <th scope="row" className="py-1 text-left font-normal">
              {SCHOOL_WORDS[p.school]}
              {total(p) === least && <b> · soonest</b>}
            </th>
            <td className="text-right">{p.piles.length}</td>
            <td className="pl-4 text-right whitespace-nowrap">{minutesWords(p.sortMinutes / people)}</td>
            <td className="pl-4 text-right whitespace-nowrap">{minutesWords(p.searchMinutes / people)}</td>
            <td className="pl-4 text-right font-semibold whitespace-nowrap">{minutesWords(total(p) / people)}</td>
            <td className="pl-4">
              <span aria-hidden="true" className="flex h-3 border border-rule bg-sheet">
                <span style={{ width: `${(p.sortMinutes / longest) * 100}%`, background: 'var(--shelf)' }} />
                <span
                  style={{
                    width: `${(p.searchMinutes / longest) * 100}%`,
                    background: 'repeating-linear-gradient(45deg, var(--order) 0 4px, var(--sheet) 4px 5.2px)',
                  }}
                />
              </span>
            </td>
            <td className="text-right">
              <Button
                aria-pressed={p.school === school}
                aria-label={`Show the piles ${SCHOOL_WORDS[p.school].toLowerCase()}`}
                onClick={() => {
                  onChoose(p.school)
                }}
              >
                Show
              </Button>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

/** A family in the plural: "bricks", "inverted slopes", "windows". */
const manyOf = (family: string): string =>
  /(?:legs|glass|s)$/.test(family) ? family : /(?:ch|sh|x)$/.test(family) ? `${family}es` : `${family}s`

/** What a pile is told by, in words: what is sorted before it needs no words. */
function useRuleWords({ at, tally }: MakeView): (pile: Pick<Pile, 'rules'>) => string {
  const { partById, colourById } = useRecords()
  const workOf = new Map(at.works.map((w) => [w.key, w]))
  const one = ({ rule }: PileRule): string => {
    switch (rule.kind) {
      case 'big':
        return 'big pieces'
      case 'small':
        return 'small pieces'
      case 'family':
        return rule.family === 'unknown' ? 'shapes not known' : manyOf(rule.family)
      case 'part':
        return partById.get(rule.part)?.name ?? rule.part.slice(2)
      case 'colour':
        return colourById.get(rule.colour)?.name ?? rule.colour.slice(2)
      case 'only for': {
        const work = workOf.get(rule.work)
        return `only for ${work ? workName(work, tally.now.design) : 'a module that is gone'}`
      }
      case 'not needed':
        return 'not needed'
    }
  }
  return ({ rules }) => {
    const yes = rules.filter((r) => r.is).map(one)
    if (rules.length === 0) return 'Everything'
    const [first = 'The rest', ...more] = yes
    return [first.charAt(0).toUpperCase() + first.slice(1), ...more].join(', ')
  }
}

function Piles({ plan, view, printed }: { plan: SortPlan; view: MakeView; printed: boolean }) {
  const words = useRuleWords(view)
  const { nameItem } = useRecords()
  return (
    <div className={printed ? 'print-area' : ''}>
      <h2 className="font-display text-base font-medium">
        {SCHOOL_WORDS[plan.school]}: {plural(plan.piles.length, 'pile')} of {plural(plan.pieces, 'piece')}
      </h2>
      <p className="text-xs text-soft">Sort in this order: what fits an earlier pile goes there.</p>
      <ol aria-label="Piles" className="grid grid-cols-[repeat(auto-fill,minmax(19rem,1fr))] gap-x-6">
        {plan.piles.map((pile, i) => (
          <li key={i} className="break-inside-avoid border-b border-hair py-1.5">
            <p>
              <b>
                {i + 1}. {words(pile)}
              </b>
              {pile.tray && <span className="text-soft"> · in a tray</span>}
            </p>
            <p className="text-soft">
              {plural(pile.pieces, 'piece')}, {plural(pile.items.length, 'kind')}; searching it:{' '}
              {minutesWords(pile.searchMinutes)}
            </p>
            <span className="flex flex-wrap gap-1">
              {pile.items.slice(0, NAMED).map(({ item, qty }) => (
                <span key={item} className="flex items-center gap-1 text-xs" title={nameItem(item).name}>
                  {qty} × <ItemName item={item} size={22} />
                </span>
              ))}
              {pile.items.length > NAMED && (
                <span className="text-xs text-soft">and {pile.items.length - NAMED} more kinds</span>
              )}
            </span>
            {pile.mixUps.length > 0 && (
              <p className="text-xs text-warn">
                Tell apart by eye:{' '}
                {pile.mixUps
                  .slice(0, 3)
                  .map((m) => `${nameItem(m.one).name} and ${nameItem(m.other).name}`)
                  .join('; ')}
                {pile.mixUps.length > 3 && ` and ${pile.mixUps.length - 3} more pairs`}
              </p>
            )}
          </li>
        ))}
      </ol>
    </div>
  )
}

function PileLabels({ plan, view, onClose }: { plan: SortPlan; view: MakeView; onClose: () => void }) {
  const words = useRuleWords(view)
  return (
    <LabelDialog
      labels={plan.piles.map((pile, i) => ({
        title: `${i + 1}. ${words(pile)}`,
        lines: [`${plural(pile.pieces, 'piece')}, ${plural(pile.items.length, 'kind')}`],
      }))}
      onClose={onClose}
    />
  )
}

/** Modules that helpers can build side by side, shared out by how long each takes. */
function Shares({ view: { next, progress, tally }, people }: { view: MakeView; people: number }) {
  if (people < 2) return null
  const jobs = next.filter((n) => n.missing === 0)
  const minutes = (n: (typeof jobs)[number]) => progress.forecast.each.get(n.work.key)?.likely ?? 0
  const shares = shareOutWork(jobs, minutes, people)
  return (
    <section aria-label="For helpers">
      <h2 className="font-display text-base font-medium">Side by side</h2>
      {jobs.length === 0 ? (
        <p>Of no module all pieces are here: there is nothing to share out yet.</p>
      ) : (
        <ol className="list-decimal pl-6">
          {shares.map((share, i) => (
            <li key={i}>
              {share.jobs.length === 0
                ? 'nothing left to build: fetches for the others'
                : share.jobs.map((j) => workName(j.work, tally.now.design)).join(', ')}
              {share.jobs.length > 0 && <span className="text-soft">, {minutesWords(share.minutes)}</span>}
            </li>
          ))}
        </ol>
      )}
      <p className="text-xs text-soft">
        The longest module first, to whoever has least to do. All repeats that are open.
      </p>
    </section>
  )
}

/** The user's own sorting timed: pieces and minutes, from which the rate is known. */
function TimedSorting({ view: { at, today }, piles }: { view: MakeView; piles: number }) {
  const [pieces, setPieces] = useState('')
  const [minutes, setMinutes] = useState('')
  const { making } = at
  const read = (text: string) => (/^\d+$/.test(text.trim()) ? Number(text) : 0)
  const [p, m] = [read(pieces), read(minutes)]
  const good = p >= 1 && p <= 1_000_000 && m >= 1 && m <= 100_000
  return (
    <form
      className="flex flex-wrap items-end gap-2"
      onSubmit={(e) => {
        e.preventDefault()
        if (!good) return
        const sort = { id: crypto.randomUUID(), on: today, person: 'me', pieces: p, minutes: m, piles }
        void saveMaking(`Timed the sorting of ${plural(p, 'piece')}`, making, {
          ...making,
          sorts: [...making.sorts, sort],
        }).then(() => {
          setPieces('')
          setMinutes('')
        })
      }}
    >
      <Field label="I sorted pieces">
        {(id) => (
          <TextInput
            id={id}
            inputMode="numeric"
            className="w-24"
            value={pieces}
            onChange={(e) => {
              setPieces(e.target.value)
            }}
          />
        )}
      </Field>
      <Field label="in minutes">
        {(id) => (
          <TextInput
            id={id}
            inputMode="numeric"
            className="w-20"
            value={minutes}
            onChange={(e) => {
              setMinutes(e.target.value)
            }}
          />
        )}
      </Field>
      <Button type="submit" disabled={!good}>
        Note the time
      </Button>
    </form>
  )
}
