import { FileUp, Plus, Trash2 } from 'lucide-react'
import { useMemo, useState } from 'react'
import { isOwnShop, unknownShop, type Shop } from '../../../core/offers/shop.ts'
import { currency, formatMoney } from '../../../core/units/money.ts'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import { add, edit, remove } from '../../../storage/journal.ts'
import { fresh } from '../../store/database.ts'
import { perform } from '../../store/perform.ts'
import { useRecords } from '../../store/records.tsx'
import { ImportDialog } from '../../pieces/import/import-dialog.tsx'
import { useDialogFromAddress } from '../../ui/use-act-from-address.ts'
import { Button } from '../../ui/button.tsx'
import { DataGrid, type Column } from '../../ui/data-grid.tsx'
import { Figure, Screen } from '../../ui/screen.tsx'
import { ShopForm } from './shop-form.tsx'
import { ShopRecord } from './shop-record.tsx'

type Row = { readonly shop: Shop; readonly offers: number; readonly own: boolean }

const shippingWords = ({ shippingUnknown, bands, currency: of }: Shop): string => {
  const [first, ...more] = bands
  if (shippingUnknown) return 'not known'
  if (!first) return 'free'
  return `${more.length > 0 ? 'from ' : ''}${formatMoney(first.fee, of)}`
}

const COLUMNS: readonly Column<Row>[] = [
  {
    id: 'name',
    header: 'Shop',
    width: 'minmax(9rem, 2fr)',
    sort: (r) => r.shop.name,
    text: (r) => r.shop.name,
    cell: (r) => <span className="truncate">{r.shop.name}</span>,
  },
  {
    id: 'from',
    header: 'Known from',
    width: '92px',
    sort: (r) => Number(r.own),
    cell: (r) => (r.own ? 'you' : 'the market'),
  },
  { id: 'country', header: 'Country', width: '68px', sort: (r) => r.shop.country, cell: (r) => r.shop.country },
  {
    id: 'offers',
    header: 'Offers',
    width: '64px',
    align: 'right',
    sort: (r) => r.offers,
    cell: (r) => formatNumber(r.offers),
  },
  {
    id: 'shipping',
    header: 'Shipping',
    width: '120px',
    align: 'right',
    sort: (r) => (r.shop.shippingUnknown ? -1 : (r.shop.bands[0]?.fee ?? 0)),
    text: (r) => shippingWords(r.shop),
    cell: (r) => <span className={r.shop.shippingUnknown ? 'text-warn' : ''}>{shippingWords(r.shop)}</span>,
  },
  {
    id: 'minimum',
    header: 'Minimum',
    width: '88px',
    align: 'right',
    sort: (r) => r.shop.minOrder,
    cell: (r) => (r.shop.minOrder > 0 ? formatMoney(r.shop.minOrder, r.shop.currency) : 'none'),
  },
  {
    id: 'days',
    header: 'Days',
    width: '56px',
    align: 'right',
    sort: (r) => r.shop.leadDays,
    cell: (r) => r.shop.leadDays,
  },
]

