import type { Currency } from '../../../core/units/money.ts'
import { CommitInput, Field, MoneyInput, NumberInput, Tick } from '../../ui/fields.tsx'
import type { LinePartProps } from './line-part-props.ts'

/** Whether a piece is printed to order: by whom, for how much, and the fewest that are printed. */
export function LinePrint({ line, currency, set, without }: LinePartProps & { currency: Currency }) {
  return (
    <>
      <Tick
        checked={line.print !== undefined}
        onChange={(on) => {
          set(
            on ? 'Has it printed' : 'No longer has it printed',
            on ? { ...line, print: { vendor: 'Print shop', price: 0, minRun: 1 } } : without('print'),
          )
        }}
      >
        Printed to order
      </Tick>
      {line.print && (
        <div className="grid grid-cols-2 gap-2">
          <Field label="Vendor">
            {(id) => (
              <CommitInput
                id={id}
                value={line.print?.vendor ?? ''}
                maxLength={120}
                className="w-full"
                onCommit={(vendor) => {
                  if (line.print && vendor.trim() !== '')
                    set('Changed the vendor', { ...line, print: { ...line.print, vendor: vendor.trim() } })
                }}
              />
            )}
          </Field>
          <Field label={`Each, ${currency}`}>
            {(id) => (
              <MoneyInput
                id={id}
                currency={currency}
                className="w-full"
                value={line.print?.price ?? 0}
                onCommit={(price) => {
                  if (line.print && price !== null)
                    set('Changed the price of a print', { ...line, print: { ...line.print, price } })
                }}
              />
            )}
          </Field>
          <Field label="At least">
            {(id) => (
              <NumberInput
                id={id}
                min={1}
                max={100_000}
                className="w-full"
                value={line.print?.minRun ?? 1}
                onCommit={(minRun) => {
                  if (line.print && minRun !== null)
                    set('Changed the minimum run', { ...line, print: { ...line.print, minRun } })
                }}
              />
            )}
          </Field>
        </div>
      )}
    </>
  )
}
