import { ChevronRight } from 'lucide-react'
import { ContextMenu as Radix } from 'radix-ui'
import type { ReactNode } from 'react'

type Act = { readonly label: string; readonly onSelect: () => void }
export type ContextEntry = Act | { readonly label: string; readonly entries: readonly Act[] }

const CONTENT = 'z-50 max-h-96 min-w-44 overflow-auto rounded-sm border border-rule bg-sheet p-1 text-sm shadow-lg'
const ENTRY =
  'flex cursor-default items-center justify-between gap-3 rounded-sm px-2 py-1.5 outline-none data-[highlighted]:bg-mark'

/** What can be done with what is under the pointer, or chosen: by the right button, or the keyboard's menu key. */
export function ContextMenu({ entries, children }: { entries: readonly ContextEntry[]; children: ReactNode }) {
  return (
    <Radix.Root>
      <Radix.Trigger asChild disabled={entries.length === 0}>
        {children}
      </Radix.Trigger>
      <Radix.Portal>
        <Radix.Content className={CONTENT}>
          {entries.map((entry) =>
            'entries' in entry ? (
              <Radix.Sub key={entry.label}>
                <Radix.SubTrigger className={ENTRY}>
                  {entry.label} <ChevronRight size={14} aria-hidden="true" />
                </Radix.SubTrigger>
                <Radix.Portal>
                  <Radix.SubContent className={CONTENT}>
                    {entry.entries.map((act) => (
                      <Radix.Item key={act.label} className={ENTRY} onSelect={act.onSelect}>
                        {act.label}
                      </Radix.Item>
                    ))}
                  </Radix.SubContent>
                </Radix.Portal>
              </Radix.Sub>
            ) : (
              <Radix.Item key={entry.label} className={ENTRY} onSelect={entry.onSelect}>
                {entry.label}
              </Radix.Item>
            ),
          )}
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  )
}
