import type { LikePart } from '../../../core/catalogue/like-parts.ts'
import type { PartId } from '../../../core/units/ids.ts'
import { plural } from '../../../core/units/numbers.ts'
import { Choice } from '../../ui/fields.tsx'

const OWN = 'own'
/** Names that are drawn at once. */
const AT_ONCE = 60

/** Names of parts that may mean parts known by another name: each is one of its own until the user says otherwise. */
export function LikeParts({
  parts,
  same,
  onSay,
}: {
  parts: readonly LikePart[]
  same: ReadonlyMap<PartId, string>
  onSay: (same: ReadonlyMap<PartId, string>) => void
}) {
  return (
    <section
      aria-label="Parts that look alike"
      className="max-h-40 shrink-0 overflow-auto border border-rule bg-paper p-3 text-sm"
    >
      <p className="mb-2">
        <b>{plural(parts.length, 'part')}</b> may be known by another name. What you say is remembered; your own name
        goes on leading to it.
      </p>
      <ul className="grid grid-cols-[repeat(auto-fill,minmax(20rem,1fr))] gap-x-6 gap-y-1">
        {parts.slice(0, AT_ONCE).map(({ id, name, same: names }) => (
          <li key={id} className="flex items-center justify-between gap-2">
            <span className="truncate" title={name}>
              {name}
            </span>
            <Choice
              label={`What ${name} is`}
              className="w-48 shrink-0"
              value={same.get(id) ?? OWN}
              options={[
                { value: OWN, label: 'a part of its own' },
                ...names.map((n) => ({ value: n, label: `same as ${n}` })),
              ]}
              onChange={(choice) => {
                const next = new Map(same)
                if (choice === OWN) next.delete(id)
                else next.set(id, choice)
                onSay(next)
              }}
            />
          </li>
        ))}
      </ul>
    </section>
  )
}
