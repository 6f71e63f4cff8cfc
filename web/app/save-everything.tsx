import { useState } from 'react'
import { wordsOf } from '../store/perform.ts'
import { saveJobFile } from '../store/save-job-file.ts'
import { Button } from '../ui/button.tsx'

/** Saves all that is stored as a job file, even when screens cannot be shown. */
export function SaveEverything() {
  const [said, setSaid] = useState('')
  return (
    <p className="flex flex-wrap items-center gap-3">
      <Button
        onClick={() => {
          saveJobFile().then(
            (damaged) => {
              setSaid(damaged === 0 ? 'Saved.' : `Saved; ${damaged} records that do not fit are set aside in it.`)
            },
            (error: unknown) => {
              setSaid(`Not saved: ${wordsOf(error)}.`)
            },
          )
        }}
      >
        Save everything as a file
      </Button>
      <span role="status">{said}</span>
    </p>
  )
}
