import { useMemo, useState } from 'react'
import type { ItemKey } from '../../../core/catalogue/item.ts'
import type { Module } from '../../../core/design/design.ts'
import { asBuilt, copyModules, leftOverOf, moduleOfPieces, modulesFromDonor } from '../../../core/design/from-donor.ts'
import { copyContents } from '../../../core/donors/copy-contents.ts'
import type { Snapshot } from '../../../core/planning/snapshot.ts'
import type { ModuleId, PlaceId } from '../../../core/units/ids.ts'
import type { Change } from '../../../storage/journal-entry.ts'
import { fresh } from '../../data/database.ts'
import { useRecords } from '../../data/records.tsx'
import { Button } from '../../ui/button.tsx'
import { Dialog } from '../../ui/dialog.tsx'
import { Choice, Field, TextInput, Tick } from '../../ui/fields.tsx'
import { plural } from '../../ui/screen.tsx'
import { readLines } from '../../ui/quick-entry.tsx'
import type { EditDesign } from './edit-design.ts'

type DialogProps = {
  edit: EditDesign
  snapshot: Snapshot
  open: boolean
  onOpenChange: (open: boolean) => void
  onAdded: (id: ModuleId) => void
}

/** A design begun from a donor: its stages become modules, to be thinned out and added to. */
export function DonorStartDialog({ edit, snapshot, open, onOpenChange, onAdded }: DialogProps) {
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

/** Modules of all builds and versions: inserted as a recipe, or with the built thing itself. */
export function LibraryDialog({ edit, snapshot, open, onOpenChange, onAdded }: DialogProps) {
  const { builds, designs, versions } = useRecords()
  const [chosen, setChosen] = useState('')
  const [model, setModel] = useState('-')
  const rows = useMemo(() => {
    const nameOf = new Map(builds.map((b) => [b.id, b.name]))
    return [
      ...designs.map((d) => ({
        key: d.id as string,
        from: nameOf.get(d.id) ?? 'a build',
        modules: d.modules,
        version: '',
      })),
      ...versions.map((v) => ({
        key: v.id as string,
        from: nameOf.get(v.buildId) ?? 'a build',
        modules: v.design.modules,
        version: v.name,
      })),
    ].flatMap(({ key, from, modules, version }) =>
      modules.map((module) => ({
        key: `${key} ${module.id}`,
        label: `${module.name} · ${version === '' ? from : `${from}, ${version}`}`,
        from,
        version,
        module,
        modules,
      })),
    )
  }, [builds, designs, versions])
  const row = rows.find((r) => r.key === chosen) ?? rows[0]
  const models = snapshot.places.filter((p) => p.kind === 'model')
  return (
    <Dialog
      open={open}
      onOpenChange={onOpenChange}
      title="Insert a module"
      description="From any build or kept version: its recipe, or the finished thing itself."
    >
      {row ? (
        <div className="flex flex-col gap-3">
          <Field label="Module">
            {(id) => (
              <Choice
                id={id}
                value={row.key}
                options={rows.map((r) => ({ value: r.key, label: r.label }))}
                onChange={setChosen}
              />
            )}
          </Field>
          <Field label="Which" hint="A finished model that is this module covers all of it at once.">
            {(id) => (
              <Choice
                id={id}
                value={model}
                options={[
                  { value: '-', label: 'its recipe, to be built' },
                  ...models.map((p) => ({ value: p.id as string, label: `the built thing: ${p.name}` })),
                ]}
                onChange={setModel}
              />
            )}
          </Field>
          <Button
            look="primary"
            onClick={() => {
              const [first, ...inner] = copyModules(row.modules, row.module.id, fresh)
              if (!first) return
              const top: Module = {
                ...first,
                origin:
                  row.version === ''
                    ? { kind: 'library', build: row.from, module: row.module.name }
                    : { kind: 'version', name: row.version },
                ...(model === '-' ? {} : { built: [model as PlaceId] }),
              }
              edit.save(
                `Inserted ${top.name}`,
                { ...edit.design, modules: [...edit.design.modules, top, ...inner] },
                [],
                false,
              )
              onAdded(top.id)
              onOpenChange(false)
            }}
          >
            Insert {row.module.name}
          </Button>
        </div>
      ) : (
        <p className="text-sm">No build has a module yet.</p>
      )}
    </Dialog>
  )
}

/** Built first, listed later: what the donors held, less what is left over, plus what was added. */
export function AsBuiltDialog({ edit, snapshot, open, onOpenChange, onAdded }: DialogProps) {
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
  const read = (text: string) =>
    readLines(
      text.split(/\r?\n/).filter((l) => l.trim() !== ''),
      records,
    )
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
