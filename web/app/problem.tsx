import { useEffect, useRef } from 'react'
import { Link, useLocation, useNavigate, useRouteError } from 'react-router'
import { wordsOf } from '../store/perform.ts'
import { useRecords } from '../store/records.tsx'
import { NotCounted } from '../store/tallies.ts'
import { Button } from '../ui/button.tsx'
import { SaveEverything } from './save-everything.tsx'

/** Shown for an address that leads nowhere and for a fault in the app; the data is untouched either way. */
export function Problem({ missing = false }: { missing?: boolean }) {
  const error = useRouteError()
  if (error instanceof NotCounted) return <CountProblem error={error} />
  return (
    <main className="flex max-w-2xl flex-col gap-3 p-8">
      <h1 className="font-display text-2xl">
        {missing ? 'There is nothing at this address' : 'Something went wrong here'}
      </h1>
      <p className="wrap-anywhere">
        {missing
          ? 'The build may have been removed.'
          : `Your data is untouched. ${wordsOf(error)}. Reload the page, or open another one; what is stored can be saved as a file all the same.`}
      </p>
      {!missing && <SaveEverything />}
      <p>
        <Link className="text-accent underline" to="/">
          All builds
        </Link>
      </p>
    </main>
  )
}

/** A build that could not be counted: the next change of anything it rests on, or a press, counts again. */
function CountProblem({ error }: { error: NotCounted }) {
  const { tallied, builds } = useRecords()
  const navigate = useNavigate()
  const { pathname, search } = useLocation()
  const seen = useRef({ tallied, builds })
  const again = () => {
    error.retry()
    void navigate(pathname + search, { replace: true })
  }
  useEffect(() => {
    if (seen.current.tallied === tallied && seen.current.builds === builds) return
    void navigate(pathname + search, { replace: true })
  }, [tallied, builds, navigate, pathname, search])
  return (
    <main className="flex max-w-2xl flex-col gap-3 p-8">
      <h1 className="font-display text-2xl">This build could not be counted</h1>
      <p className="wrap-anywhere">
        The count ended with: {error.message}. Your data is untouched, and other builds are not concerned. A change of
        the design, the donors or the shelf counts it again.
      </p>
      <span>
        <Button look="primary" onClick={again}>
          Try again
        </Button>
      </span>
      <p className="flex gap-4">
        <Link className="text-accent underline" to="/">
          All builds
        </Link>
        <Link className="text-accent underline" to="/data">
          Data and backup
        </Link>
      </p>
    </main>
  )
}
