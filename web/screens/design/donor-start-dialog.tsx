import { useState } from 'react'
import { modulesFromDonor } from '../../../core/design/from-donor.ts'
import { fresh } from '../../store/database.ts'
import { Button } from '../../ui/button.tsx'
import { Dialog } from '../../ui/dialog.tsx'
import { Choice, Tick } from '../../ui/fields.tsx'
import { plural } from '../../../core/units/numbers.ts'
import type { StartDialogProps } from './start-dialog-props.ts'

/** A design begun from a donor: its stages become modules, to be thinned out and added to. */
export function DonorStartDialog({ edit, snapshot, open, onOpenChange, onAdded }: StartDialogProps) {
  const { sets, copies } = snapshot
  const serving = new Set(copies.map((c) => c.setId))
  const sorted = [...sets].sort((p, q) => Number(serving.has(q.id)) - Number(serving.has(p.id)))
  const [chosen, setChosen] = useState<string | undefined>()
  const set = sorted.find((s) => s.id === chosen) ?? sorted[0]
  const [left, setLeft] = useState<readonly string[]>([])
  const kept = set?.stages.filter((s) => !left.includes(s.id)).map((s) => s.id) ?? []
  const pieces = set?.lines.reduce((n, l) => n + (l.spare || !kept.includes(l.stage) ? 0 : l.qty), 0) ?? 0
  return (
    <Dialog
      open={open}
      onOpenChange={onOpenChange}
      title="Start from a donor"
      description="Each stage that stays becomes a module. What you take out of it later is freed for the rest."
    >
      {set ? (
        <div className="flex flex-col gap-3">
          <Choice
            label="Donor set"
            value={set.id as string}
            options={sorted.map((s) => ({ value: s.id as string, label: s.name }))}
            onChange={(id) => {
              setChosen(id)
              setLeft([])
            }}
          />
          {set.stages.map((stage) => (
            <Tick
              key={stage.id}
              checked={!left.includes(stage.id)}
              onChange={(on) => {
                setLeft((list) => (on ? list.filter((s) => s !== stage.id) : [...list, stage.id]))
              }}
            >
              {stage.name},{' '}
              {plural(
                set.lines.reduce((n, l) => n + (l.stage === stage.id && !l.spare ? l.qty : 0), 0),
                'piece',
              )}
            </Tick>
          ))}
          <Button
            look="primary"
            disabled={pieces === 0}
            onClick={() => {
              const modules = modulesFromDonor(set, kept, fresh)
              edit.save(
                `Began from ${set.name}`,
                { ...edit.design, modules: [...edit.design.modules, ...modules] },
                [],
                false,
              )
              if (modules[0]) onAdded(modules[0].id)
              onOpenChange(false)
            }}
          >
            Add {plural(kept.length, 'module')} of {plural(pieces, 'piece')}
          </Button>
        </div>
      ) : (
        <p className="text-sm">No donor set is known yet: import or type one in the Catalogue first.</p>
      )}
    </Dialog>
  )
}
