import { Plus, Trash2, X } from 'lucide-react'
import { useEffect, useMemo, useRef, useState } from 'react'
import { MOST_SCENARIOS, type Scenario } from '../../../core/build/scenario.ts'
import type { Build } from '../../../core/build/build.ts'
import { rowNet, rowOutlay, type WhatIf, type WhatIfRow } from '../../../core/sourcing/what-if.ts'
import { compareNames } from '../../../core/units/collate.ts'
import { minuteOf } from '../../../core/units/instants.ts'
import type { ScenarioId } from '../../../core/units/ids.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import { add, edit, remove } from '../../../storage/journal.ts'
import type { Patience } from '../../../workers/sourcing.worker.ts'
import type { TaskSummary } from '../../../workers/tally.worker.ts'
import { fresh } from '../../store/database.ts'
import { perform } from '../../store/perform.ts'
import { isShippingKnown, type Purchase } from '../../store/purchases.ts'
import { useRecords } from '../../store/records.tsx'
import type { BuildTally } from '../../store/tallies.ts'
import { AS_IT_IS, keepWhatIf, runWhatIfs, useWhatIfs, WHAT_IFS } from '../../store/what-ifs.ts'
import { Button } from '../../ui/button.tsx'
import { CommitInput, Field, Tick } from '../../ui/fields.tsx'
import { AddChange, withChange, type ChangeSources } from './add-change.tsx'
import { AskBar } from './ask-bar.tsx'
import { changeWords, type Names } from './changes-words.ts'
import { differenceWords, shortOf } from './difference-words.ts'
import { shortProof } from './proof-words.ts'

