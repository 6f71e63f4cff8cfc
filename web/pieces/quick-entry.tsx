import { useMemo, useState } from 'react'
import { itemKey, type ItemKey } from '../../core/catalogue/item.ts'
import { colourKey, type Colour } from '../../core/colours/colour.ts'
import { newColour } from '../../core/colours/new-colour.ts'
import { completable, completions } from '../../core/formats/completions.ts'
import { blockLines } from '../../core/formats/pasted-block.ts'
import { readQuickLine, type QuickLine } from '../../core/formats/quick-line.ts'
import type { ColourId } from '../../core/units/ids.ts'
import { plural } from '../../core/units/numbers.ts'
import type { Change } from '../../storage/journal-entry.ts'
import { add, edit } from '../../storage/journal.ts'
import { useRecords, type RecordsView } from '../store/records.tsx'
import { Button } from '../ui/button.tsx'
import { committing } from '../ui/commit-scope.ts'
import { Choice } from '../ui/fields.tsx'
import { SuggestingInput } from '../ui/suggesting-input.tsx'
import { Swatch } from '../ui/swatch.tsx'
import { PiecePicture } from './piece-picture.tsx'

export type TypedLine = { readonly item: ItemKey; readonly qty: number; readonly name: string }

/** What colour names that nobody knew mean, by `colourKey`: a new colour, or one there is. */
export type ColourMeanings = ReadonlyMap<string, 'new' | ColourId>

const NO_MEANINGS: ColourMeanings = new Map()

/**
 * Lines typed by hand or pasted from a spreadsheet, read into items; parts and colours that are new come with them, and
 * so do names that known colours learnt. A line whose colour nobody knows is a problem until it is said what is meant.
 */
export function readLines(texts: readonly string[], records: RecordsView, meanings: ColourMeanings = NO_MEANINGS) {
  const lines: TypedLine[] = []
  const problems: string[] = []
  const unknown = new Map<string, QuickLine>()
  const parts = new Map<string, Change<'parts'>['puts'][number]>()
  const colours = new Map<ColourId, Colour>()
  const learnt = new Map<ColourId, Colour>()
  /** The colour that is meant, with what it learnt. */
  const meant = (name: string): Colour | undefined => {
    const key = colourKey(name)
    const meaning = meanings.get(key)
    if (meaning === undefined) return undefined
    if (meaning === 'new') return newColour(name)
    const colour = learnt.get(meaning) ?? records.colourById.get(meaning)
    if (!colour) return undefined
    const wiser = { ...colour, aliases: [...new Set([...colour.aliases, key])] }
    learnt.set(meaning, wiser)
    return wiser
  }
  for (const text of texts) {
    const read = readQuickLine(text.replace(/\t/g, ' '), records.colourByName)
    if (!read.ok) {
      problems.push(read.error.message)
      continue
    }
    const { qty, colourName, decoration } = read.value
    const colour = read.value.colour ?? meant(colourName)
    if (!colour) {
      unknown.set(colourKey(colourName), read.value)
      problems.push(`"${colourName}" is no colour that is known. Say which it is, or add it.`)
      continue
    }
    const known = records.partByAlias.get(read.value.part.id)
    const part = (known && records.partById.get(known)) ?? read.value.part
    if (known === undefined) parts.set(part.id, part)
    if (!records.colours.some((c) => c.id === colour.id)) colours.set(colour.id, colour)
    const name = [part.name, colour.name, decoration].filter((t) => t !== '').join(', ')
    lines.push({ item: itemKey(part.id, colour.id, decoration), qty, name })
  }
  const wiser = [...learnt.values()].flatMap((next) => {
    const from = records.colours.find((c) => c.id === next.id)
    return from ? [edit('colours', from, next)] : []
  })
  const changes: Change[] = [add('parts', [...parts.values()]), add('colours', [...colours.values()]), ...wiser]
  return { lines, problems, unknown: [...unknown.values()], changes }
}

