import type { ShelfMode } from '../../../core/formats/list-import.ts'
import type { ListKind } from '../../../core/formats/list-fields.ts'
import { Field as LabelledField, TextInput, Tick, Choice } from '../../ui/fields.tsx'

/** Characters of a set's name, and of a place's. */
export const MOST_NAME = 200

const MOST_PLACE = 100

const MODES = [
  { value: 'add', label: 'add to what is there' },
  { value: 'replace', label: 'replace the places it names' },
  { value: 'correct', label: 'correct only what differs' },
] as const satisfies readonly { value: ShelfMode; label: string }[]

const DESIGN_MODES = [
  { value: 'replace', label: 'replace the modules there are' },
  { value: 'add', label: 'add its modules' },
  { value: 'correct', label: 'correct modules of the same name' },
] as const satisfies readonly { value: ShelfMode; label: string }[]

export type DestinationState = {
  readonly name: string
  readonly place: string
  readonly mode: ShelfMode
  readonly addCopy: boolean
}

/** Where the rows go, and what they do to what is there. */
export function Destination({
  kind,
  ofBuild,
  state,
  onChange,
}: {
  kind: ListKind
  ofBuild: boolean
  state: DestinationState
  onChange: (next: DestinationState) => void
}) {
  const { name, place, mode, addCopy } = state
  const setMode = (next: ShelfMode) => {
    onChange({ ...state, mode: next })
  }
  return (
    <div className="flex flex-wrap items-end gap-4">
      {kind === 'donor' && (
        <>
          <LabelledField label="Name of the donor set">
            {(id) => (
              <TextInput
                id={id}
                className="w-72"
                maxLength={MOST_NAME}
                value={name}
                onChange={(e) => {
                  onChange({ ...state, name: e.target.value })
                }}
                placeholder="As you call it"
              />
            )}
          </LabelledField>
          {ofBuild && (
            <Tick
              checked={addCopy}
              onChange={(addCopy) => {
                onChange({ ...state, addCopy })
              }}
            >
              I own a copy and it serves this build
            </Tick>
          )}
        </>
      )}
      {kind === 'shelf' && (
        <>
          <LabelledField label="Place for rows that name none">
            {(id) => (
              <TextInput
                id={id}
                className="w-56"
                maxLength={MOST_PLACE}
                value={place}
                onChange={(e) => {
                  onChange({ ...state, place: e.target.value })
                }}
              />
            )}
          </LabelledField>
          <LabelledField label="The list is to">
            {(id) => <Choice id={id} className="w-60" value={mode} options={MODES} onChange={setMode} />}
          </LabelledField>
        </>
      )}
      {kind === 'design' && (
        <LabelledField label="The list is to">
          {(id) => <Choice id={id} className="w-80" value={mode} options={DESIGN_MODES} onChange={setMode} />}
        </LabelledField>
      )}
    </div>
  )
}

/** Where rows go unless something else is chosen. */
export const destinationOf = (kind: ListKind, fileName: string): DestinationState => ({
  name: fileName.slice(0, MOST_NAME),
  place: 'Unsorted box',
  mode: kind === 'design' ? 'replace' : 'add',
  addCopy: true,
})
