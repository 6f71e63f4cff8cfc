import { useState } from 'react'
import type { Build } from '../../../core/build/build.ts'
import type { Design } from '../../../core/design/design.ts'
import type { RecordOf } from '../../../core/records/registry.ts'
import { NOTE_KINDS, type Note, type NoteKind } from '../../../core/settling/note.ts'
import type { ModuleId, NoteId } from '../../../core/units/ids.ts'
import { isDay } from '../../../core/units/instants.ts'
import { add } from '../../../storage/journal.ts'
import { AddPicture } from '../../pieces/add-picture.tsx'
import { fresh } from '../../store/database.ts'
import { perform } from '../../store/perform.ts'
import { Button } from '../../ui/button.tsx'
import { Dialog } from '../../ui/dialog.tsx'
import { Choice, Field, NumberInput, TextInput } from '../../ui/fields.tsx'

const WHOLE = 'the whole build'

/** Writes a note into the log. */
export function NoteDialog({
  build,
  design,
  today,
  onOpenChange,
}: {
  build: Build
  design: Design
  today: string
  onOpenChange: (open: boolean) => void
}) {
  const [text, setText] = useState('')
  const [kind, setKind] = useState<NoteKind>('note')
  const [on, setOn] = useState(today)
  const [module, setModule] = useState<string>(WHOLE)
  const [minutes, setMinutes] = useState<number | null>(null)
  const [pictures, setPictures] = useState<readonly RecordOf<'pictures'>[]>([])
  const [problem, setProblem] = useState('')
  const save = async () => {
    if (text.trim() === '') {
      setProblem('Write something first.')
      return
    }
    if (!isDay(on) || on > today) {
      setProblem('The day is none, or still to come: take today or earlier.')
      return
    }
    const note: Note = {
      ...{ id: `k-${fresh()}` as NoteId, build: build.id, on, kind, text: text.trim().slice(0, 4000) },
      ...(module !== WHOLE && { module: module as ModuleId }),
      ...(minutes !== null && { minutes }),
      ...(pictures.length > 0 && { pictures: pictures.map((p) => p.id) }),
    }
    const done = await perform('Wrote a note into the log', [
      ...(pictures.length > 0 ? [add('pictures', pictures)] : []),
      add('notes', [note]),
    ])
    if (done) onOpenChange(false)
  }
  return (
    <Dialog open onOpenChange={onOpenChange} title="Write a note" description="It stands in the log of this build.">
      <form
        className="flex flex-col gap-3"
        onSubmit={(e) => {
          e.preventDefault()
          void save()
        }}
      >
        <Field label="Note">
          {(id) => (
            <textarea
              id={id}
              rows={4}
              maxLength={4000}
              className="w-full rounded-sm border border-soft bg-sheet px-2 py-1"
              value={text}
              onChange={(e) => {
                setText(e.target.value)
              }}
            />
          )}
        </Field>
        <div className="grid grid-cols-2 gap-3">
          <Field label="Kind">
            {(id) => (
              <Choice
                id={id}
                value={kind}
                options={NOTE_KINDS.map((k) => ({ value: k, label: k }))}
                onChange={setKind}
              />
            )}
          </Field>
          <Field label="Day">
            {(id) => (
              <TextInput
                id={id}
                type="date"
                max={today}
                value={on}
                onChange={(e) => {
                  setOn(e.target.value)
                }}
              />
            )}
          </Field>
          <Field label="Of">
            {(id) => (
              <Choice
                id={id}
                value={module}
                options={[
                  { value: WHOLE, label: WHOLE },
                  ...design.modules.map((m) => ({ value: m.id as string, label: m.name })),
                ]}
                onChange={setModule}
              />
            )}
          </Field>
          <Field label="Minutes it took">
            {(id) => (
              <NumberInput id={id} value={minutes} min={0} max={1_000_000} empty="not noted" onCommit={setMinutes} />
            )}
          </Field>
        </div>
        <div className="flex flex-wrap items-center gap-2 text-sm">
          <AddPicture
            label="Picture of the note"
            onPicture={(p) => {
              setPictures((before) => [...before, p].slice(0, 20))
            }}
          >
            Add a picture
          </AddPicture>
          {pictures.map((p) => (
            <span key={p.id}>{p.name}</span>
          ))}
        </div>
        {problem && (
          <p role="alert" className="text-sm text-bad">
            {problem}
          </p>
        )}
        <div>
          <Button type="submit" look="primary">
            Write it
          </Button>
        </div>
      </form>
    </Dialog>
  )
}
