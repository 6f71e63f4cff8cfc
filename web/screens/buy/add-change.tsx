import { useState } from 'react'
import { otherValues } from '../../../core/build/rule-steps.ts'
import type { Changes } from '../../../core/build/scenario.ts'
import type { DesignVersion } from '../../../core/design/version.ts'
import type { Snapshot } from '../../../core/netting/snapshot.ts'
import { plural } from '../../../core/units/numbers.ts'
import type { TaskSummary } from '../../../workers/tally.worker.ts'
import type { Shop } from '../../../core/offers/shop.ts'
import { Choice, Field, NumberInput } from '../../ui/fields.tsx'
import { MORE_COPIES } from '../../store/mixes-run.ts'

const KINDS = [
  { value: 'copies', label: 'Donor copies' },
  { value: 'rules', label: 'House rule' },
  { value: 'maxShops', label: 'Orders at most' },
  { value: 'deadlineDays', label: 'Days at most' },
  { value: 'maxPieces', label: 'Loose pieces at most' },
  { value: 'shops', label: 'Shop' },
  { value: 'modules', label: 'Module' },
  { value: 'design', label: 'Design version or colourway' },
  { value: 'freed', label: 'Colours set free' },
] as const
type Kind = (typeof KINDS)[number]['value']

type Option = { readonly label: string; readonly changes: Changes }

export type ChangeSources = {
  readonly snapshot: Snapshot
  readonly versions: readonly DesignVersion[]
  readonly shops: readonly Shop[]
  readonly copies: TaskSummary['copies']
}

/** What can be chosen of a kind of change. */
function optionsOf(kind: Kind, { snapshot, versions, shops, copies }: ChangeSources): Option[] {
  const { build, design, sets } = snapshot
  switch (kind) {
    case 'copies':
      return copies.flatMap(({ id, maxCopies }) => {
        const first = snapshot.copies.find((c) => c.id === id)
        const name = sets.find((s) => s.id === first?.setId)?.name ?? first?.label ?? id
        return Array.from({ length: maxCopies + MORE_COPIES + 1 }, (_, n) => ({
          label: `${name}: ${n === 0 ? 'none' : plural(n, 'copy', 'copies')}`,
          changes: { copies: { [id]: n } },
        }))
      })
    case 'rules':
      return otherValues(build.rules).map(({ label, change }) => ({ label, changes: { rules: change } }))
    case 'shops':
      return shops.flatMap(({ id, name }) =>
        (
          [
            ['free', 'may be used'],
            ['excluded', 'avoid'],
            ['pinned', 'insist on'],
          ] as const
        )
          .filter(([stance]) => stance !== (build.rules.shops[id] ?? 'free'))
          .map(([stance, words]) => ({ label: `${name}: ${words}`, changes: { shops: { [id]: stance } } })),
      )
    case 'modules':
      return design.modules.flatMap(({ id, name, repeats, later = false, mirrored = false }) => [
        {
          label: `${name}: ${later ? 'now, not later' : 'put off'}`,
          changes: { modules: [{ module: id, later: !later }] },
        },
        ...[1, repeats - 1, repeats + 1, 2 * repeats]
          .filter((n, i, all) => n > 0 && n !== repeats && all.indexOf(n) === i)
          .map((n) => ({ label: `${name}: ${plural(n, 'time')}`, changes: { modules: [{ module: id, repeats: n }] } })),
        {
          label: `${name}: ${mirrored ? 'not mirrored' : 'mirrored'}`,
          changes: { modules: [{ module: id, mirrored: !mirrored }] },
        },
      ])
    case 'design':
      return [
        ...versions
          .filter((v) => v.buildId === build.id)
          .map((v) => ({ label: `Version: ${v.name}`, changes: { version: v.id } })),
        ...(design.colourway === undefined ? [] : [{ label: 'Colourway: as drawn', changes: { colourway: null } }]),
        ...(design.colourways ?? [])
          .filter((c) => c.id !== design.colourway)
          .map((c) => ({ label: `Colourway: ${c.name}`, changes: { colourway: c.id } })),
      ]
    case 'freed':
      return (['hidden', 'all'] as const).flatMap((which) =>
        (['near', 'free'] as const).map((freedom) => ({
          label: `${which === 'all' ? 'All lines' : 'Hidden lines'}: ${freedom === 'near' ? 'near colours' : 'any colour'}`,
          changes: { freed: { which, freedom } },
        })),
      )
    case 'maxShops':
    case 'deadlineDays':
    case 'maxPieces':
      return []
  }
}

/** Changes with one more: of a rule, a shop, a copy or a module the last word counts. */
export const withChange = (changes: Changes, more: Changes): Changes => ({
  ...changes,
  ...more,
  ...(more.rules && { rules: { ...changes.rules, ...more.rules } }),
  ...(more.shops && { shops: { ...changes.shops, ...more.shops } }),
  ...(more.copies && { copies: { ...changes.copies, ...more.copies } }),
  ...(more.modules && {
    modules: [
      ...(changes.modules ?? []).filter((m) => !more.modules?.some((n) => n.module === m.module)),
      ...more.modules.map((m) => ({ ...changes.modules?.find((n) => n.module === m.module), ...m })),
    ],
  }),
})

/** Adds one change to a scenario: first of what, then which. */
export function AddChange({
  sources,
  of,
  onAdd,
}: {
  sources: ChangeSources
  /** The scenario's name, for those who do not see where the fields stand. */
  of: string
  onAdd: (label: string, changes: Changes) => void
}) {
  const [kind, setKind] = useState<Kind>('copies')
  const options = optionsOf(kind, sources)
  return (
    <div className="flex flex-wrap items-end gap-2">
      <Field label="Add a change of">
        {(id) => <Choice id={id} value={kind} options={KINDS} onChange={setKind} />}
      </Field>
      {kind === 'maxShops' || kind === 'deadlineDays' || kind === 'maxPieces' ? (
        <NumberInput
          aria-label={`${KINDS.find((k) => k.value === kind)?.label ?? ''}, in ${of}`}
          className="w-28"
          value={null}
          empty="a number"
          min={kind === 'maxPieces' ? 0 : 1}
          max={kind === 'maxShops' ? 200 : kind === 'deadlineDays' ? 1000 : 1_000_000}
          onCommit={(n) => {
            if (n !== null) onAdd(`${KINDS.find((k) => k.value === kind)?.label ?? ''} ${n}`, { rules: { [kind]: n } })
          }}
        />
      ) : options.length === 0 ? (
        <span className="py-1.5 text-sm text-soft">There is nothing of the kind to choose.</span>
      ) : (
        <Choice
          label={`Which, in ${of}`}
          value=""
          options={options.map((o, i) => ({ value: String(i), label: o.label }))}
          onChange={(i) => {
            const option = options[Number(i)]
            if (option) onAdd(option.label, option.changes)
          }}
        />
      )}
    </div>
  )
}
