import { Binoculars } from 'lucide-react'
import { Link } from 'react-router'
import type { Snapshot } from '../../core/netting/snapshot.ts'
import { sightings } from '../../core/studies/still-there.ts'
import { formatNumber, plural } from '../../core/units/numbers.ts'
import { useRecords } from '../store/records.tsx'
import { useStudy } from '../store/use-study.ts'

const MOST_NAMED = 3

/** Says which pieces that are looked out for are to be had; nothing where none is looked out for. */
export function LookoutNote({ snapshot }: { snapshot: Snapshot }) {
  const { nameItem } = useRecords()
  const { build, design } = snapshot
  const { lookout = [] } = design
  const study = useStudy('still', snapshot, lookout.length > 0 ? null : undefined)
  if (lookout.length === 0 || !study.value) return null
  const there = sightings(lookout, study.value).filter((s) => s.there > 0)
  return (
    <p aria-busy={study.busy} className="flex items-center gap-2 text-sm">
      <Binoculars size={16} aria-hidden="true" />
      <span>
        {there.length === 0
          ? `None of the ${plural(lookout.length, 'piece')} looked out for is free.`
          : `Free now, of what is looked out for: ${there
              .slice(0, MOST_NAMED)
              .map((s) => `${formatNumber(s.there)} of ${formatNumber(s.target)} ${nameItem(s.item).name}`)
              .join('; ')}${there.length > MOST_NAMED ? `; ${there.length - MOST_NAMED} more` : ''}.`}{' '}
        <Link className="text-accent underline" to={`/build/${encodeURIComponent(build.id)}/design`}>
          Open the design
        </Link>
      </span>
    </p>
  )
}
