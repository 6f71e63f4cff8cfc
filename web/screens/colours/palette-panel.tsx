import { Link } from 'react-router'
import { seenAs, type Vision } from '../../../core/colours/vision.ts'
import type { Design } from '../../../core/design/design.ts'
import type { ColourCount, LookAlike } from '../../../core/studies/recolouring.ts'
import type { ColourId } from '../../../core/units/ids.ts'
import { useRecords } from '../../store/records.tsx'
import { formatNumber, plural } from '../../../core/units/numbers.ts'

/** The palette by count: what is needed, how much of it is seen, what is short, and what donors and shelf hold. */
export function PalettePanel({
  counts,
  alike,
  design,
  vision,
}: {
  counts: readonly ColourCount[]
  alike: readonly LookAlike[]
  design: Design
  vision: Vision
}) {
  const { colourById, partById } = useRecords()
  const needed = counts.filter((c) => c.need > 0)
  const unused = counts.filter((c) => c.need === 0).slice(0, 8)
  const total = needed.reduce((n, c) => n + c.need, 0)
  const nameOf = (id: ColourId) => colourById.get(id)?.name ?? id.slice(2)
  const hexOf = (id: ColourId) => seenAs(colourById.get(id)?.hex ?? '#9a9a9a', vision)
  const moduleOf = new Map(design.modules.map((m) => [m.id, m.name]))
  const largest = Math.max(1, ...counts.map((c) => Math.max(c.need, c.donors + c.shelf)))
  const bar = (pieces: number) => `${Math.max(pieces > 0 ? 1 : 0, (pieces / largest) * 100)}%`
  return (
    <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_19rem] gap-6 overflow-auto max-[960px]:grid-cols-1">
      <div className="flex min-w-0 flex-col gap-4">
        <div
          role="img"
          aria-label={`The palette: ${needed.map((c) => `${nameOf(c.colour)} ${formatNumber(c.need)}`).join(', ')}`}
          className="flex h-8 border border-rule"
        >
          {needed.map((c) => (
            <span
              key={c.colour}
              title={`${nameOf(c.colour)}: ${formatNumber(c.need)}`}
              style={{ background: hexOf(c.colour), width: `${(c.need / Math.max(1, total)) * 100}%` }}
            />
          ))}
        </div>
        <table className="w-full text-sm">
          <caption className="sr-only">Colours of the design with what there is of each</caption>
          <thead>
            <tr className="border-b border-ink text-xs text-soft">
              <th className="py-1 text-left font-semibold">Colour</th>
              <th className="text-right font-semibold">Needed</th>
              <th className="pl-3 text-right font-semibold">Seen</th>
              <th className="pl-3 text-right font-semibold">Short</th>
              <th className="w-40 pl-4 text-left font-semibold">Needed against there</th>
              <th className="pl-3 text-right font-semibold">Donors</th>
              <th className="pl-3 text-right font-semibold">Shelf</th>
              <th className="pl-4 text-left font-semibold">Most of it in</th>
            </tr>
          </thead>
          <tbody>
            {[...needed, ...unused].map((c) => {
              const [top] = [...c.byModule].sort((p, q) => q[1] - p[1])
              return (
                <tr key={c.colour} className="border-b border-hair">
                  <th scope="row" className="py-1 text-left font-normal">
                    <span className="flex items-center gap-2">
                      <span
                        aria-hidden="true"
                        className="inline-block size-4 shrink-0 border border-soft"
                        style={{ background: hexOf(c.colour) }}
                      />
                      {nameOf(c.colour)}
                    </span>
                  </th>
                  <td className="text-right">{formatNumber(c.need)}</td>
                  <td className="pl-3 text-right">{c.need > 0 ? `${Math.round((c.seen * 100) / c.need)}%` : ''}</td>
                  <td className={`pl-3 text-right ${c.short > 0 ? 'font-semibold text-bad' : ''}`}>
                    {formatNumber(c.short)}
                  </td>
                  <td className="pl-4">
                    <span aria-hidden="true" className="flex flex-col gap-0.5">
                      <span className="h-1.5 bg-ink" style={{ width: bar(c.need) }} />
                      <span className="flex h-1.5">
                        <span style={{ background: 'var(--donor)', width: bar(c.donors) }} />
                        <span style={{ background: 'var(--shelf)', width: bar(c.shelf) }} />
                      </span>
                    </span>
                  </td>
                  <td className="pl-3 text-right">{c.donors}</td>
                  <td className="pl-3 text-right">{c.shelf}</td>
                  <td className="max-w-40 truncate pl-4">
                    {top ? (
                      <Link
                        className="underline"
                        to={`/build/${encodeURIComponent(design.id)}/design?module=${top[0]}`}
                      >
                        {moduleOf.get(top[0])} ({top[1]})
                      </Link>
                    ) : (
                      <span className="text-soft">not needed</span>
                    )}
                  </td>
                </tr>
              )
            })}
          </tbody>
        </table>
      </div>
      <section aria-label="Look-alikes" className="flex flex-col gap-2 text-sm">
        <h2 className="text-base font-semibold">Look-alikes at the table</h2>
        {alike.length === 0 ? (
          <p className="text-soft">No part is about in two colours that are mixed up easily.</p>
        ) : (
          <>
            <p className="text-xs text-soft">
              The same part in colours under 12 apart (CIEDE2000, same finish). Sort them by daylight, apart.
            </p>
            <ul>
              {alike.slice(0, 30).map((a) => (
                <li key={a.colours.join()} className="border-b border-hair py-1.5">
                  <span className="flex items-center gap-2">
                    {a.colours.map((c) => (
                      <span
                        key={c}
                        aria-hidden="true"
                        className="inline-block size-4 border border-soft"
                        style={{ background: hexOf(c) }}
                      />
                    ))}
                    <b>{a.colours.map(nameOf).join(' and ')}</b>
                  </span>
                  <span className="text-xs text-soft">
                    {a.distance.toFixed(1)} apart, in {plural(a.parts.length, 'part')}:{' '}
                    {a.parts
                      .slice(0, 3)
                      .map((p) => partById.get(p)?.name ?? p)
                      .join(', ')}
                  </span>
                </li>
              ))}
            </ul>
          </>
        )}
      </section>
    </div>
  )
}
