import { Link } from 'react-router'

export function NoBuild() {
  return (
    <div className="p-8">
      <h1 className="font-display text-xl">There is no such build</h1>
      <p className="mt-2 text-sm">
        It may have been removed or undone.{' '}
        <Link className="text-accent underline" to="/">
          All builds
        </Link>
      </p>
    </div>
  )
}
