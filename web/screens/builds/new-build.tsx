import { useNavigate } from 'react-router'
import * as v from 'valibot'
import type { Build } from '../../../core/build/build.ts'
import { defaultRules } from '../../../core/build/house-rules.ts'
import { currencyCodes } from '../../../core/units/currency.ts'
import type { BuildId } from '../../../core/units/ids.ts'
import { CurrencySchema } from '../../../core/units/money.ts'
import { add } from '../../../storage/journal.ts'
import { fresh } from '../../store/database.ts'
import { perform } from '../../store/perform.ts'
import { Button } from '../../ui/button.tsx'
import { Dialog } from '../../ui/dialog.tsx'
import { FormChoice, FormText, useCheckedForm } from '../../ui/form.tsx'

const NewBuildSchema = v.object({
  name: v.pipe(v.string(), v.trim(), v.minLength(1, 'Give it a name.'), v.maxLength(120)),
  currency: CurrencySchema,
})

const CURRENCIES = currencyCodes().map((code) => ({ value: code, label: code }))

export function NewBuild({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  const { control, handleSubmit, reset } = useCheckedForm(NewBuildSchema, { name: '', currency: 'EUR' })
  const navigate = useNavigate()
  const create = async ({ name, currency }: v.InferOutput<typeof NewBuildSchema>) => {
    const id = `b-${fresh()}` as BuildId
    const build: Build = { id, name, note: '', currency, rules: defaultRules }
    if (!(await perform(`Started ${name}`, [add('builds', [build]), add('designs', [{ id, modules: [] }])]))) return
    onOpenChange(false)
    reset()
    await navigate(`/build/${encodeURIComponent(id)}/brief`)
  }
  return (
    <Dialog
      open={open}
      onOpenChange={onOpenChange}
      title="New build"
      description="Its house rules can be set on the next screen."
    >
      <form className="flex flex-col gap-4" onSubmit={(e) => void handleSubmit(create)(e)}>
        <FormText control={control} name="name" label="Name" maxLength={120} placeholder="Clock tower by the weir" />
        <FormChoice
          control={control}
          name="currency"
          label="Currency"
          hint="The invented market asks in EUR; offers from a file may be in any currency."
          className="w-28"
          options={CURRENCIES}
        />
        <div>
          <Button type="submit" look="primary">
            Start
          </Button>
        </div>
      </form>
    </Dialog>
  )
}
