import { Download } from 'lucide-react'
import { downloadBlob } from '../store/download.ts'
import { Button } from '../ui/button.tsx'

const FILES = [
  { name: 'practice-shelf.csv', label: 'A shelf list', make: 'practiceShelf' },
  { name: 'practice-offers.csv', label: 'An offers file', make: 'practiceOffers' },
] as const

/** Invented files to try an import with; their generator is loaded when needed. */
export function PracticeFiles() {
  return (
    <p className="mt-3 flex flex-wrap items-center gap-2 text-sm">
      <span className="text-soft">Files to try an import with:</span>
      {FILES.map(({ name, label, make }) => (
        <Button
          key={name}
          onClick={() => {
            void import('../../demo/practice.ts').then((files) => {
              downloadBlob(name, new Blob([files[make]()], { type: 'text/csv;charset=utf-8' }))
            })
          }}
        >
          <Download size={14} aria-hidden="true" /> {label}
        </Button>
      ))}
    </p>
  )
}
