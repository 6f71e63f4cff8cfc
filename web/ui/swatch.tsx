/** A colour beside its name. */
export function Swatch({ hex, className = 'size-4' }: { hex: string | undefined; className?: string }) {
  return (
    <span
      aria-hidden="true"
      className={`inline-block shrink-0 border border-soft ${className}`}
      style={{ background: hex ?? '#9a9a9a' }}
    />
  )
}
