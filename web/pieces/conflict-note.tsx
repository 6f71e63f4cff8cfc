import type { BuildId } from '../../core/units/ids.ts'
import { useRecords } from '../store/records.tsx'
import { useConflicts } from '../store/tallies.ts'
import { plural } from '../../core/units/numbers.ts'

/** Names what several builds count on: all of it, or what concerns one build. */
export function ConflictNote({ build }: { build?: BuildId }) {
  const { builds, nameItem } = useRecords()
  const conflicts = useConflicts().filter((c) => build === undefined || c.builds.some((b) => b.build === build))
  if (conflicts.length === 0) return null
  const nameOf = (id: BuildId) => builds.find((b) => b.id === id)?.name ?? 'another build'
  return (
    <details className="border-l-4 border-warn bg-raised px-3 py-2 text-sm">
      <summary className="cursor-pointer font-semibold">
        {plural(conflicts.length, 'item')} on the shelf {conflicts.length === 1 ? 'is' : 'are'} counted by more than one
        build. Reserve {conflicts.length === 1 ? 'it' : 'them'} for one.
      </summary>
      <ul className="mt-1 list-disc pl-5">
        {conflicts.slice(0, 50).map((c) => (
          <li key={c.item}>
            {nameItem(c.item).name}: {c.have} there,{' '}
            {c.builds.map((b) => `${b.qty} for ${nameOf(b.build)}`).join(' and ')}
          </li>
        ))}
      </ul>
    </details>
  )
}
