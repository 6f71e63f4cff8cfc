import type { ListPreview } from '../../../workers/list.worker.ts'
import type { Delimiter } from '../../../core/formats/delimited.ts'
import type { ReactNode } from 'react'
import { Field as LabelledField, Choice } from '../../ui/fields.tsx'
import { plural } from '../../../core/units/numbers.ts'
import { Button } from '../../ui/button.tsx'

const SEPARATORS = [
  { value: ',', label: 'commas' },
  { value: ';', label: 'semicolons' },
  { value: '\t', label: 'tabs' },
] as const

/** How the source is split, which of its sheets is read, and whether colours stand across it; then where rows go. */
export function SourceSettings({
  preview,
  onSplit,
  onSheet,
  onListColours,
  children,
}: {
  preview: ListPreview
  onSplit: (delimiter: Delimiter) => void
  onSheet: (sheet: string) => void
  onListColours: (on: boolean) => void
  children: ReactNode
}) {
  return (
    <div className="flex flex-wrap gap-x-4 gap-y-2">
      {preview.delimiter !== null && (
        <LabelledField label="Separated by">
          {(id) => (
            <Choice id={id} className="w-32" value={preview.delimiter ?? ','} options={SEPARATORS} onChange={onSplit} />
          )}
        </LabelledField>
      )}
      {preview.sheets.length > 1 && (
        <LabelledField label="Sheet">
          {(id) => (
            <Choice
              id={id}
              className="w-40"
              value={preview.sheet}
              options={preview.sheets.map((sheet) => ({ value: sheet, label: sheet }))}
              onChange={onSheet}
            />
          )}
        </LabelledField>
      )}
      {children}
      {preview.across > 0 && (
        <Note>
          Colours stand across {plural(preview.across, 'column')}.{' '}
          <Button
            onClick={() => {
              onListColours(true)
            }}
          >
            Read them as colours
          </Button>
        </Note>
      )}
      {preview.listed && (
        <Note>
          Colours that stand across are read as a column.{' '}
          <Button
            onClick={() => {
              onListColours(false)
            }}
          >
            Take that back
          </Button>
        </Note>
      )}
    </div>
  )
}

const Note = ({ children }: { children: ReactNode }) => (
  <p className="self-end border-l-4 border-accent bg-raised px-3 py-1.5 text-sm">{children}</p>
)
