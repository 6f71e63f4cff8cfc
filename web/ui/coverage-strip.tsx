import { useId } from 'react'
import { coveredPieces, type Coverage } from '../../core/planning/tally.ts'

/** The segments in their fixed order, each with its own pattern as well as its colour. */
export const SEGMENTS = [
  { key: 'donor', label: 'donors', colour: 'var(--donor)', pattern: 'solid' },
  { key: 'shelf', label: 'shelf', colour: 'var(--shelf)', pattern: 'hatch' },
  { key: 'standIn', label: 'stand-ins', colour: 'var(--standin)', pattern: 'dots' },
  { key: 'onOrder', label: 'on order', colour: 'var(--order)', pattern: 'rungs' },
  { key: 'short', label: 'short', colour: 'var(--short)', pattern: 'open' },
] as const

type Pattern = (typeof SEGMENTS)[number]['pattern']

function PatternDefs({ id }: { id: string }) {
  return (
    <defs>
      <pattern id={`${id}-hatch`} width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <rect width="6" height="6" fill="var(--shelf)" />
        <rect width="1.6" height="6" fill="var(--sheet)" />
      </pattern>
      <pattern id={`${id}-dots`} width="5" height="5" patternUnits="userSpaceOnUse">
        <rect width="5" height="5" fill="var(--standin)" />
        <circle cx="2.5" cy="2.5" r="1.1" fill="var(--sheet)" />
      </pattern>
      <pattern id={`${id}-rungs`} width="5" height="5" patternUnits="userSpaceOnUse">
        <rect width="5" height="5" fill="var(--order)" />
        <rect width="1.2" height="5" fill="var(--sheet)" />
      </pattern>
      <pattern id={`${id}-open`} width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(-45)">
        <rect width="7" height="7" fill="var(--sheet)" />
        <rect width="1.8" height="7" fill="var(--short)" />
      </pattern>
    </defs>
  )
}

const fill = (id: string, pattern: Pattern, colour: string) => (pattern === 'solid' ? colour : `url(#${id}-${pattern})`)

export const describeCoverage = (c: Coverage): string =>
  SEGMENTS.filter((s) => c[s.key] > 0)
    .map((s) => `${c[s.key]} ${s.label}`)
    .join(', ') || 'nothing needed'

/** A thin bar of pieces, split by where they come from. It means the same on every screen. */
export function CoverageStrip({ coverage, height = 12 }: { coverage: Coverage; height?: number }) {
  const id = useId()
  const total = coveredPieces(coverage) + coverage.short
  const text = describeCoverage(coverage)
  const widths = SEGMENTS.map((s) => (total === 0 ? 0 : (coverage[s.key] / total) * 1000))
  return (
    <svg
      role="img"
      aria-label={`Coverage: ${text}`}
      viewBox={`0 0 1000 ${height}`}
      preserveAspectRatio="none"
      className="block w-full min-w-16"
      style={{ height }}
    >
      <title>{text}</title>
      <PatternDefs id={id} />
      {SEGMENTS.map((segment, i) => {
        const x = widths.slice(0, i).reduce((sum, w) => sum + w, 0)
        return (
          <rect
            key={segment.key}
            x={x}
            width={widths[i]}
            height={height}
            fill={fill(id, segment.pattern, segment.colour)}
          />
        )
      })}
      <rect
        x="0.5"
        y="0.5"
        width="999"
        height={height - 1}
        fill="none"
        stroke="var(--rule)"
        vectorEffect="non-scaling-stroke"
      />
    </svg>
  )
}

/** The strip's legend with its numbers; segments with nothing in them are left out. */
export function CoverageLegend({ coverage }: { coverage: Coverage }) {
  const id = useId()
  return (
    <ul className="flex flex-wrap gap-x-5 gap-y-1 text-sm">
      {SEGMENTS.filter((s) => coverage[s.key] > 0).map((segment) => (
        <li key={segment.key} className="flex items-center gap-2">
          <svg width="18" height="12" aria-hidden="true" className="border border-rule">
            <PatternDefs id={id} />
            <rect width="18" height="12" fill={fill(id, segment.pattern, segment.colour)} />
          </svg>
          <span>
            <b>{coverage[segment.key]}</b> {segment.label}
          </span>
        </li>
      ))}
    </ul>
  )
}
