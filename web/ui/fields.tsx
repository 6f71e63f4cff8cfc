import { Checkbox, Select, Switch } from 'radix-ui'
import { Check, ChevronDown } from 'lucide-react'
import { useId, useState, type ReactNode } from 'react'
import { decimal, formatMoney, MOST_AMOUNT, parseMinor } from '../../core/units/money.ts'
import { committing } from './commit-scope.ts'

const BOX = 'min-h-8 rounded-sm border border-rule bg-sheet px-2 py-1 text-sm text-ink'

export function Field({
  label,
  hint,
  children,
}: {
  label: string
  hint?: string
  children: (id: string) => ReactNode
}) {
  const id = useId()
  return (
    <div className="flex flex-col gap-1">
      <label htmlFor={id} className="text-sm font-semibold">
        {label}
      </label>
      {children(id)}
      {hint && <p className="text-xs text-soft">{hint}</p>}
    </div>
  )
}

export function TextInput({ className = '', ...rest }: React.ComponentProps<'input'>) {
  return <input className={`${BOX} ${className}`} {...rest} />
}

export function SearchInput({ className = 'w-60', ...rest }: React.InputHTMLAttributes<HTMLInputElement>) {
  return <TextInput type="search" className={className} {...rest} />
}

/** A text that was refused: why, in words. */
type Problem = { readonly problem: string }

/**
 * A text committed on Enter or when left, so that half-typed values are never stored. Escape takes it back. A text that is
 * refused, or could not be written, stays and says so.
 */
export function CommitInput({
  value,
  onCommit,
  ...rest
}: { value: string; onCommit: (value: string) => Problem | void } & Omit<
  React.InputHTMLAttributes<HTMLInputElement>,
  'value' | 'onChange'
>) {
  const [draft, setDraft] = useState<string | null>(null)
  const [problem, setProblem] = useState<string | undefined>()
  const id = useId()
  const commit = () => {
    if (draft === null || draft === value) {
      setDraft(null)
      setProblem(undefined)
      return
    }
    const refused = committing(
      () => {
        setDraft(draft)
        setProblem('Not written; Enter tries again, Escape takes it back.')
      },
      () => onCommit(draft),
    )
    setProblem(refused?.problem)
    if (!refused) setDraft(null)
  }
  return (
    <>
      <TextInput
        {...rest}
        value={draft ?? value}
        aria-invalid={problem === undefined ? undefined : true}
        aria-describedby={problem === undefined ? undefined : id}
        onChange={(e) => {
          setDraft(e.target.value)
        }}
        onBlur={commit}
        onKeyDown={(e) => {
          if (e.key === 'Enter') commit()
          if (e.key === 'Escape') {
            setDraft(null)
            setProblem(undefined)
          }
        }}
      />
      {problem !== undefined && (
        <span id={id} role="alert" className="text-xs text-bad">
          {problem}
        </span>
      )}
    </>
  )
}

/** A whole number within bounds, or nothing where `empty` says what nothing means. */
export function NumberInput({
  value,
  min,
  max,
  empty,
  onCommit,
  ...rest
}: {
  value: number | null
  min: number
  max: number
  empty?: string
  onCommit: (value: number | null) => void
} & Omit<React.InputHTMLAttributes<HTMLInputElement>, 'value' | 'onChange' | 'min' | 'max'>) {
  return (
    <CommitInput
      {...rest}
      inputMode="numeric"
      value={value === null ? '' : String(value)}
      placeholder={empty ?? ''}
      onCommit={(text) => {
        const t = text.trim()
        if (t === '' && empty !== undefined) onCommit(null)
        else if (/^\d+$/.test(t)) onCommit(Math.min(max, Math.max(min, Number(t))))
        else return { problem: `A whole number from ${min} to ${max}.` }
      }}
    />
  )
}