/** Named sets of changes beside the build as it is, each with the best purchase it allows; one may become the build's. */
export function ScenariosPanel({
  tally,
  task,
  purchase,
  patience,
}: {
  tally: BuildTally
  task: TaskSummary
  /** The kept plan, where it answers the build as it is. */
  purchase: Purchase | undefined
  /** Time for the question. */
  patience: Patience
}) {
  const { snapshot, now, count, stale } = tally
  const { build } = snapshot
  const records = useRecords()
  const { versions, shops, nameItem, colourById } = records
  const [bases, setBases] = useState(false)
  const [begun, setBegun] = useState<ScenarioId>()
  const scenarios = useMemo(
    () =>
      records.scenarios
        .filter((s) => s.buildId === build.id)
        .sort((p, q) => compareNames(p.name, q.name))
        .slice(0, MOST_SCENARIOS),
    [records.scenarios, build.id],
  )
  const whatIfs = useMemo((): WhatIf[] => scenarios.map(({ id, changes }) => ({ id, changes })), [scenarios])
  const kept = purchase?.kept
  const { rows, base, study, news, at, answers } = useWhatIfs(
    'scenarios',
    tally,
    scenarios.length > 0 ? whatIfs : undefined,
    kept,
  )
  if (!isShippingKnown(shops, task.itemsOf)) return null
  const names: Names = {
    snapshot,
    versions,
    shops,
    nameItem,
    colourName: (id) => colourById.get(id)?.name ?? id,
  }
  const nameOf = (id: string) => scenarios.find((s) => s.id === id)?.name ?? 'As it is'
  const shown = [
    ...(base ? [withBases(base, rows.get(AS_IT_IS.id))] : []),
    ...whatIfs.flatMap(({ id }) => rows.get(id) ?? []),
  ]
  const asking = news?.findLast((n) => 'asking' in n)?.asking
  const sources: ChangeSources = { snapshot: now, versions, shops, copies: task.copies }
  return (
    <section aria-label="Scenarios" aria-busy={news !== undefined || study.busy} className="flex flex-col gap-3">
      <h2 className="text-base font-semibold">Scenarios side by side</h2>
      {scenarios.length === 0 ? (
        <p className="max-w-xl text-sm text-soft">
          Buy one more set, buy loose, leave a module out, make do with near colours: name what would be otherwise, and
          see what each comes to on the same stock and offers.
        </p>
      ) : (
        <>
          <AskBar
            ask="Compare them"
            limits={`${plural(whatIfs.length + 1, 'purchase')}${bases ? ', each for an owner of the donors as well' : ''}; at most ${patience.timeLimit} s in all`}
            running={
              news &&
              (asking === undefined
                ? 'Loading the solver…'
                : `Asking about: ${nameOf(asking)}; ${news.filter((n) => 'answer' in n).length} of ${whatIfs.length + 1} done.`)
            }
            onAsk={() => void runWhatIfs('scenarios', count, whatIfs, versions, { ...patience, bases }, kept, answers)}
            onStop={() => {
              WHAT_IFS.scenarios.cancel(build.id)
            }}
          />
          {!news && (
            <Tick checked={bases} onChange={setBases}>
              Also what it costs who owns the donors, and from nothing (twice the work)
            </Tick>
          )}
        </>
      )}
      {study.problem !== undefined && (
        <p role="alert" className="text-sm text-bad">
          {study.problem}
        </p>
      )}
      {shown.some((row) => row.old) && at !== undefined && !news && (
        <p className="border-l-4 border-warn bg-raised px-3 py-2 text-sm">
          What has no figures was asked on {minuteOf(at)}, for another state of the build or of the offers. Ask again.
        </p>
      )}
      {!news && shown.length > 0 && (
        <>
          <Differences base={base} rows={shown} nameOf={nameOf} currency={build.currency} />
          <ScenarioTable
            rows={shown}
            nameOf={nameOf}
            isScenario={(id) => scenarios.some((s) => s.id === id)}
            build={build}
            disabled={stale}
            onKeep={(row) => {
              const scenario = scenarios.find((s) => s.id === row.id)
              if (!scenario) return
              void keepWhatIf(count, now.build, scenario.changes, row, versions, `Made “${scenario.name}” the build’s`)
            }}
          />
        </>
      )}
      {scenarios.map((scenario) => (
        <ScenarioItem
          key={scenario.id}
          scenario={scenario}
          fault={rows.get(scenario.id)?.fault?.message}
          begun={scenario.id === begun}
          names={names}
          sources={sources}
        />
      ))}
      <div className="flex items-center gap-3 text-sm">
        <Button
          disabled={scenarios.length >= MOST_SCENARIOS}
          onClick={() => {
            const taken = new Set(scenarios.map((s) => s.name))
            let n = scenarios.length + 1
            while (taken.has(`Scenario ${n}`)) n++
            const scenario: Scenario = {
              id: `w-${fresh()}` as ScenarioId,
              buildId: build.id,
              name: `Scenario ${n}`,
              changes: {},
            }
            setBegun(scenario.id)
            void perform(`Began “${scenario.name}”`, [add('scenarios', [scenario])])
          }}
        >
          <Plus size={14} aria-hidden="true" /> New scenario
        </Button>
        {scenarios.length >= MOST_SCENARIOS && (
          <span className="text-soft">Six are compared at most: remove one first.</span>
        )}
      </div>
    </section>
  )
}

/** The build as it is, with what other bases come to where that was asked with as many copies. */
const withBases = (base: WhatIfRow, asItIs: WhatIfRow | undefined): WhatIfRow =>
  asItIs?.bases && asItIs.sums?.copies === base.sums?.copies ? { ...base, bases: asItIs.bases } : base

/** What each scenario differs in from the build as it is. */
function Differences({
  base,
  rows,
  nameOf,
  currency,
}: {
  base: WhatIfRow | undefined
  rows: readonly WhatIfRow[]
  nameOf: (id: string) => string
  currency: string
}) {
  if (!base?.sums) return null
  return (
    <ul className="text-sm">
      {rows.flatMap((row) => {
        const words = row.id === base.id ? '' : differenceWords(base, row, currency)
        return words === ''
          ? []
          : [
              <li key={row.id}>
                <b>{nameOf(row.id)}</b> {words}.
              </li>,
            ]
      })}
    </ul>
  )
}

/** A figure of a scenario; undefined where it is not known. */
type FigureOf = {
  readonly words: string
  readonly strong?: boolean
  readonly of: (row: WhatIfRow) => string | undefined
}

