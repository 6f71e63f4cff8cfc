import { Trash2 } from 'lucide-react'
import type { Colour } from '../../../core/colours/colour.ts'
import { FREEDOMS, VISIBILITIES, type DesignLine, type Module } from '../../../core/design/design.ts'
import { editLine, type LineCell } from '../../../core/design/edit-line.ts'
import { changeLines, inColour, moveLines, withoutLines } from '../../../core/design/edit-lines.ts'
import type { ModuleId } from '../../../core/units/ids.ts'
import { plural } from '../../../core/units/numbers.ts'
import { ColourChoice } from '../../pieces/colour-choice.tsx'
import { useRecords } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'
import type { ContextEntry } from '../../ui/context-menu.tsx'
import { Choice } from '../../ui/fields.tsx'
import type { EditDesign } from './edit-design.ts'

/** Value of a choice that stands for doing nothing. */
const ASK = '-'

/** What can be done with several lines of a module, each one step of undo. */
export function lineActs(module: Module, chosen: readonly DesignLine[], edit: EditDesign) {
  const ids = new Set(chosen.map((l) => l.id))
  const words = plural(chosen.length, 'line')
  const others = edit.design.modules.filter((m) => m.id !== module.id)
  const save = (label: string, next: EditDesign['design']) => {
    edit.save(label, next, [], false)
  }
  return {
    words,
    others,
    mark: (cell: LineCell, text: string) => {
      const marked = (l: DesignLine): DesignLine => {
        const read = editLine(l, cell, text)
        return read.ok && read.value ? read.value : l
      }
      save(`Marked ${words}: ${text}`, changeLines(edit.design, ids, marked))
    },
    move: (to: ModuleId) => {
      const target = others.find((m) => m.id === to)
      if (target) save(`Moved ${words} to ${target.name}`, moveLines(edit.design, ids, to))
    },
    recolour: ({ id, name }: Pick<Colour, 'id' | 'name'>) => {
      save(
        `Put ${words} in ${name}`,
        changeLines(edit.design, ids, (l) => ({ ...l, item: inColour(l.item, id) })),
      )
    },
    remove: () => {
      save(`Removed ${words}`, withoutLines(edit.design, ids))
    },
  }
}

/** The same as a menu of the table. */
export function lineMenu(module: Module, chosen: readonly DesignLine[], edit: EditDesign): ContextEntry[] {
  if (chosen.length === 0) return []
  const { words, mark, move, remove, others } = lineActs(module, chosen, edit)
  const elsewhere = others.map((m) => ({
    label: m.name,
    onSelect: () => {
      move(m.id)
    },
  }))
  return [
    ...(elsewhere.length === 0 ? [] : [{ label: 'Move to', entries: elsewhere }]),
    ...VISIBILITIES.map((v) => ({
      label: `Mark as ${v}`,
      onSelect: () => {
        mark('visibility', v)
      },
    })),
    { label: `Remove ${words}`, onSelect: remove },
  ]
}

/** Acts on all lines that are chosen in the table, each one step of undo. */
export function ChosenLines({
  module,
  chosen,
  edit,
}: {
  module: Module
  chosen: readonly DesignLine[]
  edit: EditDesign
}) {
  const { colourById } = useRecords()
  const { words, mark, move, recolour, remove, others } = lineActs(module, chosen, edit)
  return (
    <section aria-label="Chosen lines" className="flex flex-wrap items-center gap-2 bg-mark px-2 py-1.5 text-sm">
      <b role="status">{words} chosen</b>
      {others.length > 0 && (
        <Choice
          label="Move the chosen to"
          className="w-36"
          value={ASK as string}
          options={[
            { value: ASK, label: 'move to…' },
            ...others.map((m) => ({ value: m.id as string, label: m.name })),
          ]}
          onChange={(to) => {
            if (to !== ASK) move(to as ModuleId)
          }}
        />
      )}
      <ColourChoice
        label="Colour of the chosen"
        className="w-36"
        value={undefined}
        none="colour…"
        onChange={(id) => {
          const colour = id && colourById.get(id)
          if (colour) recolour(colour)
        }}
      />
      <Choice
        label="Where the chosen are"
        className="w-28"
        value={ASK as string}
        options={[{ value: ASK, label: 'where…' }, ...VISIBILITIES.map((v) => ({ value: v as string, label: v }))]}
        onChange={(v) => {
          if (v !== ASK) mark('visibility', v)
        }}
      />
      <Choice
        label="Colour freedom of the chosen"
        className="w-32"
        value={ASK as string}
        options={[
          { value: ASK, label: 'freedom…' },
          { value: 'rule', label: 'by rule' },
          ...FREEDOMS.map((f) => ({ value: f as string, label: f })),
        ]}
        onChange={(f) => {
          if (f !== ASK) mark('freedom', f)
        }}
      />
      <Button onClick={remove}>
        <Trash2 size={14} aria-hidden="true" /> Remove
      </Button>
    </section>
  )
}