/** An amount in a currency, minor units; nothing where `empty` says what nothing means. */
export function MoneyInput({
  value,
  currency,
  empty,
  onCommit,
  ...rest
}: {
  value: number | null
  currency: string
  empty?: string
  onCommit: (minor: number | null) => void
} & Omit<React.InputHTMLAttributes<HTMLInputElement>, 'value' | 'onChange'>) {
  return (
    <CommitInput
      {...rest}
      inputMode="decimal"
      value={value === null ? '' : decimal(value, currency)}
      placeholder={empty ?? ''}
      onCommit={(text) => {
        const minor = parseMinor(text, currency)
        if (text.trim() === '' && empty !== undefined) onCommit(null)
        else if (minor === undefined || minor < 0) return { problem: `An amount like ${decimal(1250, currency)}.` }
        else if (minor > MOST_AMOUNT) return { problem: `At most ${formatMoney(MOST_AMOUNT, currency)}.` }
        else onCommit(minor)
      }}
    />
  )
}

export function Choice<T extends string>({
  id,
  value,
  options,
  onChange,
  label,
  className = '',
}: {
  id?: string
  value: T
  options: readonly { readonly value: T; readonly label: string }[]
  onChange: (value: T) => void
  label?: string
  className?: string
}) {
  // Options are made when the list opens: a closed choice of two hundred places costs nothing.
  const [open, setOpen] = useState(false)
  const chosen = options.find((o) => o.value === value)?.label
  return (
    <Select.Root
      value={value}
      open={open}
      onOpenChange={setOpen}
      onValueChange={(next) => {
        onChange(next as T)
      }}
    >
      <Select.Trigger
        id={id}
        aria-label={label}
        className={`${BOX} inline-flex min-w-0 items-center justify-between gap-2 text-left ${className}`}
      >
        <span className="truncate">
          <Select.Value placeholder={label}>{chosen}</Select.Value>
        </span>
        <ChevronDown size={14} aria-hidden="true" className="shrink-0" />
      </Select.Trigger>
      <Select.Portal>
        <Select.Content
          position="popper"
          className="z-50 max-h-80 overflow-auto rounded-sm border border-rule bg-sheet py-1 shadow-lg"
        >
          <Select.Viewport>
            {(open ? options : []).map((option) => (
              <Select.Item
                key={option.value}
                value={option.value}
                className="flex items-center justify-between gap-3 px-3 py-1 text-sm outline-none data-[highlighted]:bg-mark"
              >
                <Select.ItemText>{option.label}</Select.ItemText>
                <Select.ItemIndicator>
                  <Check size={14} aria-hidden="true" />
                </Select.ItemIndicator>
              </Select.Item>
            ))}
          </Select.Viewport>
        </Select.Content>
      </Select.Portal>
    </Select.Root>
  )
}

export function Tick({
  checked,
  onChange,
  children,
}: {
  checked: boolean
  onChange: (checked: boolean) => void
  children: ReactNode
}) {
  const id = useId()
  return (
    <div className="flex items-center gap-2 text-sm">
      <Checkbox.Root
        id={id}
        checked={checked}
        onCheckedChange={(next) => {
          onChange(next === true)
        }}
        className="flex size-5 shrink-0 items-center justify-center rounded-sm border border-soft bg-sheet"
      >
        <Checkbox.Indicator>
          <Check size={14} aria-hidden="true" />
        </Checkbox.Indicator>
      </Checkbox.Root>
      <label htmlFor={id}>{children}</label>
    </div>
  )
}

export function Toggle({
  checked,
  onChange,
  children,
}: {
  checked: boolean
  onChange: (checked: boolean) => void
  children: ReactNode
}) {
  const id = useId()
  return (
    <div className="flex items-center gap-2 text-sm">
      <Switch.Root
        id={id}
        checked={checked}
        onCheckedChange={onChange}
        className="h-5 w-9 shrink-0 rounded-full border border-soft bg-raised data-[state=checked]:bg-accent"
      >
        <Switch.Thumb className="block size-4 translate-x-0.5 rounded-full border border-soft bg-sheet data-[state=checked]:translate-x-4" />
      </Switch.Root>
      <label htmlFor={id}>{children}</label>
    </div>
  )
}
