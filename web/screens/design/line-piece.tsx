import { Trash2 } from 'lucide-react'
import { useMemo, useState } from 'react'
import { splitItemKey } from '../../../core/catalogue/item.ts'
import { completable, completions } from '../../../core/formats/completions.ts'
import { NO_ITEM, type DesignLine, type Module } from '../../../core/design/design.ts'
import { swapPart } from '../../../core/design/edit-lines.ts'
import type { ModuleId } from '../../../core/units/ids.ts'
import { plural } from '../../../core/units/numbers.ts'
import { ItemName } from '../../pieces/item-name.tsx'
import { pieceText, readPart, readPiece } from '../../pieces/read-piece.ts'
import { useRecords } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'
import { Choice, CommitInput, Field } from '../../ui/fields.tsx'
import { SuggestingInput } from '../../ui/suggesting-input.tsx'
import { lineActs } from './chosen-lines.tsx'
import type { EditDesign } from './edit-design.ts'

/** What a line is of and where: its piece, its module, and one part for another in all lines at once. */
export function LinePiece({ module, line, edit }: { module: Module; line: DesignLine; edit: EditDesign }) {
  const records = useRecords()
  const { move, remove } = lineActs(module, [line], edit)
  return (
    <>
      <ItemName item={line.item} size={56} />
      <Field label="Piece" hint="A part and a colour, or one of the two.">
        {(id) => (
          <CommitInput
            id={id}
            value={pieceText(line.item, records)}
            maxLength={200}
            onCommit={(text) => {
              const read = readPiece(text, line.item, records)
              if (!read.ok) return { problem: read.error.message }
              const { item, changes } = read.value
              edit.replaceLine(`Changed a piece to ${text.trim()}`, module, { ...line, item }, changes)
              return undefined
            }}
          />
        )}
      </Field>
      {edit.design.modules.length > 1 && (
        <Field label="In module">
          {(id) => (
            <Choice
              id={id}
              value={module.id as string}
              options={edit.design.modules.map((m) => ({ value: m.id as string, label: m.name }))}
              onChange={(to) => {
                move(to as ModuleId)
              }}
            />
          )}
        </Field>
      )}
      <div className="flex flex-wrap gap-2">
        <Button onClick={remove}>
          <Trash2 size={14} aria-hidden="true" /> Remove the line
        </Button>
      </div>
      {line.item !== NO_ITEM && <SwapEverywhere key={line.item} line={line} edit={edit} />}
    </>
  )
}

/** One part for another in all lines of the design; what it will change is said before it is done. */
function SwapEverywhere({ line, edit }: { line: DesignLine; edit: EditDesign }) {
  const records = useRecords()
  const [text, setText] = useState('')
  const [problem, setProblem] = useState<string | undefined>()
  const names = useMemo(() => completable(records.parts, []), [records.parts])
  const { part } = records.nameItem(line.item)
  const from = splitItemKey(line.item).part
  const concerned = useMemo(() => swapPart(edit.design, from, 'p-other' as typeof from), [edit.design, from])
  return (
    <details>
      <summary className="cursor-pointer">
        Swap {part.name} in all {plural(concerned.lines, 'line')}
      </summary>
      <form
        className="mt-1 flex flex-col gap-1"
        onSubmit={(e) => {
          e.preventDefault()
          const read = readPart(text, records)
          if (!read.ok) {
            setProblem(read.error.message)
            return
          }
          const to = splitItemKey(read.value.item).part
          const swap = swapPart(edit.design, from, to)
          if (swap.lines === 0) {
            setProblem('That is the same part.')
            return
          }
          const next = records.partById.get(to)?.name ?? text.trim()
          edit.save(
            `Swapped ${part.name} for ${next} in ${plural(swap.lines, 'line')}`,
            swap.design,
            read.value.changes,
            false,
          )
          setText('')
          setProblem(undefined)
        }}
      >
        <SuggestingInput
          aria-label="Another part instead"
          placeholder="plate 2x6"
          value={text}
          suggest={(typed) => completions(typed, names).map((t) => t.trim())}
          onText={(typed) => {
            setText(typed)
            setProblem(undefined)
          }}
        />
        <span className="text-xs text-soft">
          {plural(concerned.pieces, 'piece')} of {plural(concerned.lines, 'line')}; their colours stay.
        </span>
        {problem && (
          <p role="alert" className="text-xs text-bad">
            {problem}
          </p>
        )}
        <div>
          <Button type="submit">Swap</Button>
        </div>
      </form>
    </details>
  )
}
