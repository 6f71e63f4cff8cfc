import { X } from 'lucide-react'
import { Dialog as Radix } from 'radix-ui'
import type { ReactNode } from 'react'
import { focusBack } from './last-focus.ts'

export function Dialog({
  open,
  onOpenChange,
  title,
  description,
  wide = false,
  children,
}: {
  open: boolean
  onOpenChange: (open: boolean) => void
  title: string
  description: string
  wide?: boolean
  children: ReactNode
}) {
  return (
    <Radix.Root open={open} onOpenChange={onOpenChange}>
      <Radix.Portal>
        <Radix.Overlay className="fixed inset-0 z-30 bg-black/40" />
        <Radix.Content
          onOpenAutoFocus={(event) => {
            // The first field, where there is one: who opens a form goes on typing.
            const content = event.currentTarget as HTMLElement | null
            const field = content?.querySelector<HTMLElement>('input:not([type=file], [disabled]), textarea')
            if (!field) return
            event.preventDefault()
            field.focus()
          }}
          onCloseAutoFocus={(event) => {
            // A dialog opened from a menu began where the menu's button is: the menu's entry is gone.
            event.preventDefault()
            focusBack()
          }}
          className={`fixed top-1/2 left-1/2 z-40 flex max-h-[92vh] -translate-x-1/2 -translate-y-1/2 flex-col gap-3 overflow-auto border border-rule bg-sheet p-5 shadow-2xl ${wide ? 'h-[92vh] w-[min(70rem,96vw)]' : 'w-[min(34rem,94vw)]'}`}
        >
          <div className="flex items-start justify-between gap-4">
            <div>
              <Radix.Title className="font-display text-xl font-semibold">{title}</Radix.Title>
              <Radix.Description className="text-sm text-soft">{description}</Radix.Description>
            </div>
            <Radix.Close aria-label="Close" className="rounded-sm border border-rule p-1.5 hover:bg-raised">
              <X size={16} aria-hidden="true" />
            </Radix.Close>
          </div>
          {children}
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  )
}
