import { useState } from 'react'
import { itemKey, type ItemKey } from '../../core/catalogue/item.ts'
import { readQuickLine } from '../../core/formats/quick-line.ts'
import type { Change } from '../../storage/journal-entry.ts'
import { add } from '../../storage/journal.ts'
import { useRecords, type RecordsView } from '../store/records.tsx'
import { Button } from '../ui/button.tsx'
import { committing } from '../ui/commit-scope.ts'
import { TextInput } from '../ui/fields.tsx'

export type TypedLine = { readonly item: ItemKey; readonly qty: number; readonly name: string }

/** Lines typed by hand or pasted from a spreadsheet, read into items; parts and colours that are new come with them. */
export function readLines(texts: readonly string[], records: RecordsView) {
  const lines: TypedLine[] = []
  const problems: string[] = []
  const parts = new Map<string, Change<'parts'>['puts'][number]>()
  const colours = new Map<string, Change<'colours'>['puts'][number]>()
  for (const text of texts) {
    const read = readQuickLine(text.replace(/\t/g, ' '), records.colourByName)
    if (!read.ok) {
      problems.push(read.error.message)
      continue
    }
    const { qty, colour, decoration } = read.value
    const known = records.partByAlias.get(read.value.part.id)
    const part = (known && records.partById.get(known)) ?? read.value.part
    if (known === undefined) parts.set(part.id, part)
    if (!records.colours.some((c) => c.id === colour.id)) colours.set(colour.id, colour)
    const name = [part.name, colour.name, decoration].filter((t) => t !== '').join(', ')
    lines.push({ item: itemKey(part.id, colour.id, decoration), qty, name })
  }
  return { lines, problems, changes: [add('parts', [...parts.values()]), add('colours', [...colours.values()])] }
}

/** Lines pasted at once; more are a list, which is read elsewhere. */
const MOST_PASTED = 1000

/** One field that takes "14 plate 2x8 Soot" and Enter, or many such lines pasted at once, added as one act. */
export function QuickEntry({
  onAdd,
  label = 'New line',
  action = 'Add the line',
  wide = false,
}: {
  onAdd: (lines: readonly TypedLine[], more: readonly Change[]) => void
  label?: string
  action?: string
  /** Takes the width there is instead of a fixed one. */
  wide?: boolean
}) {
  const records = useRecords()
  const [text, setText] = useState('')
  const [problems, setProblems] = useState<readonly string[]>([])
  const add = (texts: readonly string[]): boolean => {
    const read = readLines(texts, records)
    setProblems(read.problems)
    if (read.lines.length > 0)
      committing(
        () => {
          // What was typed comes back, unless more was typed since.
          setText((now) => (now === '' && texts.length === 1 ? (texts[0] ?? '') : now))
          setProblems(['Not written; Enter tries again.'])
        },
        () => {
          onAdd(read.lines, read.changes)
        },
      )
    return read.problems.length === 0
  }
  return (
    <form
      className="no-print flex flex-wrap items-center gap-2"
      onSubmit={(e) => {
        e.preventDefault()
        if (add([text])) setText('')
      }}
    >
      <TextInput
        aria-label={label}
        value={text}
        className={wide ? 'min-w-0 flex-1' : 'w-72'}
        placeholder="14 plate 2x8 Soot"
        onChange={(e) => {
          setText(e.target.value)
        }}
        onPaste={(e) => {
          const rows = e.clipboardData
            .getData('text')
            .split(/\r?\n/)
            .filter((row) => row.trim() !== '')
          if (rows.length < 2) return
          e.preventDefault()
          if (rows.length > MOST_PASTED)
            setProblems([`${rows.length} lines are more than can be typed: import them as a list.`])
          else add(rows)
        }}
      />
      <Button type="submit">{action}</Button>
      {problems.length > 0 && (
        <span role="alert" className="text-sm text-bad">
          {problems[0]}
          {problems.length > 1 && ` And ${problems.length - 1} more lines like it were left out.`}
        </span>
      )}
    </form>
  )
}
