import { useEffect, useState } from 'react'
import { useStorageState } from '../store/storage-state.ts'

/** So long an opening is nothing to speak of, milliseconds. */
const PATIENCE_MS = 8000

/** Shown while the data is opened: also why that takes long, and what to do about it. */
export function Loading() {
  const state = useStorageState()
  const [long, setLong] = useState(false)
  useEffect(() => {
    const timer = setTimeout(() => {
      setLong(true)
    }, PATIENCE_MS)
    return () => {
      clearTimeout(timer)
    }
  }, [])
  if (state === 'held')
    return (
      <p role="alert" className="max-w-2xl p-8">
        Your data is held by another tab that still runs an older version of this app. Close that tab, and it opens here
        by itself. Nothing was changed.
      </p>
    )
  return (
    <p role="status" className="max-w-2xl p-8 text-soft">
      Opening your data…{' '}
      {long &&
        'This takes longer than usual. Another tab of this app may be at work on it: close other tabs, or reload this page.'}
    </p>
  )
}
