import { useEffect, useRef } from 'react'
import type { ItemKey } from '../../../core/catalogue/item.ts'
import { perform } from '../../store/perform.ts'
import { QuickEntry } from '../../pieces/quick-entry.tsx'

/** Names the piece that came in place of another. What is new in it is added to the catalogue. */
export function OtherPiece({ qty, onPiece }: { qty: number; onPiece: (item: ItemKey, qty: number) => void }) {
  const box = useRef<HTMLDivElement>(null)
  useEffect(() => {
    // Who pressed its key goes on typing.
    box.current?.querySelector('input')?.focus()
  }, [])
  return (
    <div ref={box} className="flex flex-col gap-1 border-l-4 border-accent bg-mark px-3 py-2">
      <b>Which piece came instead?</b>
      <p className="text-xs text-soft">Without a number it is {qty}.</p>
      <QuickEntry
        label="What came instead"
        action="Note it"
        wide
        onAdd={([first], more) => {
          if (!first) return
          const named = more.some((c) => c.puts.length > 0)
          if (named) void perform('A piece that came in place of another', more, { quiet: true })
          onPiece(first.item, first.qty > 1 ? first.qty : qty)
        }}
      />
    </div>
  )
}
