import { useNavigate } from 'react-router'
import * as v from 'valibot'
import { toast } from 'sonner'
import type { Build } from '../../../core/build/build.ts'
import type { Module } from '../../../core/design/design.ts'
import { surplusModule } from '../../../core/design/surplus.ts'
import { leftovers } from '../../../core/shelf/leftovers.ts'
import { useRecords, type RecordsView } from '../../store/records.tsx'
import { countNow } from '../../store/tallies.ts'
import { defaultRules } from '../../../core/build/house-rules.ts'
import { currencyCodes } from '../../../core/units/currency.ts'
import type { BuildId } from '../../../core/units/ids.ts'
import { CurrencySchema } from '../../../core/units/money.ts'
import { add } from '../../../storage/journal.ts'
import { fresh } from '../../store/database.ts'
import { perform, wordsOf } from '../../store/perform.ts'
import { Button } from '../../ui/button.tsx'
import { Dialog } from '../../ui/dialog.tsx'
import { FormChoice, FormText, useCheckedForm } from '../../ui/form.tsx'

const NewBuildSchema = v.object({
  name: v.pipe(v.string(), v.trim(), v.minLength(1, 'Give it a name.'), v.maxLength(120)),
  currency: CurrencySchema,
  begin: v.string(),
})

const CURRENCIES = currencyCodes().map((code) => ({ value: code, label: code }))

const EMPTY = 'nothing'

/** What a build leaves over of its donor copies, as a module; undefined where that is nothing. */
async function surplusOf(build: Build, records: RecordsView): Promise<Module | undefined> {
  const { snapshot, result } = await countNow(build, records.tallied)
  const pieces = snapshot.copies.flatMap((copy) => {
    const set = snapshot.sets.find((s) => s.id === copy.setId)
    return set && copy.state !== 'to-buy' ? leftovers(set, copy, result) : []
  })
  return surplusModule(build.name, pieces, fresh)
}

export function NewBuild({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  const { control, handleSubmit, reset } = useCheckedForm(NewBuildSchema, { name: '', currency: 'EUR', begin: EMPTY })
  const navigate = useNavigate()
  const records = useRecords()
  const create = async ({ name, currency, begin }: v.InferOutput<typeof NewBuildSchema>) => {
    const id = `b-${fresh()}` as BuildId
    const build: Build = { id, name, note: '', currency, rules: defaultRules }
    const from = records.builds.find((b) => b.id === begin)
    let module: Module | undefined
    try {
      module = from && (await surplusOf(from, records))
    } catch (error) {
      toast.error(`What ${from?.name ?? 'the build'} leaves over could not be counted: ${wordsOf(error)}. Start again.`)
      return
    }
    const modules = module ? [module] : []
    if (!(await perform(`Started ${name}`, [add('builds', [build]), add('designs', [{ id, modules }])]))) return
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
        {records.builds.length > 0 && (
          <FormChoice
            control={control}
            name="begin"
            label="Begin with"
            hint="What a build leaves over of its donors becomes the first module. Those pieces serve it once they are put on the shelf."
            options={[
              { value: EMPTY, label: 'nothing' },
              ...records.builds.map((b) => ({ value: b.id as string, label: `what ${b.name} leaves over` })),
            ]}
          />
        )}
        <div>
          <Button type="submit" look="primary">
            Start
          </Button>
        </div>
      </form>
    </Dialog>
  )
}
