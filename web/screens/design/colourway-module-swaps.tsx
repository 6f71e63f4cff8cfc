import { Trash2 } from 'lucide-react'
import { useState } from 'react'
import type { Colourway } from '../../../core/design/design.ts'
import type { ColourId, ModuleId } from '../../../core/units/ids.ts'
import { useRecords } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'
import { ColourChoice } from '../../pieces/colour-choice.tsx'
import { Choice } from '../../ui/fields.tsx'
import type { EditDesign } from './edit-design.ts'

/** Exchanges that hold in one module alone, before those of the whole design. */
export function ColourwayModuleSwaps({
  edit,
  colourway,
  colours,
  onChange,
}: {
  edit: EditDesign
  colourway: Colourway
  colours: readonly ColourId[]
  onChange: (label: string, next: Colourway) => void
}) {
  const records = useRecords()
  const [module, setModule] = useState<ModuleId | undefined>(edit.design.modules[0]?.id)
  const [from, setFrom] = useState<ColourId | undefined>(colours[0])
  const own = colourway.colours.filter((c) => c.module !== undefined)
  const nameOf = (id: ColourId) => records.colourById.get(id)?.name ?? id.slice(2)
  return (
    <div className="flex flex-col gap-2 border-t border-hair pt-2">
      <h2 className="font-semibold">In one module only</h2>
      {own.map((c) => (
        <span key={`${c.module} ${c.from}`} className="flex items-center justify-between gap-2">
          <span>
            {edit.design.modules.find((m) => m.id === c.module)?.name ?? 'a module'}: {nameOf(c.from)} becomes{' '}
            {nameOf(c.to)}
          </span>
          <Button
            aria-label="Remove this exchange"
            onClick={() => {
              onChange('Removed an exchange', { ...colourway, colours: colourway.colours.filter((x) => x !== c) })
            }}
          >
            <Trash2 size={13} aria-hidden="true" />
          </Button>
        </span>
      ))}
      <Choice
        label="Module of the exchange"
        value={module ?? ''}
        options={edit.design.modules.map((m) => ({ value: m.id as string, label: m.name }))}
        onChange={(id) => {
          setModule(id as ModuleId)
        }}
      />
      <div className="grid grid-cols-2 gap-2">
        <ColourChoice label="Colour in the module" value={from} colours={colours} onChange={setFrom} />
        <ColourChoice
          label="becomes"
          value={undefined}
          none="becomes…"
          onChange={(to) => {
            if (!to || !from || !module) return
            const others = colourway.colours.filter((c) => c.module !== module || c.from !== from)
            onChange('Exchanged a colour in one module', { ...colourway, colours: [...others, { from, to, module }] })
          }}
        />
      </div>
    </div>
  )
}
