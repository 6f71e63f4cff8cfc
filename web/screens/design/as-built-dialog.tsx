import { useMemo, useState } from 'react'
import type { ItemKey } from '../../../core/catalogue/item.ts'
import { moduleOfPieces } from '../../../core/design/from-donor.ts'
import { asBuilt, leftOverOf } from '../../../core/design/as-built.ts'
import { copyContents } from '../../../core/donors/copy-contents.ts'
import type { Change } from '../../../storage/journal-entry.ts'
import { fresh } from '../../store/database.ts'
import { useRecords } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'
import { Dialog } from '../../ui/dialog.tsx'
import { Choice, Field, TextInput } from '../../ui/fields.tsx'
import { plural } from '../../../core/units/numbers.ts'
import { blockLines } from '../../../core/formats/pasted-block.ts'
import { readLines } from '../../pieces/quick-entry.tsx'
import type { StartDialogProps } from './start-dialog-props.ts'

/** Built first, listed later: what the donors held, less what is left over, plus what was added. */
export function AsBuiltDialog({ edit, snapshot, open, onOpenChange, onAdded }: StartDialogProps) {
  const records = useRecords()
  const [name, setName] = useState('As built')
  const [side, setSide] = useState<'left' | 'built'>('left')
  const [first, setFirst] = useState('')
  const [second, setSecond] = useState('')
  const [problem, setProblem] = useState('')
  const held = useMemo(() => {
    const setById = new Map(snapshot.sets.map((s) => [s.id, s]))
    return snapshot.copies
      .filter((c) => c.state !== 'to-buy' && c.state !== 'promised')
      .flatMap((copy) => {
        const set = setById.get(copy.setId)
        return set ? copyContents(set, copy) : []
      })
  }, [snapshot])
  const read = (text: string) => readLines(blockLines(text, records.colourByName), records)
  const finish = (pieces: ReadonlyMap<ItemKey, number>, more: readonly Change[], note: string) => {
    const module = { ...moduleOfPieces(name.trim() || 'As built', pieces, fresh), note }
    edit.save(`Counted ${module.name}`, { ...edit.design, modules: [...edit.design.modules, module] }, more, false)
    onAdded(module.id)
    onOpenChange(false)
  }
  const apply = () => {
    const [one, two] = [read(first), read(second)]
    const trouble = [...one.problems, ...two.problems][0]
    if (trouble !== undefined) {
      setProblem(trouble)
      return
    }
    const more = [...one.changes, ...two.changes]
    if (side === 'built') {
      const { left, added } = leftOverOf(held, one.lines)
      const count = (rows: readonly { qty: number }[]) => rows.reduce((n, r) => n + r.qty, 0)
      const pieces = new Map<ItemKey, number>()
      for (const { item, qty } of one.lines) pieces.set(item, (pieces.get(item) ?? 0) + qty)
      finish(
        pieces,
        more,
        `${count(left)} pieces of the donors must be left over; ${count(added)} came from elsewhere.`,
      )
      return
    }
    const result = asBuilt(held, one.lines, two.lines)
    if (result.ok) {
      finish(result.pieces, more, 'Donors less counted leftovers plus counted additions.')
      return
    }
    const [worst] = result.excess
    setProblem(
      worst
        ? `${worst.left} × ${records.nameItem(worst.item).name} are left over, but the donors held ${worst.held}. Count again, or add the donor that had it.`
        : '',
    )
  }
  const pieces = held.reduce((n, h) => n + h.qty, 0)
  return (
    <Dialog
      open={open}
      onOpenChange={onOpenChange}
      title="As built"
      description={`Build first, list later. This build's donor copies hold ${plural(pieces, 'piece')}.`}
    >
      <div className="flex flex-col gap-3">
        <Field label="Name of the module">
          {(id) => (
            <TextInput
              id={id}
              value={name}
              maxLength={120}
              onChange={(e) => {
                setName(e.target.value)
              }}
            />
          )}
        </Field>
        <Choice
          label="What was counted"
          value={side}
          options={[
            { value: 'left', label: 'I counted what is left over and what I added' },
            { value: 'built', label: 'I counted what is in the model' },
          ]}
          onChange={setSide}
        />
        <Lines label={side === 'left' ? 'Left over' : 'In the model'} value={first} onChange={setFirst} />
        {side === 'left' && <Lines label="Added from elsewhere" value={second} onChange={setSecond} />}
        {problem && (
          <p role="alert" className="text-sm text-bad">
            {problem}
          </p>
        )}
        <Button look="primary" onClick={apply}>
          Make the module
        </Button>
      </div>
    </Dialog>
  )
}

function Lines({ label, value, onChange }: { label: string; value: string; onChange: (text: string) => void }) {
  return (
    <Field label={label} hint="One line each, such as 14 plate 2x8 Soot; paste from a spreadsheet.">
      {(id) => (
        <textarea
          id={id}
          rows={5}
          value={value}
          className="rounded-sm border border-rule bg-sheet px-2 py-1 text-sm"
          onChange={(e) => {
            onChange(e.target.value)
          }}
        />
      )}
    </Field>
  )
}
