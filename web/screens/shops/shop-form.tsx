import * as v from 'valibot'
import { bandsText, readBands } from '../../../core/offers/shipping-text.ts'
import type { Shop } from '../../../core/offers/shop.ts'
import { currencyCodes } from '../../../core/units/currency.ts'
import { CurrencySchema, decimal, MOST_AMOUNT, parseMinor } from '../../../core/units/money.ts'
import { Button } from '../../ui/button.tsx'
import { FormChoice, FormText, useCheckedForm } from '../../ui/form.tsx'

const SHIPPING = [
  { value: 'unknown', label: 'not known' },
  { value: 'free', label: 'costs nothing' },
  { value: 'weight', label: 'by weight' },
] as const

const CURRENCIES = currencyCodes().map((code) => ({ value: code, label: code }))

const whole = (most: number, message: string) =>
  v.pipe(
    v.string(),
    v.trim(),
    v.regex(/^\d{1,6}$/, message),
    v.transform(Number),
    v.check((n) => n <= most, message),
  )

/** What is typed of a shop; amounts and shipping are read in its currency, all at once. */
const TypedShopSchema = v.pipe(
  v.object({
    name: v.pipe(v.string(), v.trim(), v.minLength(1, 'Give it a name.'), v.maxLength(120)),
    country: v.pipe(v.string(), v.trim(), v.toUpperCase(), v.regex(/^[A-Z]{2}$/, 'Two letters, such as AT.')),
    currency: CurrencySchema,
    minOrder: v.string(),
    shipping: v.picklist(['unknown', 'free', 'weight']),
    bands: v.string(),
    handling: v.string(),
    lineFee: v.string(),
    threshold: v.string(),
    serviceFee: v.string(),
    leadDays: whole(365, 'Days, from 0 to 365.'),
    reliability: whole(100, 'Percent, from 0 to 100.'),
  }),
  v.rawTransform(({ dataset, addIssue, NEVER }): Omit<Shop, 'id' | 'kind'> => {
    const { value } = dataset
    const wrong = (key: keyof typeof value, message: string) => {
      addIssue({ message, path: [{ type: 'object', origin: 'value', input: value, key, value: value[key] }] })
    }
    let sound = true
    const amount = (key: 'minOrder' | 'handling' | 'lineFee' | 'threshold' | 'serviceFee'): number => {
      const text = value[key].trim()
      const minor = text === '' ? 0 : parseMinor(text, value.currency)
      if (minor !== undefined && minor >= 0 && minor <= MOST_AMOUNT) return minor
      wrong(key, `An amount like ${decimal(390, value.currency)}.`)
      sound = false
      return 0
    }
    const bands = readBands(value.shipping === 'weight' ? value.bands : '', value.currency)
    if (!bands.ok || (value.shipping === 'weight' && bands.value.length === 0)) {
      wrong('bands', bands.ok ? 'Write steps like 500 g 3.90; 2 kg 6.90.' : bands.error.message)
      sound = false
    }
    const [threshold, fee] = [amount('threshold'), amount('serviceFee')]
    const shop = {
      name: value.name,
      country: value.country,
      currency: value.currency,
      minOrder: amount('minOrder'),
      bands: bands.ok ? bands.value : [],
      ...(value.shipping === 'unknown' && { shippingUnknown: true }),
      service: threshold > 0 || fee > 0 ? { threshold, fee } : null,
      handling: amount('handling'),
      lineFee: amount('lineFee'),
      leadDays: value.leadDays,
      reliability: value.reliability / 100,
    }
    return sound ? shop : NEVER
  }),
)

const money = (minor: number, currency: string): string => (minor === 0 ? '' : decimal(minor, currency))

/** A shop and its terms, typed; written when sent, as one act. */
export function ShopForm({
  shop,
  onSave,
}: {
  shop: Omit<Shop, 'id' | 'kind'>
  onSave: (next: Omit<Shop, 'id' | 'kind'>) => Promise<boolean>
}) {
  const { currency } = shop
  const { control, handleSubmit, watch } = useCheckedForm(TypedShopSchema, {
    name: shop.name,
    country: shop.country,
    currency,
    minOrder: money(shop.minOrder, currency),
    shipping: shop.shippingUnknown ? 'unknown' : shop.bands.length === 0 ? 'free' : 'weight',
    bands: bandsText(shop.bands, currency),
    handling: money(shop.handling, currency),
    lineFee: money(shop.lineFee, currency),
    threshold: money(shop.service?.threshold ?? 0, currency),
    serviceFee: money(shop.service?.fee ?? 0, currency),
    leadDays: String(shop.leadDays),
    reliability: String(Math.round(shop.reliability * 100)),
  })
  const byWeight = watch('shipping') === 'weight'
  const of = watch('currency')
  return (
    <form className="flex flex-col gap-3" onSubmit={(e) => void handleSubmit(onSave)(e)}>
      <FormText control={control} name="name" label="Name" maxLength={120} />
      <div className="grid grid-cols-2 gap-3">
        <FormText control={control} name="country" label="Country" maxLength={2} />
        <FormChoice control={control} name="currency" label="Currency" options={CURRENCIES} />
        <FormText control={control} name="leadDays" label="Days until it is here" inputMode="numeric" />
        <FormText control={control} name="reliability" label="Orders that arrive whole, %" inputMode="numeric" />
      </div>
      <FormChoice control={control} name="shipping" label="Shipping is" options={SHIPPING} />
      {byWeight && (
        <FormText
          control={control}
          name="bands"
          label="Up to which weight for how much"
          hint="The lightest first; heavier than the last is not sent."
          placeholder="500 g 3.90; 2 kg 6.90"
        />
      )}
      <div className="grid grid-cols-2 gap-3">
        <FormText control={control} name="minOrder" label={`Minimum order, ${of}`} inputMode="decimal" />
        <FormText control={control} name="handling" label={`Handling, ${of}`} inputMode="decimal" />
        <FormText control={control} name="lineFee" label={`For each kind of piece, ${of}`} inputMode="decimal" />
        <span />
        <FormText control={control} name="serviceFee" label={`Small-order fee, ${of}`} inputMode="decimal" />
        <FormText control={control} name="threshold" label={`for goods below, ${of}`} inputMode="decimal" />
      </div>
      <div>
        <Button type="submit" look="primary">
          Save the shop
        </Button>
      </div>
    </form>
  )
}
