import { useId, useState } from 'react'
import { TextInput } from './fields.tsx'

/**
 * A text field that offers how its text may go on: arrows choose, Enter or Tab takes what is chosen, Escape closes the
 * list. Without a choice all keys are the field's own.
 */
export function SuggestingInput({
  value,
  onText,
  suggest,
  className = '',
  ...rest
}: {
  value: string
  onText: (text: string) => void
  suggest: (text: string) => readonly string[]
} & Omit<React.ComponentProps<'input'>, 'value' | 'onChange'>) {
  const id = useId()
  const [open, setOpen] = useState(false)
  const [at, setAt] = useState(-1)
  const offered = open ? suggest(value) : []
  const chosen = offered[at]
  const take = (text: string) => {
    onText(text)
    setAt(-1)
    setOpen(text.endsWith(' '))
  }
  return (
    <span className={`relative inline-block ${className}`}>
      <TextInput
        {...rest}
        className="w-full"
        role="combobox"
        aria-expanded={offered.length > 0}
        aria-controls={id}
        aria-autocomplete="list"
        aria-activedescendant={chosen === undefined ? undefined : `${id}-${at}`}
        autoComplete="off"
        value={value}
        onChange={(e) => {
          onText(e.target.value)
          setAt(-1)
          setOpen(true)
        }}
        onBlur={() => {
          setOpen(false)
        }}
        onKeyDown={(e) => {
          // Sent as it is: what is said of it now must not be covered.
          if (e.key === 'Enter' && chosen === undefined) setOpen(false)
          if (offered.length === 0) return
          const step = e.key === 'ArrowDown' ? 1 : e.key === 'ArrowUp' ? -1 : 0
          if (step !== 0) {
            e.preventDefault()
            setAt((now) => Math.max(-1, Math.min(offered.length - 1, now + step)))
          } else if ((e.key === 'Enter' || e.key === 'Tab') && chosen !== undefined) {
            e.preventDefault()
            take(chosen)
          } else if (e.key === 'Escape') {
            // The list closes first; what is around it stays.
            e.stopPropagation()
            e.nativeEvent.stopImmediatePropagation()
            setOpen(false)
          }
        }}
      />
      <ul
        id={id}
        role="listbox"
        aria-label="How it may go on"
        hidden={offered.length === 0}
        className="absolute top-full left-0 z-30 w-max min-w-full border border-rule bg-sheet py-1 text-sm shadow-lg"
      >
        {offered.map((text, i) => (
          <li
            key={text}
            id={`${id}-${i}`}
            role="option"
            aria-selected={i === at}
            className={`cursor-default px-3 py-1 ${i === at ? 'bg-mark' : ''}`}
            onPointerDown={(e) => {
              // Before the field is left.
              e.preventDefault()
              take(text)
            }}
          >
            {text}
          </li>
        ))}
      </ul>
    </span>
  )
}