function figures(currency: string, withBases: boolean): FigureOf[] {
  const money = (minor: number | undefined) => (minor === undefined ? undefined : formatMoney(minor, currency))
  const count = (n: number | undefined) => (n === undefined ? undefined : formatNumber(n))
  return [
    { words: 'Pieces needed', of: ({ task }) => count(task?.need) },
    { words: 'Short of what is there', of: ({ task }) => count(task?.short) },
    { words: 'Goods', of: ({ sums }) => money(sums?.cost.goods) },
    { words: 'Shipping', of: ({ sums }) => money(sums?.cost.shipping) },
    {
      words: 'Fees',
      of: ({ sums }) => money(sums && sums.cost.handling + sums.cost.lineFees + sums.cost.service),
    },
    { words: 'Duty and tax', of: ({ sums }) => money(sums && (sums.cost.levies ?? 0)) },
    { words: 'Donor copies', of: ({ sums }) => money(sums?.cost.sets) },
    { words: 'Prints', of: ({ sums, task }) => money(sums && sums.prints + (task?.beside ?? 0)) },
    { words: 'Up front', strong: true, of: (row) => money(rowOutlay(row)) },
    { words: 'Resale, likely', of: ({ sums }) => money(sums && -sums.resale.likely) },
    { words: 'Net', strong: true, of: (row) => money(rowNet(row)) },
    ...(withBases
      ? [
          {
            words: 'Who owns the donors',
            of: ({ bases }: WhatIfRow) =>
              bases &&
              `${formatMoney(bases.owner, currency)}${bases.ownerLeftOut > 0 ? `, ${formatNumber(bases.ownerLeftOut)} not to be had` : ''}`,
          },
          {
            words: 'From nothing',
            of: ({ bases }: WhatIfRow) =>
              bases &&
              `${formatMoney(bases.nothing, currency)}${bases.unknownPrices > 0 ? `, ${plural(bases.unknownPrices, 'copy', 'copies')} of unknown price` : ''}`,
          },
        ]
      : []),
    { words: 'Not to be had', of: (row) => (row.sums ? count(shortOf(row)) : undefined) },
    { words: 'Loose pieces', of: ({ sums }) => count(sums?.loose) },
    { words: 'Stand-ins', of: ({ sums, task }) => count(sums && sums.standIns + (task?.standIns ?? 0)) },
    { words: 'Copies bought', of: ({ sums }) => count(sums?.copies) },
    { words: 'Orders', of: ({ sums }) => count(sums?.orders) },
    { words: 'Last arrival, days', of: ({ sums }) => count(sums?.lastDay) },
    { words: 'Left over', of: ({ sums }) => count(sums?.surplus) },
  ]
}

