import type { ColourwayResult } from '../../../core/studies/colourways.ts'
import { Plus, Trash2 } from 'lucide-react'
import { useDeferredValue, useMemo, useState } from 'react'
import { splitItemKey } from '../../../core/catalogue/item.ts'
import type { Colourway } from '../../../core/design/design.ts'
import { explode } from '../../../core/design/explode.ts'
import type { Snapshot } from '../../../core/netting/snapshot.ts'
import type { ColourId } from '../../../core/units/ids.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { fresh } from '../../store/database.ts'
import { useRecords } from '../../store/records.tsx'
import { useStudy } from '../../store/use-study.ts'
import { AskMarket } from '../../pieces/ask-market.tsx'
import { Button } from '../../ui/button.tsx'
import { ColourChoice } from '../../pieces/colour-choice.tsx'
import { Choice, CommitInput } from '../../ui/fields.tsx'
import { StudyNote } from '../../pieces/study-note.tsx'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import type { EditDesign } from './edit-design.ts'
import { LimitingParts } from './limiting-parts.tsx'
import { useKnown } from './use-known.ts'
import { ColourwayBlocks } from './colourway-blocks.tsx'
import { ColourwayModuleSwaps } from './colourway-module-swaps.tsx'

const DRAWN = '-'

/** Several colour schemes of one design side by side, and what is tight in each. */
export function ColourwaysView({ edit, snapshot }: { edit: EditDesign; snapshot: Snapshot }) {
  const records = useRecords()
  const { build } = snapshot
  const known = useKnown(build.currency)
  const settled = useDeferredValue(snapshot)
  const { offers, shops, copies } = records
  const question = useMemo(() => ({ offers, shops, copies }), [offers, shops, copies])
  const study = useStudy('colourways', snapshot, question)
  const results = study.value ?? []
  const colourways = edit.design.colourways ?? []
  const [shown, setShown] = useState<string | undefined>()
  const chosen = colourways.find((c) => c.id === shown) ?? colourways[0]
  const drawn = useMemo(() => {
    const counts = new Map<ColourId, number>()
    for (const r of explode(settled.design, { parts: settled.parts, colourway: null })) {
      const { colour } = splitItemKey(r.item)
      counts.set(colour, (counts.get(colour) ?? 0) + r.qty)
    }
    return [...counts].sort((p, q) => q[1] - p[1])
  }, [settled])
  const write = (label: string, next: readonly Colourway[], quiet = true) => {
    edit.save(label, { ...edit.design, colourways: [...next] }, [], quiet)
  }
  const change = (label: string, next: Colourway) => {
    write(
      label,
      colourways.map((c) => (c.id === next.id ? next : c)),
    )
  }
  const use = (id: string | null) => {
    const { colourway: _, ...rest } = edit.design
    edit.save(
      id === null ? 'Builds it as drawn' : `Builds it in ${colourways.find((c) => c.id === id)?.name ?? 'a colourway'}`,
      id === null ? rest : { ...rest, colourway: id },
      [],
      false,
    )
  }
  const tightest = [...results].sort((p, q) => q.neverSeen.length - p.neverSeen.length || q.short - p.short)[0]
  return (
    <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_24rem] gap-6 overflow-auto max-[960px]:grid-cols-1">
      <div className="flex min-w-0 flex-col gap-4">
        <StudyNote study={study} />
        <table className="w-full text-sm" aria-busy={study.busy}>
          <caption className="mb-1 text-left text-base font-semibold">
            {study.value === undefined
              ? study.problem === undefined
                ? 'Counting every scheme…'
                : 'No scheme was counted.'
              : results.length < 2 || !tightest
                ? 'One scheme so far: add another to compare.'
                : `Tightest is ${tightest.name}: ${plural(tightest.neverSeen.length, 'item')} not known in its colour, ${formatNumber(tightest.short)} short`}
          </caption>
          <thead>
            <tr className="border-b border-ink text-xs text-soft">
              <th className="py-1 text-left font-semibold">Scheme</th>
              <th className="pl-3 text-right font-semibold">Pieces changed</th>
              <th className="pl-3 text-right font-semibold">Not known in it</th>
              <th className="pl-3 text-right font-semibold">Short</th>
              <th className="pl-3 text-right font-semibold">Goods</th>
              <th className="pl-3 text-right font-semibold">Not offered</th>
              <th>
                <span className="sr-only">Choice</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {results.map((r) => (
              <SchemeRow
                key={r.id ?? DRAWN}
                result={r}
                active={(edit.design.colourway ?? null) === r.id}
                currency={build.currency}
                onBuild={use}
              />
            ))}
          </tbody>
        </table>
        <p className="text-xs text-soft">
          Goods alone, at the cheapest allowed offers known; shipping and fees come on top.
        </p>
        {results.some((r) => r.unavailable > 0) && (
          <span>
            <AskMarket items={[...new Set(results.flatMap((r) => r.shortItems))]}>
              Ask the market for what is short in any scheme
            </AskMarket>
          </span>
        )}
        <ColourwayBlocks
          results={results
            .filter((r) => r.neverSeen.length > 0)
            .map((r) => ({ name: r.name, items: r.neverSeen.map((n) => n.item) }))}
          known={known}
        />
        <LimitingParts drawn={drawn.map(([c]) => c)} colourways={colourways} known={known} />
      </div>
      <section aria-label="Colourway" className="flex min-w-0 flex-col gap-3 text-sm">
        <div className="flex flex-wrap items-center gap-2">
          {colourways.length > 0 && chosen && (
            <Choice
              label="Colourway"
              value={chosen.id}
              options={colourways.map((c) => ({ value: c.id, label: c.name }))}
              onChange={setShown}
            />
          )}
          <Button
            onClick={() => {
              const next: Colourway = { id: fresh(), name: `Scheme ${colourways.length + 2}`, colours: [] }
              write(`Added ${next.name}`, [...colourways, next])
              setShown(next.id)
            }}
          >
            <Plus size={14} aria-hidden="true" /> Add a colourway
          </Button>
        </div>
        {chosen && <SchemeEditor edit={edit} chosen={chosen} drawn={drawn} onChange={change} />}
      </section>
    </div>
  )
}

