import { Trash2 } from 'lucide-react'
import type { Module } from '../../../core/design/design.ts'
import { add, remove } from '../../../storage/journal.ts'
import { useRecords } from '../../store/records.tsx'
import { AddPicture } from '../../pieces/add-picture.tsx'
import { Button } from '../../ui/button.tsx'
import type { EditDesign } from './edit-design.ts'

/** A drawing or photo of a module: attached, exchanged, taken away. */
export function ModuleDrawing({ module, edit }: { module: Module; edit: EditDesign }) {
  const { pictures } = useRecords()
  const picture = pictures.find((p) => p.id === module.picture)
  return (
    <div className="flex flex-col gap-2">
      {picture && (
        <img src={picture.data} alt={`Drawing of ${module.name}: ${picture.name}`} className="border border-rule" />
      )}
      <span className="flex flex-wrap gap-2">
        <AddPicture
          label="Drawing or photo"
          onPicture={(added) => {
            edit.replace(`Attached a picture to ${module.name}`, { ...module, picture: added.id }, [
              add('pictures', [added]),
            ])
          }}
        >
          {picture ? 'Another picture' : 'Attach a picture'}
        </AddPicture>
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
    </div>
  )
}
