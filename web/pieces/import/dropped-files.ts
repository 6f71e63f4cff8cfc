import { useSyncExternalStore } from 'react'
import type { ListKind } from '../../../core/formats/list-fields.ts'

/** A file that was dropped somewhere in the app, and the import it is for. */
export type DroppedFile = { readonly file: File; readonly kind: ListKind | 'job' }

let waiting: readonly DroppedFile[] = []
const listeners = new Set<() => void>()

function change(next: readonly DroppedFile[]) {
  waiting = next
  for (const listener of listeners) listener()
}

/** Files are to be imported one after the other. */
export function awaitImport(files: readonly DroppedFile[]) {
  change([...waiting, ...files])
}

/** Takes the next file, if it is for a kind of import. */
export function takeDropped(kind: DroppedFile['kind']): File | undefined {
  const [first, ...rest] = waiting
  if (first?.kind !== kind) return undefined
  change(rest)
  return first.file
}

export function forgetDropped() {
  change([])
}

const subscribe = (listener: () => void) => {
  listeners.add(listener)
  return () => {
    listeners.delete(listener)
  }
}

/** The files that wait for their import, the next first. */
export const useDropped = (): readonly DroppedFile[] => useSyncExternalStore(subscribe, () => waiting)
