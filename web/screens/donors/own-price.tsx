import type { Build } from '../../../core/build/build.ts'
import { figuresSoldAtMost, withMost, withPrice, type ResalePrice } from '../../../core/build/resale.ts'
import { decimal, formatMoney, parseMinor } from '../../../core/units/money.ts'
import { edit } from '../../../storage/journal.ts'
import { perform } from '../../store/perform.ts'
import { CommitInput, NumberInput } from '../../ui/fields.tsx'

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

/** How many complete figures of a name find a buyer at the user's price. */
export function FiguresSold({ build, name }: { build: Build; name: string }) {
  const { rules } = build
  return (
    <NumberInput
      aria-label={`How many of ${name} find a buyer`}
      className="w-24"
      min={0}
      max={10_000}
      empty="any number"
      value={figuresSoldAtMost(name, rules) ?? null}
      onCommit={(most) => {
        const resalePrices = withMost(rules.resalePrices, name, most ?? undefined)
        void perform(
          most === null ? `Any number of ${name} may be sold` : `At most ${most} of ${name} may be sold`,
          [edit('builds', build, { ...build, rules: { ...rules, resalePrices } })],
          { quiet: true },
        )
      }}
    />
  )
}
