import { useState } from 'react'
import type { FREEDOMS } from '../../../core/design/design.ts'
import {
  MOMENTS,
  SLOTS,
  STICKER_USES,
  VISIBILITIES,
  type DesignLine,
  type Module,
} from '../../../core/design/design.ts'
import { cellText, editLine, type LineCell } from '../../../core/design/edit-line.ts'
import { recolourGroup } from '../../../core/design/recolour.ts'
import { lengthOf } from '../../../core/netting/stock.ts'
import type { Currency } from '../../../core/units/money.ts'
import { useRecords } from '../../store/records.tsx'
import { ColourChoice } from '../../pieces/colour-choice.tsx'
import { Choice, CommitInput, Field, Tick } from '../../ui/fields.tsx'
import type { EditDesign } from './edit-design.ts'
import { LineAlternatives } from './line-alternatives.tsx'
import { LinePalette } from './line-palette.tsx'
import { LinePiece } from './line-piece.tsx'
import type { SetLine } from './line-part-props.ts'
import { LinePrint } from './line-print.tsx'

const OPTIONS = <T extends string>(values: readonly T[]) => values.map((value) => ({ value, label: value }))
const FREEDOM_LABELS = [
  { value: 'rule', label: 'as the house rules say' },
  { value: 'exact', label: 'exact' },
  { value: 'near', label: 'a near colour will do' },
  { value: 'palette', label: 'any of the palette' },
  { value: 'free', label: 'any colour' },
] as const satisfies readonly { value: 'rule' | (typeof FREEDOMS)[number]; label: string }[]

/** Everything a line says beside its quantity. */
export function LineDetails({
  module,
  line,
  edit,
  currency,
  groupColour,
}: {
  module: Module
  line: DesignLine
  edit: EditDesign
  currency: Currency
  groupColour: string | undefined
}) {
  const { nameItem } = useRecords()
  const [problem, setProblem] = useState('')
  const set: SetLine = (label, next, more) => {
    setProblem('')
    edit.replaceLine(label, module, next, more)
  }
  const cell = (id: LineCell, label: string) => (text: string) => {
    const read = editLine(line, id, text)
    if (!read.ok) setProblem(`"${text}": ${read.error.message}`)
    else if (read.value) set(label, read.value)
  }
  const without = (key: keyof DesignLine): DesignLine => {
    const { [key]: _, ...rest } = line
    return rest as DesignLine
  }
  const { part } = nameItem(line.item)
  const { family } = part.shape
  const byLength = lengthOf(part) !== undefined || ['hose', 'string', 'bar', 'rod'].includes(family)
  const sticker = family.startsWith('sticker')
  return (
    <section aria-label="Line" className="flex flex-col gap-3 text-sm">
      <LinePiece module={module} line={line} edit={edit} />
      {problem && (
        <p role="alert" className="text-bad">
          {problem}
        </p>
      )}
      <Field label="Quantity in one" hint="8, least-likely-most as 4-6-9, or a taper as 12 10 8.">
        {(id) => <CommitInput id={id} value={cellText(line, 'qty')} onCommit={cell('qty', 'Changed a quantity')} />}
      </Field>
      <Field label="Where">
        {(id) => (
          <Choice
            id={id}
            value={line.visibility ?? 'seen'}
            options={OPTIONS(VISIBILITIES)}
            onChange={cell('visibility', 'Marked where a line is')}
          />
        )}
      </Field>
      <Field label="Colour">
        {(id) => (
          <Choice
            id={id}
            value={line.freedom ?? 'rule'}
            options={FREEDOM_LABELS}
            onChange={cell('freedom', "Changed a line's freedom of colour")}
          />
        )}
      </Field>
      <MomentField line={line} set={set} without={without} />
      {line.freedom === 'palette' && <LinePalette line={line} edit={edit} set={set} without={without} />}
      <Tick
        checked={line.locked ?? false}
        onChange={(locked) => {
          cell('locked', locked ? "Locked a line's colour" : "Unlocked a line's colour")(locked ? 'yes' : 'no')
        }}
      >
        Recolouring leaves it alone
      </Tick>
      <Field label="One colour with" hint="Lines of the same group share one colour, whichever serves best.">
        {(id) => (
          <CommitInput
            id={id}
            value={line.group ?? ''}
            placeholder="no group"
            onCommit={cell('group', 'Changed a group')}
          />
        )}
      </Field>
      {line.group !== undefined && (
        <Field label={`Put all of ${line.group} in`}>
          {() => (
            <ColourChoice
              label="Colour of the group"
              value={undefined}
              none={groupColour === undefined ? 'choose a colour' : `comes in ${groupColour}`}
              onChange={(colour) => {
                if (colour && line.group !== undefined)
                  edit.save(`Recoloured ${line.group}`, recolourGroup(edit.design, line.group, colour), [], false)
              }}
            />
          )}
        </Field>
      )}
      {byLength && (
        <Field label="Length of each" hint={`With its unit: 120 mm, 12 cm, 15 studs.`}>
          {(id) => (
            <CommitInput
              id={id}
              value={cellText(line, 'length')}
              placeholder={lengthOf(part) === undefined ? 'no length' : `${lengthOf(part)} mm by its name`}
              onCommit={cell('length', 'Changed a length')}
            />
          )}
        </Field>
      )}
      {sticker && (
        <Field label="Sticker">
          {(id) => (
            <Choice
              id={id}
              value={line.use ?? 'applied'}
              options={OPTIONS(STICKER_USES)}
              onChange={(use) => {
                set(`Sticker ${use}`, use === 'applied' ? without('use') : { ...line, use })
              }}
            />
          )}
        </Field>
      )}
      {module.figure && (
        <Field label="Slot">
          {(id) => (
            <Choice
              id={id}
              value={line.slot ?? 'accessory'}
              options={OPTIONS(SLOTS)}
              onChange={(slot) => {
                set(`Put a piece in ${slot}`, { ...line, slot })
              }}
            />
          )}
        </Field>
      )}
      <LineAlternatives line={line} set={set} without={without} />
      <LinePrint line={line} currency={currency} set={set} without={without} />
      <Field label="Note">
        {(id) => (
          <CommitInput id={id} value={line.note ?? ''} maxLength={500} onCommit={cell('note', 'Changed a note')} />
        )}
      </Field>
    </section>
  )
}

/** When a line is to be minded while it is built. */
function MomentField({
  line,
  set,
  without,
}: {
  line: DesignLine
  set: SetLine
  without: (key: keyof DesignLine) => DesignLine
}) {
  return (
    <Field label="While building" hint="Told beside the line on Make; what is attached last comes last there.">
      {(id) => (
        <Choice
          id={id}
          value={line.moment ?? 'whenever'}
          options={OPTIONS(['whenever', ...MOMENTS] as const)}
          onChange={(moment) => {
            set('Marked when a line is built', moment === 'whenever' ? without('moment') : { ...line, moment })
          }}
        />
      )}
    </Field>
  )
}
