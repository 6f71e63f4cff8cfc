import { Link, useRouteError } from 'react-router'

/** Shown for an address that leads nowhere and for a fault in the app; the data is untouched either way. */
export function Problem({ missing = false }: { missing?: boolean }) {
  const error = useRouteError()
  return (
    <main className="flex flex-col gap-3 p-8">
      <h1 className="font-display text-2xl">
        {missing ? 'There is nothing at this address' : 'Something went wrong here'}
      </h1>
      <p>
        {missing
          ? 'The build may have been removed.'
          : `Your data is untouched. ${error instanceof Error ? error.message : ''} Reload the page; if it happens again, export a backup from Data.`}
      </p>
      <p>
        <Link className="text-accent underline" to="/">
          All builds
        </Link>
      </p>
    </main>
  )
}
