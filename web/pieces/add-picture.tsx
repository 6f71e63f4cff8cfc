import { ImagePlus } from 'lucide-react'
import { useRef, useState } from 'react'
import type { RecordOf } from '../../core/records/registry.ts'
import { fresh } from '../store/database.ts'
import { shrinkPicture } from '../store/shrink-picture.ts'
import { Button } from '../ui/button.tsx'

/** A button that takes a picture from a file, made small enough to keep; what is no picture is named. */
export function AddPicture({
  label,
  children,
  onPicture,
}: {
  label: string
  children: string
  onPicture: (picture: RecordOf<'pictures'>) => void
}) {
  const input = useRef<HTMLInputElement>(null)
  const [problem, setProblem] = useState('')
  const take = async (file: File | undefined) => {
    setProblem('')
    if (!file) return
    const read = await shrinkPicture(file)
    if ('problem' in read) setProblem(read.problem)
    else onPicture({ id: `i-${fresh()}`, name: file.name.slice(0, 200) || 'picture', data: read.data })
  }
  return (
    <>
      <input
        ref={input}
        type="file"
        accept="image/png,image/jpeg,image/webp"
        aria-label={label}
        className="sr-only"
        tabIndex={-1}
        onChange={(e) => {
          void take(e.target.files?.[0])
          e.target.value = ''
        }}
      />
      <Button onClick={() => input.current?.click()}>
        <ImagePlus size={14} aria-hidden="true" /> {children}
      </Button>
      {problem && (
        <p role="alert" className="text-bad">
          {problem}
        </p>
      )}
    </>
  )
}
