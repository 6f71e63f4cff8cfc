import { ImagePlus, Trash2 } from 'lucide-react'
import { useRef, useState } from 'react'
import type { Module } from '../../../core/design/design.ts'
import { add, remove } from '../../../storage/journal.ts'
import { fresh } from '../../store/database.ts'
import { useRecords } from '../../store/records.tsx'
import { shrinkPicture } from '../../store/shrink-picture.ts'
import { Button } from '../../ui/button.tsx'
import type { EditDesign } from './edit-design.ts'

/** A drawing or photo of a module: attached, exchanged, taken away. */
export function ModuleDrawing({ module, edit }: { module: Module; edit: EditDesign }) {
  const { pictures } = useRecords()
  const input = useRef<HTMLInputElement>(null)
  const [problem, setProblem] = useState('')
  const picture = pictures.find((p) => p.id === module.picture)
  const attach = async (file: File | undefined) => {
    setProblem('')
    if (!file) return
    const read = await shrinkPicture(file)
    if ('problem' in read) {
      setProblem(read.problem)
      return
    }
    const id = `i-${fresh()}`
    edit.replace(`Attached a picture to ${module.name}`, { ...module, picture: id }, [
      add('pictures', [{ id, name: file.name.slice(0, 200) || 'picture', data: read.data }]),
    ])
  }
  return (
    <div className="flex flex-col gap-2">
      {picture && (
        <img src={picture.data} alt={`Drawing of ${module.name}: ${picture.name}`} className="border border-rule" />
      )}
      <input
        ref={input}
        type="file"
        accept="image/png,image/jpeg,image/webp"
        aria-label="Drawing or photo"
        className="sr-only"
        tabIndex={-1}
        onChange={(e) => {
          void attach(e.target.files?.[0])
          e.target.value = ''
        }}
      />
      <span className="flex flex-wrap gap-2">
        <Button onClick={() => input.current?.click()}>
          <ImagePlus size={14} aria-hidden="true" /> {picture ? 'Another picture' : 'Attach a picture'}
        </Button>
        {picture && (
          <Button
            aria-label="Remove the picture"
            onClick={() => {
              const { picture: _, ...rest } = module
              edit.replace('Removed a picture', rest, [remove('pictures', [picture.id])])
            }}
          >
            <Trash2 size={14} aria-hidden="true" />
          </Button>
        )}
      </span>
      {problem && (
        <p role="alert" className="text-bad">
          {problem}
        </p>
      )}
    </div>
  )
}
