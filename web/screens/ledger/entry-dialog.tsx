import { useState } from 'react'
import * as v from 'valibot'
import type { Build } from '../../../core/build/build.ts'
import type { Design } from '../../../core/design/design.ts'
import type { RecordOf } from '../../../core/records/registry.ts'
import { CATEGORIES, isIncome } from '../../../core/settling/entry.ts'
import { rateNow, readEntry } from '../../../core/settling/typed-entry.ts'
import { currencyCodes } from '../../../core/units/currency.ts'
import type { EntryId } from '../../../core/units/ids.ts'
import { add } from '../../../storage/journal.ts'
import { AddPicture } from '../../pieces/add-picture.tsx'
import { fresh } from '../../store/database.ts'
import { perform } from '../../store/perform.ts'
import { Button } from '../../ui/button.tsx'
import { Dialog } from '../../ui/dialog.tsx'
import { FormChoice, FormText, useCheckedForm } from '../../ui/form.tsx'

/** As typed: `readEntry` says what is refused. */
const TypedSchema = v.object({
  on: v.string(),
  category: v.picklist(CATEGORIES),
  amount: v.string(),
  currency: v.string(),
  rate: v.string(),
  text: v.string(),
  module: v.string(),
})
const ALL = 'the whole build'
const CODES = currencyCodes().map((code) => ({ value: code, label: code }))
const KINDS = CATEGORIES.map((c) => ({ value: c, label: isIncome(c) ? `${c} (comes in)` : c }))

/** A payment, or what came in, typed by hand. */
export function EntryDialog({
  build,
  design,
  today,
  onOpenChange,
}: {
  build: Build
  design: Design
  today: string
  onOpenChange: (open: boolean) => void
}) {
  const { currency: home, rules } = build
  const [receipt, setReceipt] = useState<RecordOf<'pictures'> | undefined>()
  const { control, handleSubmit, setError, watch } = useCheckedForm(TypedSchema, {
    ...{ on: today, category: 'other', amount: '', currency: home, rate: '', text: '', module: ALL },
  })
  const code = watch('currency')
  const known = rateNow(code, home, rules.rates)
  const save = async (typed: v.InferOutput<typeof TypedSchema>) => {
    const read = readEntry(
      { ...typed, module: typed.module === ALL ? '' : typed.module },
      { id: `e-${fresh()}` as EntryId, build: build.id, home, rates: rules.rates, today },
    )
    if (!read.ok) {
      setError(read.error.field, { message: read.error.message }, { shouldFocus: true })
      return
    }
    const entry = receipt ? { ...read.value, receipt: receipt.id } : read.value
    const done = await perform(`Entered ${entry.text}`, [
      ...(receipt ? [add('pictures', [receipt])] : []),
      add('entries', [entry]),
    ])
    if (done) onOpenChange(false)
  }
  return (
    <Dialog
      open
      onOpenChange={onOpenChange}
      title="Add an entry"
      description="Money that was paid or came in, and is in no order, copy, plan or sale."
    >
      <form className="flex flex-col gap-3" noValidate onSubmit={(e) => void handleSubmit(save)(e)}>
        <FormText control={control} name="text" label="What for" maxLength={300} />
        <div className="grid grid-cols-2 gap-3">
          <FormText control={control} name="amount" label="Amount" inputMode="decimal" />
          <FormChoice control={control} name="currency" label="Currency" options={CODES} />
          <FormText control={control} name="on" label="Day of payment" type="date" max={today} />
          <FormChoice control={control} name="category" label="Category" options={KINDS} />
        </div>
        {code !== home && (
          <FormText
            control={control}
            name="rate"
            label={`One ${code} cost, in ${home}, on that day`}
            inputMode="decimal"
            placeholder={known}
            {...(known !== '' && { hint: `Nothing typed takes the rate on Brief, ${known}.` })}
          />
        )}
        <FormChoice
          control={control}
          name="module"
          label="For"
          options={[
            { value: ALL, label: ALL },
            ...design.modules.map((m) => ({ value: m.id as string, label: m.name })),
          ]}
        />
        <div className="flex flex-wrap items-center gap-3 text-sm">
          <AddPicture label="Receipt" onPicture={setReceipt}>
            {receipt ? 'Another receipt' : 'Attach a receipt'}
          </AddPicture>
          {receipt && <span>{receipt.name}</span>}
        </div>
        <div>
          <Button type="submit" look="primary">
            Add it
          </Button>
        </div>
      </form>
    </Dialog>
  )
}
