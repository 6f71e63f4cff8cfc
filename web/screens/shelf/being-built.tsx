import { useMemo } from 'react'
import { Link } from 'react-router'
import { piecesIn } from '../../../core/making/unit.ts'
import type { BuildId } from '../../../core/units/ids.ts'
import { plural } from '../../../core/units/numbers.ts'
import { useRecords } from '../../store/records.tsx'

/** Pieces that have left the shelf and the boxes for models that are being built. */
export function BeingBuilt() {
  const { units, builds } = useRecords()
  const sums = useMemo(() => {
    const pieces = new Map<BuildId, number>()
    for (const unit of units)
      if (unit.standsIn === undefined) pieces.set(unit.build, (pieces.get(unit.build) ?? 0) + piecesIn(unit))
    return [...pieces].filter(([, n]) => n > 0)
  }, [units])
  if (sums.length === 0) return null
  return (
    <ul aria-label="Being built" className="text-xs text-soft">
      {sums.map(([id, n]) => (
        <li key={id}>
          {plural(n, 'piece')} in{' '}
          <Link className="text-accent underline" to={`/build/${encodeURIComponent(id)}/make`}>
            {builds.find((b) => b.id === id)?.name ?? 'a build'}
          </Link>
          , being built
        </li>
      ))}
    </ul>
  )
}
