import { ChevronDown } from 'lucide-react'
import { DropdownMenu } from 'radix-ui'
import type { ReactNode } from 'react'
import { Button } from './button.tsx'

export type MenuEntry = { readonly label: string; readonly icon: ReactNode; readonly onSelect: () => void }

/** A button that opens a short list of acts. */
export function Menu({
  label,
  entries,
  shown,
}: {
  label: string
  entries: readonly MenuEntry[]
  /** What the button shows, where that is not its label. */
  shown?: ReactNode
}) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger asChild>
        {shown === undefined ? (
          <Button>
            {label} <ChevronDown size={14} aria-hidden="true" />
          </Button>
        ) : (
          <Button aria-label={label}>{shown}</Button>
        )}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          sideOffset={4}
          className="z-30 rounded-sm border border-rule bg-sheet py-1 shadow-lg"
        >
          {entries.map((entry) => (
            <DropdownMenu.Item
              key={entry.label}
              className="flex cursor-default items-center gap-2 px-3 py-1.5 text-sm outline-none data-[highlighted]:bg-mark"
              onSelect={entry.onSelect}
            >
              {entry.icon} {entry.label}
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}
