import { Button } from './button.tsx'

/** A row of views of one thing, one of them chosen. */
export function ViewSwitch<V extends string>({
  views,
  view,
  onChange,
  label = 'View',
}: {
  views: Readonly<Record<V, string>>
  view: V
  onChange: (view: V) => void
  label?: string
}) {
  return (
    <div role="group" aria-label={label} className="no-print flex flex-wrap gap-2">
      {(Object.keys(views) as V[]).map((v) => (
        <Button
          key={v}
          look={v === view ? 'primary' : 'plain'}
          aria-pressed={v === view}
          onClick={() => {
            onChange(v)
          }}
        >
          {views[v]}
        </Button>
      ))}
    </div>
  )
}
