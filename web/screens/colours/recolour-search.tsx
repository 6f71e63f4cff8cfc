import { useMemo, useState } from 'react'
import type { ColourSwap } from '../../../core/design/design.ts'
import { exchanged } from '../../../core/design/recolour.ts'
import type { Snapshot } from '../../../core/netting/snapshot.ts'
import type { Tally } from '../../../core/netting/tally.ts'
import type { ColourId, ModuleId } from '../../../core/units/ids.ts'
import { edit } from '../../../storage/journal.ts'
import { perform } from '../../store/perform.ts'
import { useRecords } from '../../store/records.tsx'
import { useStudy } from '../../store/use-study.ts'
import { Button } from '../../ui/button.tsx'
import { Choice } from '../../ui/fields.tsx'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import { StudyNote } from '../../pieces/study-note.tsx'
import { Swatch } from '../../ui/swatch.tsx'

/** Which exchange of colours in a module turns the most shortfall into stock. */
export function RecolourSearch({ snapshot, result }: { snapshot: Snapshot; result: Tally }) {
  const { colourById } = useRecords()
  const { design } = snapshot
  const worst = useMemo(
    () =>
      [...design.modules].sort(
        (p, q) => (result.byModule.get(q.id)?.short ?? 0) - (result.byModule.get(p.id)?.short ?? 0),
      ),
    [design, result],
  )
  const [asked, setAsked] = useState<ModuleId | undefined>()
  const module = design.modules.find((m) => m.id === asked) ?? worst[0]
  const study = useStudy('recolourings', snapshot, module?.id)
  const nameOf = (id: ColourId) => colourById.get(id)?.name ?? id.slice(2)
  const mark = (id: ColourId) => (
    <span key={id} className="flex items-center gap-1.5 py-0.5">
      <Swatch hex={colourById.get(id)?.hex} />
      {nameOf(id)}
    </span>
  )
  const wordsOf = (swaps: readonly ColourSwap[]) =>
    swaps.map(({ from, to }) => `${nameOf(from)} to ${nameOf(to)}`).join(' and ')
  if (!module) return <p className="text-sm">The design has no modules yet.</p>
  const found = study.value?.found ?? []
  return (
    <div className="flex min-h-0 flex-1 flex-col gap-3 overflow-auto">
      <div className="flex flex-wrap items-center gap-3 text-sm">
        Colours exchanged in
        <Choice
          label="Module"
          value={module.id as string}
          options={worst.map((m) => ({
            value: m.id as string,
            label: `${m.name} (${result.byModule.get(m.id)?.short ?? 0} short)`,
          }))}
          onChange={(id) => {
            setAsked(id as ModuleId)
          }}
        />
        <StudyNote study={study} />
      </div>
      {!study.busy && study.value && (
        <>
          <h2 className="font-display text-lg font-medium">
            {found[0] ? (
              <>
                {wordsOf(found[0].swaps)} leaves <b>{found[0].short} short</b>, {plural(found[0].gain, 'piece')} fewer
                {found[0].otherFinish && ', in a colour of another finish'}.
              </>
            ) : (
              'No exchange in this module leaves fewer pieces short.'
            )}
          </h2>
          {found.length > 0 && (
            <table className="w-full max-w-4xl text-sm">
              <caption className="sr-only">Exchanges of colours, the best first</caption>
              <thead>
                <tr className="border-b border-ink text-xs text-soft">
                  <th className="py-1 text-left font-semibold">From</th>
                  <th className="text-left font-semibold">To</th>
                  <th className="text-right font-semibold">Fewer short</th>
                  <th className="text-right font-semibold">Short then</th>
                  <th className="text-right font-semibold">Pieces changed</th>
                  <th className="text-right font-semibold">Farthest to the eye</th>
                  <th>
                    <span className="sr-only">Do it</span>
                  </th>
                </tr>
              </thead>
              <tbody>
                {found.slice(0, 30).map((r) => (
                  <tr key={wordsOf(r.swaps)} className="border-b border-hair">
                    <td className="py-1">{r.swaps.map((s) => mark(s.from))}</td>
                    <td>{r.swaps.map((s) => mark(s.to))}</td>
                    <td className="text-right font-semibold">{r.gain}</td>
                    <td className="text-right">{formatNumber(r.short)}</td>
                    <td className="text-right">{formatNumber(r.pieces)}</td>
                    <td className="text-right">
                      {r.distance.toFixed(1)}
                      {r.otherFinish && <span className="block text-xs text-warn">another finish</span>}
                    </td>
                    <td className="py-1 pl-4 text-right">
                      <Button
                        aria-label={`Exchange ${wordsOf(r.swaps)}`}
                        onClick={() =>
                          void perform(`Recoloured ${module.name}`, [
                            edit('designs', design, exchanged(design, module.id, r.swaps)),
                          ])
                        }
                      >
                        Do it
                      </Button>
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
          <p className="text-xs text-soft">
            Each was tried by netting the whole design again; the best exchanges also with a second and a third. Under 2
            apart is hardly seen, over 20 is another colour.{' '}
            {study.value.proven ? 'Every single exchange was tried.' : 'Only the most promising ones were tried.'}
          </p>
        </>
      )}
    </div>
  )
}
