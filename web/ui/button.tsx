import type { ButtonHTMLAttributes } from 'react'

const LOOKS = {
  primary: 'bg-accent text-accent-ink border-accent hover:brightness-110 font-semibold',
  plain: 'bg-sheet text-ink border-rule hover:bg-raised',
  bare: 'border-transparent text-accent hover:bg-raised',
} as const

export function Button({
  look = 'plain',
  className = '',
  type = 'button',
  ...rest
}: ButtonHTMLAttributes<HTMLButtonElement> & { look?: keyof typeof LOOKS }) {
  return (
    <button
      type={type}
      className={`inline-flex min-h-8 items-center gap-2 rounded-sm border px-3 py-1 text-sm whitespace-nowrap disabled:opacity-55 ${LOOKS[look]} ${className}`}
      {...rest}
    />
  )
}
