import { Trash2 } from 'lucide-react'
import type { ItemKey } from '../../../core/catalogue/item.ts'
import { Button } from '../../ui/button.tsx'
import { ItemName } from '../../pieces/item-name.tsx'
import { QuickEntry } from '../../pieces/quick-entry.tsx'
import type { LinePartProps } from './line-part-props.ts'

/** What will do instead of a piece, and what stands in until it arrives. */
export function LineAlternatives({ line, set, without }: LinePartProps) {
  const options = line.instead ?? []
  return (
    <div className="flex flex-col gap-2">
      <h2 className="font-semibold">Instead, best first</h2>
      {options.map((uses, i) => (
        <div key={i} className="flex items-center justify-between gap-2 border-b border-hair pb-1">
          <span className="flex min-w-0 flex-col">
            {uses.map((u) => (
              <span key={u.item} className="flex items-center gap-1">
                {u.qty} × <ItemName item={u.item} size={24} />
              </span>
            ))}
          </span>
          <Button
            aria-label={`Remove alternative ${i + 1}`}
            onClick={() => {
              const left = options.filter((_, n) => n !== i)
              set('Removed an alternative', left.length === 0 ? without('instead') : { ...line, instead: left })
            }}
          >
            <Trash2 size={13} aria-hidden="true" />
          </Button>
        </div>
      ))}
      <QuickEntry
        label="Alternative"
        action="Add"
        wide
        onAdd={(typed, more) => {
          const uses = typed.map(({ item, qty }): { item: ItemKey; qty: number } => ({
            item,
            qty: Math.min(1000, qty),
          }))
          set('Added an alternative', { ...line, instead: [...options, uses].slice(0, 20) }, more)
        }}
      />
      <h2 className="font-semibold">Until it arrives</h2>
      {line.meanwhile ? (
        <span className="flex items-center justify-between gap-2">
          <ItemName item={line.meanwhile} size={24} />
          <Button
            aria-label="Nothing meanwhile"
            onClick={() => {
              set('Nothing stands in meanwhile', without('meanwhile'))
            }}
          >
            <Trash2 size={13} aria-hidden="true" />
          </Button>
        </span>
      ) : (
        <QuickEntry
          label="Meanwhile"
          action="Use"
          wide
          onAdd={([first], more) => {
            if (first) set('Something stands in meanwhile', { ...line, meanwhile: first.item }, more)
          }}
        />
      )}
    </div>
  )
}
