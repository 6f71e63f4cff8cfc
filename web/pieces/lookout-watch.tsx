import { useEffect, useEffectEvent, useRef } from 'react'
import { useNavigate } from 'react-router'
import { toast } from 'sonner'
import type { Snapshot } from '../../core/netting/snapshot.ts'
import { freed, sightings, type Sighting } from '../../core/studies/still-there.ts'
import { formatNumber } from '../../core/units/numbers.ts'
import { useRecords } from '../store/records.tsx'
import { useStudy } from '../store/use-study.ts'

/** Pieces that are told by name. */
const MOST_NAMED = 2

/** Says when pieces that a build looks out for come free, wherever one is in the app; draws nothing. */
export function LookoutWatch({ snapshot }: { snapshot: Snapshot }) {
  const { nameItem } = useRecords()
  const navigate = useNavigate()
  const { build, design } = snapshot
  const { lookout } = design
  const { value, busy } = useStudy('still', snapshot, lookout ? null : undefined)
  const before = useRef<readonly Sighting[]>([])
  const tell = useEffectEvent((there: readonly Sighting[]) => {
    const more = freed(before.current, there)
    before.current = there
    if (more.length === 0) return
    const named = more
      .slice(0, MOST_NAMED)
      .map((s) => `${formatNumber(s.there)} of ${formatNumber(s.target)} ${nameItem(s.item).name}`)
    const others = more.length - named.length
    toast(`Free now for ${build.name}: ${named.join('; ')}${others > 0 ? `; ${others} more` : ''}.`, {
      duration: 10_000,
      action: {
        label: 'Open the design',
        onClick: () => {
          void navigate(`/build/${encodeURIComponent(build.id)}/design`)
        },
      },
    })
  })
  useEffect(() => {
    if (value && !busy) tell(sightings(lookout ?? [], value))
  }, [value, busy, lookout])
  return null
}
