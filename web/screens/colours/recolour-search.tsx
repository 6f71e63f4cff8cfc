import { useMemo, useState } from 'react'
import { exchanged } from '../../../core/design/recolour.ts'
import type { Snapshot } from '../../../core/planning/snapshot.ts'
import type { Tally } from '../../../core/planning/tally.ts'
import type { ColourId, ModuleId } from '../../../core/units/ids.ts'
import { put } from '../../../storage/journal.ts'
import { perform } from '../../data/perform.ts'
import { useRecords } from '../../data/records.tsx'
import { useStudy } from '../../data/use-study.ts'
import { Button } from '../../ui/button.tsx'
import { Choice } from '../../ui/fields.tsx'
import { plural } from '../../ui/screen.tsx'
import { StudyNote } from '../../ui/study-note.tsx'

/** Which exchange of one colour in a module turns the most shortfall into stock. */
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
  const mark = (id: ColourId) => (
    <span className="inline-flex items-center gap-1.5">
      <span
        aria-hidden="true"
        className="inline-block size-4 border border-soft"
        style={{ background: colourById.get(id)?.hex ?? '#9a9a9a' }}
      />
      {colourById.get(id)?.name ?? id.slice(2)}
    </span>
  )
  if (!module) return <p className="text-sm">The design has no modules yet.</p>
  const found = study.value?.found ?? []
  return (
    <div className="flex min-h-0 flex-1 flex-col gap-3 overflow-auto">
      <div className="flex flex-wrap items-center gap-3 text-sm">
        One colour exchanged in
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
                {colourById.get(found[0].from)?.name} to {colourById.get(found[0].to)?.name} leaves{' '}
                <b>{found[0].short} short</b>, {plural(found[0].gain, 'piece')} fewer.
              </>
            ) : (
              'No single exchange in this module leaves fewer pieces short.'
            )}
          </h2>
          {found.length > 0 && (
            <table className="w-full max-w-4xl text-sm">
              <caption className="sr-only">Exchanges of one colour, the best first</caption>
              <thead>
                <tr className="border-b border-ink text-xs text-soft">
                  <th className="py-1 text-left font-semibold">From</th>
                  <th className="text-left font-semibold">To</th>
                  <th className="text-right font-semibold">Fewer short</th>
                  <th className="text-right font-semibold">Short then</th>
                  <th className="text-right font-semibold">Pieces changed</th>
                  <th className="text-right font-semibold">Distance to the eye</th>
                  <th>
                    <span className="sr-only">Do it</span>
                  </th>
                </tr>
              </thead>
              <tbody>
                {found.slice(0, 30).map((r) => (
                  <tr key={`${r.from} ${r.to}`} className="border-b border-hair">
                    <td className="py-1">{mark(r.from)}</td>
                    <td>{mark(r.to)}</td>
                    <td className="text-right font-semibold">{r.gain}</td>
                    <td className="text-right">{r.short}</td>
                    <td className="text-right">{r.pieces}</td>
                    <td className="text-right">{r.distance.toFixed(1)}</td>
                    <td className="py-1 pl-4 text-right">
                      <Button
                        aria-label={`Exchange ${colourById.get(r.from)?.name ?? ''} for ${colourById.get(r.to)?.name ?? ''}`}
                        onClick={() =>
                          void perform(`Recoloured ${module.name}`, [
                            put('designs', [exchanged(design, module.id, [{ from: r.from, to: r.to }])]),
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
            Each exchange was tried by netting the whole design again. Under 2 apart is hardly seen, over 20 is another
            colour. {study.value.proven ? '' : 'Only the most promising ones were tried.'}
          </p>
        </>
      )}
    </div>
  )
}
