import type { CSSProperties } from 'react'
import { coveredPieces, type Coverage } from '../../core/netting/coverage.ts'

/** The segments in their fixed order, each with its own pattern as well as its colour. */
export const SEGMENTS = [
  { key: 'donor', label: 'donors', style: { background: 'var(--donor)' } },
  {
    key: 'shelf',
    label: 'shelf',
    style: { background: 'repeating-linear-gradient(45deg, var(--shelf) 0 4px, var(--sheet) 4px 5.2px)' },
  },
  {
    key: 'standIn',
    label: 'stand-ins',
    style: { background: 'radial-gradient(var(--sheet) 1.1px, var(--standin) 1.4px) 0 0 / 5px 5px' },
  },
  {
    key: 'onOrder',
    label: 'on order',
    style: { background: 'repeating-linear-gradient(90deg, var(--order) 0 4px, var(--sheet) 4px 5.2px)' },
  },
  {
    key: 'short',
    label: 'short',
    style: { background: 'repeating-linear-gradient(-45deg, var(--short) 0 1.5px, var(--sheet) 1.5px 5.5px)' },
  },
] as const satisfies readonly { key: keyof Coverage; label: string; style: CSSProperties }[]

const describeCoverage = (c: Coverage): string =>
  SEGMENTS.filter((s) => c[s.key] > 0)
    .map((s) => `${c[s.key]} ${s.label}`)
    .join(', ') || 'nothing needed'

/** A thin bar of pieces, split by where they come from. It means the same on every screen. */
export function CoverageStrip({ coverage, height = 12 }: { coverage: Coverage; height?: number }) {
  const total = coveredPieces(coverage) + coverage.short
  const text = describeCoverage(coverage)
  return (
    <span
      role="img"
      aria-label={`Coverage: ${text}`}
      title={text}
      className="flex w-full min-w-16 shrink-0 overflow-hidden border border-rule bg-sheet"
      style={{ height }}
    >
      {total > 0 &&
        SEGMENTS.filter((s) => coverage[s.key] > 0).map((s) => (
          <span key={s.key} style={{ ...s.style, width: `${(coverage[s.key] / total) * 100}%` }} />
        ))}
    </span>
  )
}

/** The strip's legend with its numbers; segments with nothing in them are left out. */
export function CoverageLegend({ coverage }: { coverage: Coverage }) {
  return (
    <ul className="flex flex-wrap gap-x-5 gap-y-1 text-sm">
      {SEGMENTS.filter((s) => coverage[s.key] > 0).map((s) => (
        <li key={s.key} className="flex items-center gap-2">
          <span aria-hidden="true" className="inline-block h-3 w-5 border border-rule" style={s.style} />
          <span>
            <b>{coverage[s.key]}</b> {s.label}
          </span>
        </li>
      ))}
    </ul>
  )
}
