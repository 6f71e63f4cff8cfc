import { Trash2 } from 'lucide-react'
import { useState } from 'react'
import { splitItemKey, type ItemKey } from '../../../core/catalogue/item.ts'
import type { FREEDOMS } from '../../../core/design/design.ts'
import { SLOTS, STICKER_USES, VISIBILITIES, type DesignLine, type Module } from '../../../core/design/design.ts'
import { cellText, editLine, type LineCell } from '../../../core/design/edit-line.ts'
import { recolourGroup } from '../../../core/design/recolour.ts'
import { lengthOf } from '../../../core/planning/stand-ins.ts'
import type { ColourId } from '../../../core/units/ids.ts'
import type { Currency } from '../../../core/units/money.ts'
import type { Change } from '../../../storage/journal-entry.ts'
import { useRecords } from '../../data/records.tsx'
import { Button } from '../../ui/button.tsx'
import { ColourChoice } from '../../ui/colour-choice.tsx'
import { Choice, CommitInput, Field, MoneyInput, NumberInput, Tick } from '../../ui/fields.tsx'
import { ItemName } from '../../ui/item-name.tsx'
import { QuickEntry } from '../../ui/quick-entry.tsx'
import type { EditDesign } from './edit-design.ts'

const OPTIONS = <T extends string>(values: readonly T[]) => values.map((value) => ({ value, label: value }))
const FREEDOM_LABELS = [
  { value: 'rule', label: 'as the house rules say' },
  { value: 'exact', label: 'exact' },
  { value: 'near', label: 'a near colour will do' },
  { value: 'palette', label: 'any of the palette' },
  { value: 'free', label: 'any colour' },
] as const satisfies readonly { value: 'rule' | (typeof FREEDOMS)[number]; label: string }[]

type SetLine = (label: string, next: DesignLine, more?: readonly Change[]) => void

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
    if (!read.ok) setProblem(`"${text}": ${read.error}`)
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
      <ItemName item={line.item} size={56} />
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
              none={groupColour === undefined ? 'choose a colour' : `netted in ${groupColour}`}
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
      <Alternatives line={line} set={set} without={without} />
      <Tick
        checked={line.print !== undefined}
        onChange={(on) => {
          set(
            on ? 'Has it printed' : 'No longer has it printed',
            on ? { ...line, print: { vendor: 'Print shop', price: 0, minRun: 1 } } : without('print'),
          )
        }}
      >
        Printed to order
      </Tick>
      {line.print && (
        <div className="grid grid-cols-2 gap-2">
          <Field label="Vendor">
            {(id) => (
              <CommitInput
                id={id}
                value={line.print?.vendor ?? ''}
                maxLength={120}
                className="w-full"
                onCommit={(vendor) => {
                  if (line.print && vendor.trim() !== '')
                    set('Changed the vendor', { ...line, print: { ...line.print, vendor: vendor.trim() } })
                }}
              />
            )}
          </Field>
          <Field label={`Each, ${currency}`}>
            {(id) => (
              <MoneyInput
                id={id}
                currency={currency}
                className="w-full"
                value={line.print?.price ?? 0}
                onCommit={(price) => {
                  if (line.print && price !== null)
                    set('Changed the price of a print', { ...line, print: { ...line.print, price } })
                }}
              />
            )}
          </Field>
          <Field label="At least">
            {(id) => (
              <NumberInput
                id={id}
                min={1}
                max={100_000}
                className="w-full"
                value={line.print?.minRun ?? 1}
                onCommit={(minRun) => {
                  if (line.print && minRun !== null)
                    set('Changed the minimum run', { ...line, print: { ...line.print, minRun } })
                }}
              />
            )}
          </Field>
        </div>
      )}
      <Field label="Note">
        {(id) => (
          <CommitInput id={id} value={line.note ?? ''} maxLength={500} onCommit={cell('note', 'Changed a note')} />
        )}
      </Field>
    </section>
  )
}

/** The colours a line may take; the house palette counts until one is chosen here. */
function LinePalette({
  line,
  edit,
  set,
  without,
}: {
  line: DesignLine
  edit: EditDesign
  set: SetLine
  without: (key: keyof DesignLine) => DesignLine
}) {
  const { colourById } = useRecords()
  const chosen = line.palette ?? []
  const drawn = edit.design.modules.flatMap((m) => m.lines.map((l) => splitItemKey(l.item).colour))
  const colours = [...new Set([...chosen, ...drawn])]
  const put = (next: readonly ColourId[]) => {
    set(
      `The palette has ${next.length} colours`,
      next.length > 0 ? { ...line, palette: [...next] } : without('palette'),
    )
  }
  return (
    <div role="group" aria-label="Palette of the line" className="flex flex-wrap gap-1">
      {colours.map((id) => {
        const on = chosen.includes(id)
        const name = colourById.get(id)?.name ?? id.slice(2)
        return (
          <Button
            key={id}
            aria-pressed={on}
            look={on ? 'primary' : 'plain'}
            className="px-1.5 text-xs"
            onClick={() => {
              put(on ? chosen.filter((c) => c !== id) : [...chosen, id])
            }}
          >
            <span
              aria-hidden="true"
              className="inline-block size-3 border border-soft"
              style={{ background: colourById.get(id)?.hex ?? '#9a9a9a' }}
            />
            {name}
          </Button>
        )
      })}
      {chosen.length === 0 && <p className="text-xs text-soft">None chosen here: the house palette counts.</p>}
    </div>
  )
}

function Alternatives({
  line,
  set,
  without,
}: {
  line: DesignLine
  set: SetLine
  without: (key: keyof DesignLine) => DesignLine
}) {
  const options = line.instead ?? []
  return (
    <div className="flex flex-col gap-2">
      <h2 className="font-semibold">Instead, best first</h2>
      {options.map((uses, i) => (
        <div key={i} className="flex items-center justify-between gap-2 border-b border-hair pb-1">
          <span className="flex min-w-0 flex-col">
            {uses.map((u) => (
              <span key={u.item} className="flex items-center gap-1">
                {u.qty} × <ItemName item={u.item} size={24} />
              </span>
            ))}
          </span>
          <Button
            aria-label={`Remove alternative ${i + 1}`}
            onClick={() => {
              const left = options.filter((_, n) => n !== i)
              set('Removed an alternative', left.length === 0 ? without('instead') : { ...line, instead: left })
            }}
          >
            <Trash2 size={13} aria-hidden="true" />
          </Button>
        </div>
      ))}
      <QuickEntry
        label="Alternative"
        action="Add"
        wide
        onAdd={(typed, more) => {
          const uses = typed.map(({ item, qty }): { item: ItemKey; qty: number } => ({
            item,
            qty: Math.min(1000, qty),
          }))
          set('Added an alternative', { ...line, instead: [...options, uses].slice(0, 20) }, more)
        }}
      />
      <h2 className="font-semibold">Until it arrives</h2>
      {line.meanwhile ? (
        <span className="flex items-center justify-between gap-2">
          <ItemName item={line.meanwhile} size={24} />
          <Button
            aria-label="Nothing meanwhile"
            onClick={() => {
              set('Nothing stands in meanwhile', without('meanwhile'))
            }}
          >
            <Trash2 size={13} aria-hidden="true" />
          </Button>
        </span>
      ) : (
        <QuickEntry
          label="Meanwhile"
          action="Use"
          wide
          onAdd={([first], more) => {
            if (first) set('Something stands in meanwhile', { ...line, meanwhile: first.item }, more)
          }}
        />
      )}
    </div>
  )
}