/** One scheme in numbers, and the button that builds it in it. */
function SchemeRow({
  result: r,
  active,
  currency,
  onBuild,
}: {
  result: ColourwayResult
  active: boolean
  currency: string
  onBuild: (id: string | null) => void
}) {
  return (
    <tr className={`border-b border-hair ${active ? 'bg-mark' : ''}`}>
      <th scope="row" className="py-1.5 text-left font-semibold">
        {r.name}
      </th>
      <td className="text-right">{r.changed}</td>
      <td className={`text-right ${r.neverSeen.length > 0 ? 'font-semibold text-bad' : ''}`}>{r.neverSeen.length}</td>
      <td className="text-right">{formatNumber(r.short)}</td>
      <td className="text-right">{r.cost === 0 && r.unavailable > 0 ? 'no offers' : formatMoney(r.cost, currency)}</td>
      <td className="text-right">{r.unavailable}</td>
      <td className="py-1 pl-3 text-right">
        {active ? (
          <span className="text-xs text-soft">in use</span>
        ) : (
          <Button
            aria-label={`Build it in ${r.name}`}
            onClick={() => {
              onBuild(r.id)
            }}
          >
            Use it
          </Button>
        )}
      </td>
    </tr>
  )
}

/** Name of a colourway, and what each colour of the design becomes in it. */
function SchemeEditor({
  edit,
  chosen,
  drawn,
  onChange,
}: {
  edit: EditDesign
  chosen: Colourway
  drawn: readonly (readonly [ColourId, number])[]
  onChange: (label: string, next: Colourway) => void
}) {
  const records = useRecords()
  const colourways = edit.design.colourways ?? []
  return (
    <>
      <span className="flex flex-wrap gap-2">
        <CommitInput
          aria-label="Name of the colourway"
          value={chosen.name}
          maxLength={80}
          className="flex-1 font-semibold"
          onCommit={(name) => {
            if (name.trim() !== '') onChange('Renamed a colourway', { ...chosen, name: name.trim() })
          }}
        />
        <Button
          aria-label={`Remove ${chosen.name}`}
          onClick={() => {
            const { colourway, ...rest } = edit.design
            edit.save(
              `Removed ${chosen.name}`,
              {
                ...rest,
                ...(colourway === undefined || colourway === chosen.id ? {} : { colourway }),
                colourways: colourways.filter((c) => c.id !== chosen.id),
              },
              [],
              false,
            )
          }}
        >
          <Trash2 size={14} aria-hidden="true" />
        </Button>
      </span>
      <ul className="flex flex-col gap-1.5">
        {drawn.map(([from, qty]) => {
          const name = records.colourById.get(from)?.name ?? from.slice(2)
          return (
            <li key={from} className="grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)] items-center gap-2">
              <span className="flex min-w-0 items-center gap-2">
                <span
                  aria-hidden="true"
                  className="inline-block size-4 shrink-0 border border-soft"
                  style={{ background: records.colourById.get(from)?.hex ?? '#9a9a9a' }}
                />
                <span className="truncate">{name}</span>
                <span className="text-soft">{formatNumber(qty)}</span>
              </span>
              <ColourChoice
                label={`${name} becomes`}
                none="stays"
                value={chosen.colours.find((c) => c.from === from && c.module === undefined)?.to}
                onChange={(to) => {
                  const others = chosen.colours.filter((c) => c.from !== from || c.module !== undefined)
                  onChange(`${chosen.name}: ${name} ${to ? 'exchanged' : 'stays'}`, {
                    ...chosen,
                    colours: [...others, ...(to ? [{ from, to }] : [])],
                  })
                }}
              />
            </li>
          )
        })}
      </ul>
      <ColourwayModuleSwaps edit={edit} colourway={chosen} colours={drawn.map(([c]) => c)} onChange={onChange} />
    </>
  )
}
