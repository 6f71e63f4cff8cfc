import * as v from 'valibot'
import type { Build } from '../../../core/build/build.ts'
import { partFromName } from '../../../core/catalogue/part.ts'
import type { PartId } from '../../../core/units/ids.ts'
import { readQuantity } from '../../../core/units/read-quantity.ts'
import { decide } from '../../store/decide.ts'
import { useRecords, type RecordsView } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'
import { FormChoice, FormText, useCheckedForm } from '../../ui/form.tsx'

/** Pieces that one piece may be made of. */
const MOST_USED = 100

/** What a rule says, its parts as they are called in the catalogue. */
const ruleSchema = ({ partByAlias, partById }: Pick<RecordsView, 'partByAlias' | 'partById'>) => {
  const find = (text: string): PartId | undefined => {
    const { id } = partFromName(text)
    return partByAlias.get(id) ?? (partById.has(id) ? id : undefined)
  }
  const part = v.pipe(
    v.string(),
    v.trim(),
    v.minLength(1, 'Name a part.'),
    v.rawTransform(({ dataset, addIssue, NEVER }) => {
      const id = find(dataset.value)
      if (id !== undefined) return { id, name: dataset.value }
      addIssue({ message: `“${dataset.value}” is no part of the catalogue. Write its name as it stands there.` })
      return NEVER
    }),
  )
  const qty = v.pipe(
    v.string(),
    v.rawTransform(({ dataset, addIssue, NEVER }) => {
      const read = readQuantity(dataset.value)
      if (read.ok && read.value.qty <= MOST_USED) return read.value.qty
      addIssue({ message: `1 to ${MOST_USED}.` })
      return NEVER
    }),
  )
  return v.pipe(
    v.object({ one: part, qty, other: part, scope: v.picklist(['build', 'always']) }),
    v.forward(
      v.partialCheck([['one'], ['other']], ({ one, other }) => one.id !== other.id, 'A part cannot be made of itself.'),
      ['other'],
    ),
  )
}

/** One part for several of another: both named in plain words, in this build or in all. */
export function OwnRuleForm({ build }: { build: Build }) {
  const schema = ruleSchema(useRecords())
  const { control, handleSubmit, reset } = useCheckedForm(schema, { one: '', qty: '2', other: '', scope: 'build' })
  const addRule = async ({ one, qty, other, scope }: v.InferOutput<typeof schema>) => {
    const written = await decide(`One ${one.name} = ${qty} × ${other.name}`, scope === 'always' ? null : build.id, [
      { kind: 'own', part: one.id, uses: [{ part: other.id, qty }], points: 1 },
    ])
    if (written) reset({ one: '', qty: '2', other: '', scope })
  }
  return (
    <form
      className="grid grid-cols-[minmax(0,1fr)_4.5rem_minmax(0,1fr)] gap-x-3 gap-y-2"
      onSubmit={(e) => void handleSubmit(addRule)(e)}
    >
      <FormText control={control} name="one" label="One" placeholder="panel 1x6" />
      <FormText control={control} name="qty" label="is" inputMode="numeric" />
      <FormText control={control} name="other" label="times" placeholder="panel 1x3" />
      <div className="col-span-3 flex items-end gap-3">
        <FormChoice
          control={control}
          name="scope"
          label="Where the rule holds"
          options={[
            { value: 'build', label: 'in this build' },
            { value: 'always', label: 'in every build' },
          ]}
        />
        <Button type="submit">Add the rule</Button>
      </div>
    </form>
  )
}
