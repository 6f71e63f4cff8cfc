import { formatNumber } from '../../../core/units/numbers.ts'
import { useMemo, useState } from 'react'
import { Link } from 'react-router'
import { moduleTree } from '../../../core/design/arrange-modules.ts'
import type { Design } from '../../../core/design/design.ts'
import { coveredPieces } from '../../../core/netting/coverage.ts'
import type { Tally } from '../../../core/netting/tally.ts'
import { Button } from '../../ui/button.tsx'
import { CoverageStrip } from '../../pieces/coverage-strip.tsx'

/** More modules than one reads through: then those with most short come first, and the others when asked for. */
const MANY = 40

/** What is needed of each module and how far it is covered; a module counts those within it as well. */
export function ModuleTable({ design, result }: { design: Design; result: Tally }) {
  const [all, setAll] = useState(false)
  const rows = useMemo(() => moduleTree(design).filter(({ module: m }) => m.repeats > 0 && !m.later), [design])
  const nested = rows.some(({ depth }) => depth > 0)
  const few = rows.length > MANY && !all
  const shortOf = (row: (typeof rows)[number]) => result.byModule.get(row.module.id)?.short ?? 0
  const shown = few ? [...rows].sort((p, q) => shortOf(q) - shortOf(p)).slice(0, MANY) : rows
  return (
    <>
      <table className="mt-2 w-full text-sm">
        <caption className="sr-only">Modules and their coverage</caption>
        <thead>
          <tr className="border-b border-ink text-left text-xs text-soft">
            <th className="py-1 pr-2 font-semibold">Module</th>
            <th className="px-2 text-right font-semibold">Repeats</th>
            <th className="px-2 text-right font-semibold">Pieces</th>
            <th className="w-2/5 px-2 font-semibold">Coverage</th>
            <th className="pl-2 text-right font-semibold">Short</th>
          </tr>
        </thead>
        <tbody>
          {shown.map(({ module, depth }) => {
            const coverage = result.byModule.get(module.id)
            return (
              <tr key={module.id} className="border-b border-hair">
                <td className="py-1.5 pr-2" style={few ? undefined : { paddingLeft: depth * 14 }}>
                  <Link
                    className="hover:underline"
                    to={`/build/${encodeURIComponent(design.id)}/tally?module=${module.id}`}
                  >
                    {module.name}
                  </Link>
                </td>
                <td className="px-2 text-right">{module.repeats}</td>
                <td className="px-2 text-right">{coverage ? coveredPieces(coverage) + coverage.short : 0}</td>
                <td className="px-2">{coverage && <CoverageStrip coverage={coverage} />}</td>
                <td className="pl-2 text-right font-semibold">{coverage?.short ?? 0}</td>
              </tr>
            )
          })}
        </tbody>
      </table>
      {nested && (
        <p className="text-xs text-soft">
          A module counts the modules within it as well; {few ? 'so the rows add up to more' : 'those are indented'}.
        </p>
      )}
      {rows.length > MANY && (
        <Button
          className="self-start"
          onClick={() => {
            setAll(!all)
          }}
        >
          {few ? `Show all ${formatNumber(rows.length)} modules` : `Show the ${MANY} with most short`}
        </Button>
      )}
    </>
  )
}
