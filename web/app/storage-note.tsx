import { useStorageState, type StorageState } from '../store/storage-state.ts'
import { Button } from '../ui/button.tsx'

const WORDS: Readonly<Record<Exclude<StorageState, 'fine'>, string>> = {
  held: 'Another tab with an older version of this app holds the data. Close it.',
  upgraded:
    'A newer version of this app took the data over in another tab. What you see here is of before, and nothing can be kept here any more. Reload this page.',
  closed:
    'The browser closed the data of this page; its site data may have been cleared. What you see may be all there is: copy what you need, then reload.',
  unread: 'A change could not be read back: what you see may be of before it. Reload this page.',
}

/** Says over every screen when this tab can no longer read or keep data, and offers the way on. */
export function StorageNote() {
  const state = useStorageState()
  if (state === 'fine') return null
  return (
    <p role="alert" className="flex flex-wrap items-center gap-3 border-b border-bad bg-bad-wash px-4 py-2 text-sm">
      <span className="flex-1">{WORDS[state]}</span>
      <Button
        onClick={() => {
          location.reload()
        }}
      >
        Reload
      </Button>
    </p>
  )
}
