import type { Build } from '../../../core/build/build.ts'
import { withPrice, type ResalePrice } from '../../../core/build/resale.ts'
import { decimal, formatMoney, parseMinor } from '../../../core/units/money.ts'
import { edit } from '../../../storage/journal.ts'
import { perform } from '../../store/perform.ts'
import { CommitInput } from '../../ui/fields.tsx'

/** What the user expects for a figure or a piece that is left over, beside the general share. */
export function OwnPrice({
  build,
  of,
  name,
  price,
}: {
  build: Build
  of: Parameters<typeof withPrice>[1]
  name: string
  price: ResalePrice['price'] | undefined
}) {
  const { rules, currency } = build
  return (
    <CommitInput
      aria-label={`Your own price for ${name}, ${currency}`}
      className="w-20 text-right"
      placeholder="own price"
      value={price === undefined ? '' : decimal(price, currency)}
      onCommit={(text) => {
        const next = text.trim() === '' ? undefined : parseMinor(text, currency)
        if (text.trim() !== '' && (next === undefined || next < 0)) return { problem: 'An amount such as 4.50.' }
        const resalePrices = withPrice(rules.resalePrices, of, next)
        void perform(
          next === undefined ? `${name}: no price of your own` : `${name} may bring ${formatMoney(next, currency)}`,
          [edit('builds', build, { ...build, rules: { ...rules, resalePrices } })],
          { quiet: true },
        )
        return undefined
      }}
    />
  )
}
