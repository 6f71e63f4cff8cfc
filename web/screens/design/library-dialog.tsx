import { useMemo, useState } from 'react'
import type { Module } from '../../../core/design/design.ts'
import { copyModules } from '../../../core/design/copy-modules.ts'
import type { PlaceId } from '../../../core/units/ids.ts'
import { fresh } from '../../store/database.ts'
import { useRecords } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'
import { Dialog } from '../../ui/dialog.tsx'
import { Choice, Field } from '../../ui/fields.tsx'
import type { StartDialogProps } from './start-dialog-props.ts'

/** Modules of all builds and versions: inserted as a recipe, or with the built thing itself. */
export function LibraryDialog({ edit, snapshot, open, onOpenChange, onAdded }: StartDialogProps) {
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
