import { Ban, Check, Pin } from 'lucide-react'
import type { Decision } from '../../../core/build/decision.ts'
import type { LineChoice } from '../../../core/studies/line-choices.ts'
import type { Snapshot } from '../../../core/netting/snapshot.ts'
import type { Supply } from '../../../core/netting/supply-rows.ts'
import type { TallyLine } from '../../../core/netting/tally.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { useAboutCount } from '../../store/about-count.ts'
import type { Count } from '../../store/count-store.ts'
import { decide, takeBack } from '../../store/decide.ts'
import { useRecords } from '../../store/records.tsx'
import { AnswerNote } from '../../pieces/answer-note.tsx'
import { Button } from '../../ui/button.tsx'
import { ItemName } from '../../pieces/item-name.tsx'
import { Menu } from '../../ui/menu.tsx'
import { plural } from '../../../core/units/numbers.ts'
import { sourceWords } from '../../pieces/source-words.ts'
import { STAND_IN_WORDS } from '../../pieces/stand-in-words.ts'

const MOST_SHOWN = 24

/** What could cover the line, and the user's say: pin a supply, accept a stand-in, forbid it here or everywhere. */
export function LineChoicesPanel({ line, snapshot, count }: { line: TallyLine; snapshot: Snapshot; count: Count }) {
  const answer = useAboutCount(count, 'choices', line.id)
  const choices = answer.value ?? []
  const pins = (snapshot.decisions ?? []).filter(({ what }) => what.kind === 'pin' && what.line === line.line)
  return (
    <section aria-label="Choices">
      <h3 className="font-semibold">What could cover it</h3>
      {pins.length > 0 && <Pins pins={pins} snapshot={snapshot} />}
      <AnswerNote answer={answer} />
      {answer.value === undefined || answer.busy ? null : choices.length === 0 ? (
        <p className="text-soft">Nothing there is would do, by the rules or otherwise.</p>
      ) : (
        <ul className="mt-1 divide-y divide-hair border-y border-hair">
          {choices.slice(0, MOST_SHOWN).map((choice) => (
            <ChoiceRow
              key={`${choice.kind} ${choice.uses.map((u) => `${u.qty} ${u.item}`).join(' ')}`}
              choice={choice}
              line={line}
              snapshot={snapshot}
            />
          ))}
        </ul>
      )}
    </section>
  )
}

function Pins({ pins, snapshot }: { pins: readonly Decision[]; snapshot: Snapshot }) {
  const { nameItem } = useRecords()
  return (
    <ul className="mt-1">
      {pins.map(({ id, what }) =>
        what.kind !== 'pin' ? null : (
          <li key={id} className="flex items-center justify-between gap-2 py-1">
            <span>
              <Pin size={12} aria-hidden="true" className="inline" /> {what.qty} × {nameItem(what.source.item).name}{' '}
              pinned{' '}
              {what.source.kind === 'copy'
                ? `from ${snapshot.copies.find((c) => c.id === (what.source.kind === 'copy' ? what.source.copy : ''))?.label ?? 'a copy that is gone'}`
                : 'from the shelf'}
            </span>
            <Button
              className="px-2"
              onClick={() => {
                void takeBack('Took a pin back', [{ id }])
              }}
            >
              Unpin
            </Button>
          </li>
        ),
      )}
    </ul>
  )
}

function ChoiceRow({ choice, line, snapshot }: { choice: LineChoice; line: TallyLine; snapshot: Snapshot }) {
  const { nameItem } = useRecords()
  const { build } = snapshot
  const { kind, uses, points, have, free, here, forbidden, accepted, supplies } = choice
  const name = uses.map((u) => (u.qty > 1 ? `${u.qty} × ${nameItem(u.item).name}` : nameItem(u.item).name)).join(' + ')
  const plain = uses.map((u) => ({ item: u.item, qty: u.qty }))
  const forbid = (scope: 'here' | 'build' | 'always') => {
    const words = { here: 'on this line', build: 'in this build', always: 'in every build' }[scope]
    void decide(`${name} never stands in ${words}`, scope === 'always' ? null : build.id, [
      { kind: 'forbid', item: line.item, uses: plain, ...(scope === 'here' ? { line: line.line } : {}) },
    ])
  }
  const pin = (supply: Supply, qty: number) => {
    const { source } = supply
    if (source.kind === 'built') return
    void decide(`Pinned ${qty} × ${name}`, build.id, [
      {
        kind: 'pin',
        line: line.line,
        qty,
        source:
          source.kind === 'copy'
            ? { kind: 'copy', copy: source.copy, stage: source.stage, item: supply.item }
            : { kind: 'shelf', holding: source.holding, item: supply.item },
      },
    ])
  }
  const worth = points * build.rules.pointPrice
  const standsIn = kind !== 'exact' && kind !== 'chosen'
  return (
    <li className="py-1.5">
      <div className="flex flex-wrap items-center gap-x-2 gap-y-1">
        {uses.map((u) => (
          <span key={u.item} className="flex items-center gap-1">
            {u.qty > 1 && <b>{u.qty} ×</b>}
            <ItemName item={u.item} size={26} />
          </span>
        ))}
      </div>
      <p className="text-xs text-soft">
        {kind === 'exact'
          ? 'The piece itself'
          : kind === 'chosen'
            ? 'Not allowed by the rules; a pin overrides them'
            : `${STAND_IN_WORDS[kind]}, ${plural(points, 'point')}${worth > 0 ? ` (worth ${formatMoney(worth, build.currency)})` : ''}`}
        . {have} there{here > 0 && `, ${here} here`}, {free} left over
        {accepted.length > 0 && '; accepted'}
        {forbidden.length > 0 && '; forbidden'}.
      </p>
      <div className="mt-1 flex flex-wrap gap-1.5">
        {supplies.length > 0 && (
          <Menu
            label="Pin"
            entries={supplies.slice(0, 8).map(({ supply, free: left }) => {
              const qty = Math.min(line.need, supply.qty)
              return {
                label: `${qty} from ${sourceWords(supply.source, snapshot)} (${supply.qty} there, ${left} left over)`,
                icon: <Pin size={14} aria-hidden="true" />,
                onSelect: () => {
                  pin(supply, qty)
                },
              }
            })}
          />
        )}
        {standsIn &&
          (accepted.length > 0 ? (
            <Button
              className="px-2"
              onClick={() => {
                void takeBack('A stand-in is open again', accepted)
              }}
            >
              Not accepted
            </Button>
          ) : (
            <Button
              className="px-2"
              title="As good as the piece itself on this line"
              onClick={() => {
                void decide(`Accepted ${name}`, build.id, [
                  { kind: 'accept', line: line.line, item: line.item, uses: plain },
                ])
              }}
            >
              <Check size={14} aria-hidden="true" /> Accept
            </Button>
          ))}
        {standsIn &&
          (forbidden.length > 0 ? (
            <Button
              className="px-2"
              onClick={() => {
                void takeBack('A stand-in is allowed again', forbidden)
              }}
            >
              Allow again
            </Button>
          ) : (
            <Menu
              label="Forbid"
              entries={(
                [
                  ['here', 'On this line'],
                  ['build', 'In this build'],
                  ['always', 'In every build'],
                ] as const
              ).map(([scope, label]) => ({
                label,
                icon: <Ban size={14} aria-hidden="true" />,
                onSelect: () => {
                  forbid(scope)
                },
              }))}
            />
          ))}
      </div>
    </li>
  )
}
