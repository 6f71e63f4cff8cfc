import type { Copy, DonorSet } from '../../../core/donors/donor-set.ts'
import type { BuildId, CopyId } from '../../../core/units/ids.ts'
import { add } from '../../../storage/journal.ts'
import { fresh } from '../../store/database.ts'
import { perform } from '../../store/perform.ts'
import { Choice } from '../../ui/fields.tsx'

/** One more copy of a known set, complete and owned until said otherwise. */
export function AddCopy({ build, sets, count }: { build: BuildId; sets: readonly DonorSet[]; count: number }) {
  if (sets.length === 0) return null
  return (
    <Choice
      label="Add a copy of…"
      value={'' as string}
      options={sets.map((s) => ({ value: s.id as string, label: s.name }))}
      onChange={(setId) => {
        const set = sets.find((s) => s.id === setId)
        if (!set) return
        const copy: Copy = {
          id: `y-${fresh()}` as CopyId,
          setId: set.id,
          label: `${set.name}, copy ${count + 1}`,
          buildId: build,
          state: 'owned',
          stages: 'all',
          spares: true,
          missing: [],
        }
        void perform(`Added a copy of ${set.name}`, [add('copies', [copy])])
      }}
    />
  )
}
