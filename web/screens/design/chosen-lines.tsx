import { Trash2 } from 'lucide-react'
import { FREEDOMS, VISIBILITIES, type DesignLine, type Module } from '../../../core/design/design.ts'
import { editLine, type LineCell } from '../../../core/design/edit-line.ts'
import { changeLines, inColour, moveLines, withoutLines } from '../../../core/design/edit-lines.ts'
import type { ModuleId } from '../../../core/units/ids.ts'
import { plural } from '../../../core/units/numbers.ts'
import { ColourChoice } from '../../pieces/colour-choice.tsx'
import { useRecords } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'
import { Choice } from '../../ui/fields.tsx'
import type { EditDesign } from './edit-design.ts'

/** Value of a choice that stands for doing nothing. */
const ASK = '-'

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
  const ids = new Set(chosen.map((l) => l.id))
  const words = plural(chosen.length, 'line')
  const mark = (cell: LineCell, text: string) => {
    edit.save(
      `Marked ${words}: ${text}`,
      changeLines(edit.design, ids, (l) => {
        const read = editLine(l, cell, text)
        return read.ok && read.value ? read.value : l
      }),
      [],
      false,
    )
  }
  const others = edit.design.modules.filter((m) => m.id !== module.id)
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
            const target = others.find((m) => m.id === to)
            if (target)
              edit.save(`Moved ${words} to ${target.name}`, moveLines(edit.design, ids, to as ModuleId), [], false)
          }}
        />
      )}
      <ColourChoice
        label="Colour of the chosen"
        className="w-36"
        value={undefined}
        none="colour…"
        onChange={(colour) => {
          if (colour)
            edit.save(
              `Put ${words} in ${colourById.get(colour)?.name ?? 'a colour'}`,
              changeLines(edit.design, ids, (l) => ({ ...l, item: inColour(l.item, colour) })),
              [],
              false,
            )
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
      <Button
        onClick={() => {
          edit.save(`Removed ${words}`, withoutLines(edit.design, ids), [], false)
        }}
      >
        <Trash2 size={14} aria-hidden="true" /> Remove
      </Button>
    </section>
  )
}