/** Lines and characters pasted at once; more are a list, which is read elsewhere. */
const MOST_PASTED = 1000
const LONGEST_PASTE = 200_000

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
  const [meanings, setMeanings] = useState<ColourMeanings>(NO_MEANINGS)
  const [pasted, setPasted] = useState<readonly string[]>([])
  const names = useMemo(() => completable(records.parts, records.allColours), [records.parts, records.allColours])
  const asked = useMemo(() => {
    const texts = pasted.length > 0 ? pasted : text.trim() === '' ? [] : [text]
    return readLines(texts, records, meanings)
  }, [pasted, text, records, meanings])
  const add = (texts: readonly string[], said = meanings): boolean => {
    const read = readLines(texts, records, said)
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
        if (!add([text])) return
        setText('')
        setMeanings(NO_MEANINGS)
      }}
    >
      <SuggestingInput
        aria-label={label}
        value={text}
        className={wide ? 'min-w-0 flex-1' : 'w-72'}
        placeholder="14 plate 2x8 Soot"
        suggest={(typed) => completions(typed, names)}
        onText={(typed) => {
          setText(typed)
          setProblems([])
        }}
        onPaste={(e) => {
          const block = e.clipboardData.getData('text')
          if (block.length > LONGEST_PASTE) {
            e.preventDefault()
            setProblems(['That is more than can be typed: import it as a list.'])
            return
          }
          const rows = blockLines(block, records.colourByName)
          if (rows.length < 2 && !block.includes('\t')) return
          e.preventDefault()
          if (rows.length > MOST_PASTED) {
            setProblems([`${rows.length} lines are more than can be typed: import them as a list.`])
            return
          }
          // Lines whose colour has to be said wait for it.
          const waiting = rows.filter((row) => readLines([row], records).unknown.length > 0)
          add(rows.filter((row) => !waiting.includes(row)))
          setPasted(waiting)
        }}
      />
      <Button type="submit">{action}</Button>
      {text.trim() !== '' && <ReadBack text={text} records={records} meanings={meanings} />}
      {asked.unknown.map((line) => (
        <SayColour
          key={line.colourName}
          line={line}
          records={records}
          onSay={(meaning) => {
            const next = new Map([...meanings, [colourKey(line.colourName), meaning]])
            setMeanings(next)
            setProblems([])
            if (pasted.length > 0 && asked.unknown.length === 1) {
              add(pasted, next)
              setPasted([])
            }
          }}
        />
      ))}
      {problems.length > 0 && (
        <span role="alert" className="text-sm text-bad">
          {problems[0]}
          {problems.length > 1 && ` And ${plural(problems.length - 1, 'more line')} like it left out.`}
        </span>
      )}
    </form>
  )
}

/** What a typed line was understood as, before it is added. */
function ReadBack({ text, records, meanings }: { text: string; records: RecordsView; meanings: ColourMeanings }) {
  const read = readQuickLine(text.replace(/\t/g, ' '), records.colourByName)
  if (!read.ok) return null
  const { qty, colour, colourName, decoration } = read.value
  const known = records.partByAlias.get(read.value.part.id)
  const part = (known && records.partById.get(known)) ?? read.value.part
  const said = meanings.get(colourKey(colourName))
  const shown = colour ?? (said && said !== 'new' ? records.colourById.get(said) : undefined) ?? newColour(colourName)
  return (
    <span role="status" className="flex min-w-0 items-center gap-2 text-sm text-soft">
      <PiecePicture shape={part.shape} hex={shown.hex} finish={shown.finish} size={24} />
      <span className="truncate">
        {qty} × {part.name}
        {decoration && ` + ${decoration}`}
      </span>
      <Swatch hex={shown.hex} />{' '}
      {colour ? colour.name : said ? `${shown.name}${said === 'new' ? ', new' : ''}` : `${colourName}?`}
      {part.shape.family === 'unknown' && <span className="text-warn">shape not known</span>}
    </span>
  )
}

/** A colour name nobody knows: which colour it is, what is alike first, or a new one. */
function SayColour({
  line: { colourName, similar },
  records,
  onSay,
}: {
  line: QuickLine
  records: RecordsView
  onSay: (meaning: 'new' | ColourId) => void
}) {
  const others = records.allColours.filter((c) => !similar.includes(c))
  return (
    <span className="flex items-center gap-2 text-sm">
      <span className="text-warn">“{colourName}” is</span>
      <Choice
        label={`What ${colourName} is`}
        className="w-48"
        value=""
        options={[
          { value: 'new', label: 'a new colour' },
          ...[...similar, ...others].map((c) => ({ value: c.id as string, label: c.name })),
        ]}
        onChange={(value) => {
          onSay(value === 'new' ? 'new' : (value as ColourId))
        }}
      />
    </span>
  )
}
