import type { Build } from '../../../core/build/build.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { edit } from '../../../storage/journal.ts'
import { perform } from '../../store/perform.ts'
import { useRecords } from '../../store/records.tsx'
import { Choice } from '../../ui/fields.tsx'
import { plural } from '../../../core/units/numbers.ts'

const STANCES = [
  { value: 'free', label: 'may be used' },
  { value: 'excluded', label: 'never' },
  { value: 'pinned', label: 'must be used' },
] as const

/** The shops with something on offer, the build's stance to each, and the terms that matter. */
export function ShopRules({ build, itemsOf }: { build: Build; itemsOf: ReadonlyMap<string, number> }) {
  const { shops } = useRecords()
  const { rules } = build
  const listed = shops
    .filter((s) => itemsOf.has(s.id))
    .sort((p, q) => (itemsOf.get(q.id) ?? 0) - (itemsOf.get(p.id) ?? 0))
  if (listed.length === 0) return null
  return (
    <aside aria-label="Shops" className="border-l border-rule pl-5 max-[960px]:border-0 max-[960px]:pl-0">
      <h2 className="text-base font-semibold">Shops</h2>
      <p className="mb-2 text-xs text-soft">
        {rules.maxShops === null ? 'Any number' : `At most ${rules.maxShops}`} may be ordered from
        {rules.deadlineDays === null ? '' : `, within ${rules.deadlineDays} days`}.
      </p>
      <ul className="flex flex-col divide-y divide-hair border-y border-hair text-sm">
        {listed.map((shop) => {
          const slow = rules.deadlineDays !== null && shop.leadDays > rules.deadlineDays
          return (
            <li key={shop.id} className="flex items-center justify-between gap-2 py-1.5">
              <span className="min-w-0 leading-tight">
                <span className={`block truncate ${slow ? 'text-soft line-through' : 'font-semibold'}`}>
                  {shop.name}
                </span>
                <span className="block text-xs text-soft">
                  {shop.country}, {plural(itemsOf.get(shop.id) ?? 0, 'item')}, {shop.leadDays} days
                  {shop.minOrder > 0 && `, from ${formatMoney(shop.minOrder, shop.currency)}`}
                  {slow && ', too slow'}
                </span>
              </span>
              <Choice
                label={`Stance to ${shop.name}`}
                className="w-32 shrink-0"
                value={rules.shops[shop.id] ?? 'free'}
                options={STANCES}
                onChange={(stance) => {
                  const { [shop.id]: _, ...rest } = rules.shops
                  void perform(`${shop.name}: ${STANCES.find((s) => s.value === stance)?.label ?? stance}`, [
                    edit('builds', build, {
                      ...build,
                      rules: { ...rules, shops: stance === 'free' ? rest : { ...rest, [shop.id]: stance } },
                    }),
                  ])
                }}
              />
            </li>
          )
        })}
      </ul>
    </aside>
  )
}
