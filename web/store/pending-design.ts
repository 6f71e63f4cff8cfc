import { dequal } from 'dequal'
import { useEffect, useSyncExternalStore } from 'react'
import type { Design } from '../../core/design/design.ts'
import type { BuildId } from '../../core/units/ids.ts'

/** Designs as last edited, shown until the database has them too: a large one takes it a moment to write. */
const pending = new Map<BuildId, Design>()
const listeners = new Set<() => void>()
/** After so long what the database has counts, whatever was typed. */
const PATIENCE_MS = 3000

const emit = () => {
  for (const listener of listeners) listener()
}
function subscribe(listener: () => void): () => void {
  listeners.add(listener)
  return () => listeners.delete(listener)
}
function clear(design: Design): void {
  if (pending.get(design.id) !== design) return
  pending.delete(design.id)
  emit()
}

/** Shows a design at once while it is being written; a failed write takes it back. */
export function showWhile(design: Design, written: Promise<boolean>): void {
  pending.set(design.id, design)
  emit()
  void written.then((ok) => {
    if (!ok) clear(design)
    else
      setTimeout(() => {
        clear(design)
      }, PATIENCE_MS)
  })
}

/** A design as last edited: what is being written, else what is stored. */
export function useLatestDesign(stored: Design): Design {
  const latest = useSyncExternalStore(subscribe, () => pending.get(stored.id))
  useEffect(() => {
    if (latest && dequal(latest, stored)) clear(latest)
  }, [latest, stored])
  return latest ?? stored
}
