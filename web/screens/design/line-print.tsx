import type { Currency } from '../../../core/units/money.ts'
import { Choice, CommitInput, Field, MoneyInput, NumberInput, Tick } from '../../ui/fields.tsx'
import type { LinePartProps } from './line-part-props.ts'

const SIDES = [
  { value: 'one', label: 'one for both sides' },
  { value: 'left', label: 'the left one' },
  { value: 'right', label: 'the right one' },
] as const

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
          <Field label="Days">
            {(id) => (
              <NumberInput
                id={id}
                min={1}
                max={1000}
                empty="not known"
                className="w-full"
                value={line.print?.days ?? null}
                onCommit={(days) => {
                  if (!line.print) return
                  const { days: _, ...print } = line.print
                  set('Changed the days of a print', { ...line, print: { ...print, ...(days !== null && { days }) } })
                }}
              />
            )}
          </Field>
          <div className="col-span-2">
            <Field label="Artwork file">
              {(id) => (
                <CommitInput
                  id={id}
                  value={line.print?.artwork ?? ''}
                  maxLength={200}
                  placeholder="clock-face.svg"
                  className="w-full"
                  onCommit={(text) => {
                    if (!line.print) return
                    const { artwork: _, ...print } = line.print
                    const artwork = text.trim()
                    set('Named the artwork', { ...line, print: { ...print, ...(artwork !== '' && { artwork }) } })
                  }}
                />
              )}
            </Field>
          </div>
          <div className="col-span-2">
            <Field
              label="Version"
              {...(line.print.side !== undefined && { hint: 'Mirrored modules take the other one.' })}
            >
              {(id) => (
                <Choice
                  id={id}
                  value={line.print?.side ?? 'one'}
                  options={SIDES}
                  onChange={(side) => {
                    if (!line.print) return
                    const { side: _, ...print } = line.print
                    set('Changed the version', { ...line, print: { ...print, ...(side !== 'one' && { side }) } })
                  }}
                />
              )}
            </Field>
          </div>
        </div>
      )}
    </>
  )
}