/** The shops that builds may buy from, with their terms: those of the user's own lists, typed ones, and the market's. */
export function ShopsScreen() {
  const { shops, offers, builds } = useRecords()
  const [chosen, setChosen] = useState<string | undefined>()
  const [importing, setImporting] = useDialogFromAddress('import')
  const rows = useMemo(() => {
    const counts = new Map<string, number>()
    for (const { shop } of offers) counts.set(shop, (counts.get(shop) ?? 0) + 1)
    // Own shops first: they are what one comes for.
    return shops
      .map((shop): Row => ({ shop, offers: counts.get(shop.id) ?? 0, own: isOwnShop(shop) }))
      .sort((p, q) => Number(q.own) - Number(p.own) || (p.shop.name < q.shop.name ? -1 : 1))
  }, [shops, offers])
  const current = rows.find((r) => r.shop.id === chosen) ?? rows[0]
  const unknown = rows.filter((r) => r.shop.shippingUnknown).length
  const own = rows.filter((r) => r.own).length
  const make = async () => {
    const first = builds[0]
    const shop = unknownShop({
      id: `own-${fresh()}`,
      name: `New shop ${own + 1}`,
      country: first?.rules.shipTo ?? 'AT',
      currency: first?.currency ?? currency('EUR'),
    })
    if (await perform(`Added ${shop.name}`, [add('shops', [shop])])) setChosen(shop.id)
  }
  return (
    <Screen
      title="Shops"
      headline={
        rows.length === 0 ? (
          'No shop is known yet: type one, import an offers file, or ask the market on Buy.'
        ) : (
          <>
            <Figure>{plural(rows.length, 'shop')}</Figure>, {formatNumber(own)} of your own
            {unknown > 0 && <>; the shipping of {formatNumber(unknown)} is not known</>}.
          </>
        )
      }
      actions={
        <>
          <Button look="primary" onClick={() => void make()}>
            <Plus size={16} aria-hidden="true" /> Add a shop
          </Button>
          <Button
            onClick={() => {
              setImporting(true)
            }}
          >
            <FileUp size={16} aria-hidden="true" /> Import offers
          </Button>
        </>
      }
    >
      <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_22rem] gap-5 max-[960px]:grid-cols-1">
        <DataGrid
          label="Shops"
          columns={COLUMNS}
          rows={rows}
          rowKey={(r) => r.shop.id}
          selected={current?.shop.id}
          onSelect={(r) => {
            setChosen(r.shop.id)
          }}
          rowHeight={36}
          empty="No shop yet."
        />
        {current && (
          <aside
            aria-label={`Shop ${current.shop.name}`}
            className="flex min-h-0 flex-col gap-3 overflow-auto border-l border-rule pl-5 text-sm"
          >
            {current.own ? (
              <OwnShop
                // What orders taught of it is in the form at once.
                key={`${current.shop.id} ${current.shop.leadDays} ${current.shop.reliability}`}
                row={current}
              />
            ) : (
              <MarketShop shop={current.shop} />
            )}
            <ShopRecord shop={current.shop} own={current.own} />
          </aside>
        )}
      </div>
      <ImportDialog kind="offers" build={null} open={importing} onOpenChange={setImporting} />
    </Screen>
  )
}

function OwnShop({ row: { shop, offers: count } }: { row: Row }) {
  const { offers } = useRecords()
  return (
    <>
      <ShopForm
        shop={shop}
        onSave={(terms) => {
          const { shippingUnknown: _, ...bare } = shop
          return perform(`Changed the terms of ${terms.name}`, [edit('shops', shop, { ...bare, ...terms })])
        }}
      />
      <div className="border-t border-hair pt-3">
        <Button
          onClick={() =>
            void perform(`Removed ${shop.name}${count > 0 ? ` with ${plural(count, 'offer')}` : ''}`, [
              remove('shops', [shop.id]),
              remove(
                'offers',
                offers.filter((o) => o.shop === shop.id).map((o) => o.id),
              ),
            ])
          }
        >
          <Trash2 size={14} aria-hidden="true" /> Remove{count > 0 && ` with ${plural(count, 'offer')}`}
        </Button>
      </div>
    </>
  )
}

/** A market's shop is as the market says: what would be typed here is gone when it is asked again. */
function MarketShop({ shop }: { shop: Shop }) {
  const facts: readonly (readonly [string, string])[] = [
    ['Country', shop.country],
    ['Shipping', shippingWords(shop)],
    ['Minimum order', shop.minOrder > 0 ? formatMoney(shop.minOrder, shop.currency) : 'none'],
    ['Handling', formatMoney(shop.handling, shop.currency)],
    ['For each kind of piece', formatMoney(shop.lineFee, shop.currency)],
    [
      'Small-order fee',
      shop.service
        ? `${formatMoney(shop.service.fee, shop.currency)} below ${formatMoney(shop.service.threshold, shop.currency)}`
        : 'none',
    ],
    ['Days until it is here', String(shop.leadDays)],
    ['Orders that arrive whole', `${Math.round(shop.reliability * 100)} %`],
  ]
  return (
    <>
      <h2 className="text-base font-semibold">{shop.name}</h2>
      <p className="text-soft">Invented, for practice: its terms come from the market and change when that is asked.</p>
      <dl className="grid grid-cols-[auto_1fr] gap-x-4 gap-y-1">
        {facts.map(([what, said]) => (
          <div key={what} className="contents">
            <dt className="text-soft">{what}</dt>
            <dd className="text-right">{said}</dd>
          </div>
        ))}
      </dl>
    </>
  )
}
