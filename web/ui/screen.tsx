import type { ReactNode } from 'react'

/** A screen's frame: the question answered in one sentence, the next action, then what proves it. */
export function Screen({
  title,
  headline,
  actions,
  children,
}: {
  title: string
  headline: ReactNode
  actions?: ReactNode
  children: ReactNode
}) {
  return (
    <div className="flex h-full min-h-0 flex-col gap-4 p-5">
      <title>{`${title} · Unfinished Brick`}</title>
      <header className="flex flex-wrap items-end justify-between gap-x-6 gap-y-2 border-b-2 border-ink pb-3">
        <div className="min-w-0 flex-1 basis-96">
          <h1 className="text-xs font-semibold tracking-wide text-soft">{title}</h1>
          <p className="font-display text-xl leading-snug font-medium text-pretty">{headline}</p>
        </div>
        {actions && <div className="no-print flex flex-wrap items-center gap-2">{actions}</div>}
      </header>
      {children}
    </div>
  )
}

/** A number in a headline. */
export const Figure = ({ children }: { children: ReactNode }) => (
  <b className="font-bold whitespace-nowrap">{children}</b>
)
