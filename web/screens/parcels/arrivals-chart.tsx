import { scaleTime } from 'd3-scale'
import { NEVER, NOW, SOME_DAY, type When } from '../../../core/orders/readiness.ts'
import { addDays, daysTo } from '../../../core/units/instants.ts'

const [WIDTH, LEFT, RIGHT, ROW, TOP] = [760, 190, 24, 18, 26] as const

/** A parcel, or a module, with when it is here or ready. */
export type ChartRow = {
  readonly id: string
  readonly label: string
  readonly kind: 'parcel' | 'module'
  readonly likely: When
  readonly late: When
}

const at = (when: When, today: string): string => (when === NOW ? today : when)
const isDated = (when: When): boolean => when !== NEVER && when !== SOME_DAY

/** Parcels above, modules below, against days: from likely to late, at a glance what waits for what. */
export function ArrivalsChart({ rows, today }: { rows: readonly ChartRow[]; today: string }) {
  const dated = rows.filter((r) => isDated(r.likely))
  const last = dated.reduce((most, r) => (at(r.late, today) > most ? at(r.late, today) : most), addDays(today, 7))
  const end = addDays(last, Math.max(1, Math.ceil(daysTo(today, last) * 0.05)))
  const time = (day: string) => new Date(`${day}T00:00:00Z`)
  const x = scaleTime([time(today), time(end)], [LEFT, WIDTH - RIGHT])
  const height = TOP + rows.length * ROW + 8
  const words = (r: ChartRow) =>
    r.likely === NOW ? 'now' : !isDated(r.likely) ? (r.likely === NEVER ? 'never' : 'no day known') : r.likely
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${height}`}
      className="w-full max-w-3xl"
      role="img"
      aria-label={rows.map((r) => `${r.label}: ${words(r)}`).join('; ')}
    >
      {x.ticks(6).map((tick) => (
        <g key={tick.toISOString()}>
          <line x1={x(tick)} x2={x(tick)} y1={TOP - 6} y2={height - 6} stroke="var(--hair)" />
          <text x={x(tick)} y={14} textAnchor="middle" fontSize="10" fill="var(--soft)">
            {tick.toISOString().slice(5, 10)}
          </text>
        </g>
      ))}
      {rows.map((r, i) => {
        const y = TOP + i * ROW + ROW / 2
        const [from, to] = [at(r.likely, today), at(r.late, today)]
        const parcel = r.kind === 'parcel'
        return (
          <g key={r.id}>
            <text
              x={LEFT - 8}
              y={y + 4}
              textAnchor="end"
              fontSize="11"
              fill="var(--ink)"
              fontWeight={parcel ? 700 : 400}
            >
              {r.label.length > 30 ? `${r.label.slice(0, 29)}…` : r.label}
            </text>
            {!isDated(r.likely) ? (
              <text x={LEFT + 4} y={y + 4} fontSize="11" fill="var(--warn)">
                {words(r)}
              </text>
            ) : parcel ? (
              <>
                <line
                  x1={x(time(from))}
                  x2={x(time(to))}
                  y1={y}
                  y2={y}
                  stroke="var(--accent)"
                  strokeWidth="1.5"
                  strokeDasharray="3 3"
                />
                <rect x={x(time(from)) - 4} y={y - 4} width="8" height="8" fill="var(--accent)" />
                <path d={`M${x(time(to))} ${y - 4}v8`} stroke="var(--accent)" strokeWidth="1.5" />
              </>
            ) : (
              <>
                <line x1={LEFT} x2={x(time(from))} y1={y} y2={y} stroke="var(--rule)" strokeWidth="1" />
                {isDated(r.late) && (
                  <line
                    x1={x(time(from))}
                    x2={x(time(to))}
                    y1={y}
                    y2={y}
                    stroke="var(--ink)"
                    strokeWidth="1.5"
                    strokeDasharray="3 3"
                  />
                )}
                <circle
                  cx={x(time(from))}
                  cy={y}
                  r="4.5"
                  fill={r.likely === NOW ? 'var(--ink)' : 'var(--paper)'}
                  stroke="var(--ink)"
                  strokeWidth="1.5"
                />
              </>
            )}
          </g>
        )
      })}
    </svg>
  )
}
