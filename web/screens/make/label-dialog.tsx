import { useState } from 'react'
import { labelSheet, PAPERS, type Label, type Paper } from '../../../core/formats/label-sheet.ts'
import { plural } from '../../../core/units/numbers.ts'
import { Dialog } from '../../ui/dialog.tsx'
import { Choice, Field, NumberInput } from '../../ui/fields.tsx'
import { PrintButton } from '../../ui/print-button.tsx'

/** Labels for bags and drawers on plain paper, to be cut along their lines. */
export function LabelDialog({ labels, onClose }: { labels: readonly Label[]; onClose: () => void }) {
  const [paper, setPaper] = useState<Paper>('A4')
  const [columns, setColumns] = useState(3)
  const [rows, setRows] = useState(8)
  const sheet = labelSheet(labels, paper, columns, rows)
  return (
    <Dialog
      open
      onOpenChange={onClose}
      wide
      title="Labels"
      description="For bags and drawers: printed on plain paper at full size, cut along the lines."
    >
      <div className="no-print flex flex-wrap items-end gap-3">
        <Field label="Paper">
          {(id) => (
            <Choice id={id} value={paper} options={PAPERS.map((p) => ({ value: p, label: p }))} onChange={setPaper} />
          )}
        </Field>
        <Field label="Across">
          {(id) => (
            <NumberInput
              id={id}
              className="w-16"
              value={columns}
              min={1}
              max={6}
              onCommit={(n) => {
                setColumns(n ?? 1)
              }}
            />
          )}
        </Field>
        <Field label="Down">
          {(id) => (
            <NumberInput
              id={id}
              className="w-16"
              value={rows}
              min={1}
              max={18}
              onCommit={(n) => {
                setRows(n ?? 1)
              }}
            />
          )}
        </Field>
        <PrintButton label="Print the labels" />
        <p className="text-sm text-soft">
          {sheet
            ? `${plural(labels.length, 'label')} of ${sheet.width} × ${sheet.height} mm on ${plural(sheet.pages.length, 'sheet')}`
            : 'Labels would be smaller than 15 mm: fewer across or down.'}
        </p>
      </div>
      {sheet && (
        <div className="print-area flex flex-col gap-6 overflow-auto print:gap-0">
          {sheet.pages.map((page, i) => (
            <ul
              key={i}
              aria-label={`Labels, sheet ${i + 1}`}
              className="label-page flex flex-wrap content-start break-after-page text-black"
              style={{ width: `${sheet.width * columns}mm` }}
            >
              {page.map((label, n) => (
                <li
                  key={n}
                  className="overflow-hidden border border-dashed border-rule bg-white p-[2mm] leading-tight"
                  style={{ width: `${sheet.width}mm`, height: `${sheet.height}mm` }}
                >
                  <b className="block text-[11pt] wrap-anywhere">{label.title}</b>
                  {label.lines.map((line) => (
                    <span key={line} className="block text-[8pt]">
                      {line}
                    </span>
                  ))}
                </li>
              ))}
            </ul>
          ))}
        </div>
      )}
    </Dialog>
  )
}
