import { useSyncExternalStore } from 'react'
import { db } from './database.ts'

/**
 * How this tab stands to the stored data: `held` while another tab keeps an older version of it open, `upgraded` when a
 * newer one took it over, `closed` when the browser closed it (site data cleared, disk gone), `unread` when a change could
 * not be read.
 */
export type StorageState = 'fine' | 'held' | 'upgraded' | 'closed' | 'unread'

let state: StorageState = 'fine'
const listeners = new Set<() => void>()

export function setStorageState(next: StorageState): void {
  if (state === next) return
  state = next
  for (const listener of listeners) listener()
}

db.on('blocked', () => {
  setStorageState('held')
})
db.on('versionchange', ({ newVersion }) => {
  // None when the data is deleted: site data cleared.
  setStorageState(newVersion === null || newVersion === 0 ? 'closed' : 'upgraded')
})
db.on('close', () => {
  if (state === 'fine') setStorageState('closed')
})
db.on('ready', () => {
  if (state === 'held') setStorageState('fine')
})

function subscribe(listener: () => void): () => void {
  listeners.add(listener)
  return () => listeners.delete(listener)
}

export const useStorageState = (): StorageState => useSyncExternalStore(subscribe, () => state)

/** Why the data cannot be opened, and what to do, in two sentences. */
export function whyNotOpened(error: unknown): { readonly why: string; readonly way: string } {
  const names: string[] = []
  for (let e = error; e instanceof Error || e instanceof DOMException; e = (e as { inner?: unknown }).inner ?? e.cause)
    if (names.push(e.name) > 9) break
  const has = (...some: readonly string[]) => some.some((name) => names.includes(name))
  if (has('MissingAPIError', 'MissingApiError'))
    return {
      why: 'This browser gives pages no storage for data (IndexedDB is missing or switched off).',
      way: 'Switch it on in the browser’s settings, leave private browsing, or use another browser; then reload.',
    }
  if (has('SecurityError', 'NotAllowedError'))
    return {
      why: 'The browser forbids this address to keep data; blocked cookies and site data do that.',
      way: 'Allow cookies and site data for this address, then reload.',
    }
  if (has('VersionError'))
    return {
      why: 'The data was last opened by a newer version of this app.',
      way: 'Reload without the cache (Ctrl Shift R) to get that version. Nothing was changed.',
    }
  if (has('QuotaExceededError'))
    return {
      why: 'The disk is full, and the browser cannot open the data.',
      way: 'Free some space, then reload. Nothing was changed.',
    }
  const message = error instanceof Error ? error.message.split('\n')[0] : String(error)
  return {
    why: `The browser’s storage failed: ${(message ?? '').slice(0, 300)}.`,
    way: 'Close other tabs of this app and reload; if it stays so, restart the browser. Nothing was changed.',
  }
}
