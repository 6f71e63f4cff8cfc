import { useState } from 'react'
import { typedOrder } from '../../../core/orders/make-orders.ts'
import type { OrderLine } from '../../../core/orders/order.ts'
import { currency } from '../../../core/units/money.ts'
import type { BuildId } from '../../../core/units/ids.ts'
import { plural } from '../../../core/units/numbers.ts'
import type { Change } from '../../../storage/journal-entry.ts'
import { add } from '../../../storage/journal.ts'
import { orderMaking } from '../../store/orders.ts'
import { perform } from '../../store/perform.ts'
import { useRecords } from '../../store/records.tsx'
import { ItemName } from '../../pieces/item-name.tsx'
import { QuickEntry, type TypedLine } from '../../pieces/quick-entry.tsx'
import { Button } from '../../ui/button.tsx'
import { Dialog } from '../../ui/dialog.tsx'
import { Choice, Field, NumberInput, TextInput } from '../../ui/fields.tsx'

type Line = TypedLine & { readonly key: number }

/** An order made elsewhere: who from, what, for which build. Its prices are set line by line afterwards. */
export function TypedOrder({
  open,
  onOpenChange,
  build,
  today,
}: {
  open: boolean
  onOpenChange: (open: boolean) => void
  build: BuildId | undefined
  today: string
}) {
  const records = useRecords()
  const { builds, shops, orders } = records
  const [seller, setSeller] = useState('')
  const [days, setDays] = useState(7)
  const [own, setOwn] = useState<BuildId | undefined>(build)
  const [lines, setLines] = useState<readonly Line[]>([])
  const [more, setMore] = useState<readonly Change[]>([])
  const whose = builds.find((b) => b.id === (own ?? build)) ?? builds[0]
  const shop = shops.find((s) => s.name.toLowerCase() === seller.trim().toLowerCase())
  const save = async () => {
    const home = whose?.currency ?? currency('EUR')
    const made = typedOrder(
      {
        seller: { name: seller.trim().slice(0, 120), ...(shop && { shop: shop.id, country: shop.country }) },
        builds: whose ? [whose.id] : [],
        currency: home,
        lines: lines.map(({ item, qty }, i): OrderLine => ({
          id: `${i + 1}`,
          item,
          qty,
          price: 0,
          condition: 'not stated',
          for: whose ? [{ build: whose.id, qty }] : [],
        })),
        copies: [],
        leadDays: days,
      },
      orderMaking(orders, home, today),
    )
    if (!made || !(await perform(`Typed in an order from ${made.seller.name}`, [...more, add('orders', [made])])))
      return
    setSeller('')
    setLines([])
    setMore([])
    onOpenChange(false)
  }
  return (
    <Dialog
      open={open}
      onOpenChange={onOpenChange}
      title="An order made elsewhere"
      description="Its pieces count as on order once it is placed. Prices and the bill are noted on the order itself."
    >
      <div className="flex flex-col gap-3 text-sm">
        <Field label="Seller">
          {(id) => (
            <TextInput
              id={id}
              value={seller}
              maxLength={120}
              onChange={(e) => {
                setSeller(e.target.value)
              }}
            />
          )}
        </Field>
        <div className="grid grid-cols-2 gap-3">
          <Field label="For">
            {(id) => (
              <Choice
                id={id}
                value={whose?.id ?? ''}
                options={builds.map((b) => ({ value: b.id as string, label: b.name }))}
                onChange={(value) => {
                  setOwn(value as BuildId)
                }}
              />
            )}
          </Field>
          <Field label="Days until it is here">
            {(id) => (
              <NumberInput
                id={id}
                value={days}
                min={0}
                max={2000}
                onCommit={(n) => {
                  setDays(n ?? 7)
                }}
              />
            )}
          </Field>
        </div>
        <QuickEntry
          label="Ordered pieces"
          wide
          onAdd={(typed, changes) => {
            setLines((before) => [...before, ...typed.map((t, i) => ({ ...t, key: before.length + i }))])
            setMore((before) => [...before, ...changes])
          }}
        />
        <ul className="max-h-48 divide-y divide-hair overflow-auto">
          {lines.map((line) => (
            <li key={line.key} className="flex justify-between gap-3 py-1">
              <ItemName item={line.item} size={24} />
              <b>{line.qty}</b>
            </li>
          ))}
        </ul>
        <Button look="primary" disabled={seller.trim() === '' || lines.length === 0} onClick={() => void save()}>
          Add the order{lines.length > 0 && ` of ${plural(lines.length, 'line')}`}
        </Button>
      </div>
    </Dialog>
  )
}
