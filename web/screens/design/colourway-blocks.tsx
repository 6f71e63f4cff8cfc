import { ItemName } from '../../pieces/item-name.tsx'
import { plural } from '../../../core/units/numbers.ts'
import { WhatWouldDo } from './standing.tsx'
import type { useKnown } from './use-known.ts'

/** What blocks each scheme: items not known in its colours, and what would do. */
export function ColourwayBlocks({
  results,
  known,
}: {
  results: readonly { name: string; items: readonly Parameters<typeof ItemName>[0]['item'][] }[]
  known: ReturnType<typeof useKnown>
}) {
  if (results.length === 0) return null
  return (
    <section>
      <h2 className="text-base font-semibold">What blocks them</h2>
      {results.map((r) => (
        <div key={r.name} className="mt-1">
          <h3 className="text-sm font-semibold">
            {r.name}: {plural(r.items.length, 'item')} not known in its colours
          </h3>
          <ul className="grid grid-cols-2 gap-x-6 gap-y-1 text-sm max-[1100px]:grid-cols-1">
            {r.items.slice(0, 8).map((item) => (
              <li key={item}>
                <ItemName item={item} size={26} />
                <WhatWouldDo item={item} known={known} />
              </li>
            ))}
          </ul>
        </div>
      ))}
    </section>
  )
}