function ScenarioTable({
  rows,
  nameOf,
  isScenario,
  build: { currency },
  disabled,
  onKeep,
}: {
  rows: readonly WhatIfRow[]
  nameOf: (id: string) => string
  isScenario: (id: string) => boolean
  build: Build
  disabled: boolean
  onKeep: (row: WhatIfRow) => void
}) {
  const solved = rows.some((row) => row.sums)
  const said = figures(
    currency,
    rows.some((row) => row.bases),
  ).filter(({ of }) => rows.some((row) => of(row) !== undefined))
  return (
    <table aria-label="Figures of the scenarios" className="w-full text-xs">
      <thead>
        <tr className="border-b border-rule align-bottom text-xs">
          <th scope="col">
            <span className="sr-only">Figure</span>
          </th>
          {rows.map((row) => (
            <th key={row.id} scope="col" className="py-1 pl-2 text-right font-semibold">
              {nameOf(row.id)}
              <span className="block font-normal text-soft">
                {row.fault ? 'cannot be made' : row.plan ? planWords(row) : row.old ? 'asked before' : 'not asked'}
              </span>
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {said.map(({ words, strong = false, of }) => (
          <tr key={words} className="border-b border-hair">
            <th scope="row" className={`py-1 text-left whitespace-nowrap ${strong ? 'font-bold' : 'font-normal'}`}>
              {words}
            </th>
            {rows.map((row) => (
              <td key={row.id} className={`py-1 pl-2 text-right whitespace-nowrap ${strong ? 'font-bold' : ''}`}>
                {of(row) ?? ''}
              </td>
            ))}
          </tr>
        ))}
        {solved && (
          <tr>
            <th scope="row" className="text-left">
              <span className="sr-only">Act</span>
            </th>
            {rows.map((row) => (
              <td key={row.id} className="py-2 pl-2 text-right">
                {isScenario(row.id) && row.sums && (
                  <Button
                    aria-label={`Make ${nameOf(row.id)} the build’s`}
                    disabled={disabled}
                    onClick={() => {
                      onKeep(row)
                    }}
                  >
                    Make it so
                  </Button>
                )}
              </td>
            ))}
          </tr>
        )}
      </tbody>
    </table>
  )
}

const planWords = ({ plan }: WhatIfRow): string => (plan ? shortProof(plan) : '')

/** A scenario as it is written: its name and its changes, each of which can be taken out. */
function ScenarioItem({
  scenario,
  fault,
  begun,
  names,
  sources,
}: {
  scenario: Scenario
  fault: string | undefined
  /** It was just begun: its name is typed first. */
  begun: boolean
  names: Names
  sources: ChangeSources
}) {
  const { name, changes } = scenario
  const words = changeWords(changes, names)
  const write = (label: string, next: Partial<Scenario>) =>
    void perform(`${name}: ${label}`, [edit('scenarios', scenario, { ...scenario, ...next })])
  const [open, setOpen] = useState(words.length === 0)
  const group = useRef<HTMLDivElement>(null)
  useEffect(() => {
    if (begun) group.current?.querySelector('input')?.focus()
  }, [begun])
  return (
    <div ref={group} role="group" aria-label={name} className="border-l-2 border-rule pl-3 text-sm">
      {fault !== undefined && (
        <p role="alert" className="mb-1 border-l-4 border-bad bg-bad-wash px-3 py-1">
          {name}: {fault}
        </p>
      )}
      <details
        open={open}
        onToggle={(e) => {
          setOpen(e.currentTarget.open)
        }}
      >
        <summary className="cursor-pointer py-0.5 hover:bg-raised">
          <b>{name}</b>{' '}
          <span className="text-soft">
            {words.length === 0 ? 'as the build is: add what would be otherwise' : words.map((w) => w.words).join('; ')}
          </span>
        </summary>
        <div className="flex flex-col gap-2 py-2">
          <div className="flex flex-wrap items-end gap-2">
            <Field label="Name">
              {(id) => (
                <CommitInput
                  id={id}
                  value={name}
                  maxLength={120}
                  className="w-80"
                  onCommit={(text) => {
                    const next = text.trim()
                    if (next === '') return { problem: 'A name is needed.' }
                    write(`renamed to “${next}”`, { name: next })
                    return undefined
                  }}
                />
              )}
            </Field>
            <Button
              aria-label={`Remove ${name}`}
              onClick={() => void perform(`Removed “${name}”`, [remove('scenarios', [scenario.id])])}
            >
              <Trash2 size={14} aria-hidden="true" /> Remove
            </Button>
          </div>
          {words.length > 0 && (
            <ul className="flex flex-wrap gap-2">
              {words.map((change) => (
                <li key={change.words} className="flex items-center gap-1 rounded-sm border border-rule pl-2">
                  {change.words}
                  <button
                    type="button"
                    aria-label={`Take out: ${change.words}`}
                    className="flex size-6 items-center justify-center hover:bg-raised"
                    onClick={() => {
                      write(`without ${change.words}`, { changes: change.without })
                    }}
                  >
                    <X size={14} aria-hidden="true" />
                  </button>
                </li>
              ))}
            </ul>
          )}
          <AddChange
            sources={sources}
            of={name}
            onAdd={(label, more) => {
              write(label, { changes: withChange(changes, more) })
            }}
          />
        </div>
      </details>
    </div>
  )
}
