import { Component, type ReactNode } from 'react'
import { Link } from 'react-router'
import type { Build } from '../../core/build/build.ts'
import { NotCounted } from '../store/tallies.ts'
import { Button } from '../ui/button.tsx'

type Props = { build: Build; children: ReactNode }

/** One build among others that cannot be counted: named, with a way to try again; the others stay as they are. */
export class CountBoundary extends Component<Props, { error: NotCounted | undefined; of: Build | undefined }> {
  override state = { error: undefined as NotCounted | undefined, of: undefined as Build | undefined }

  static getDerivedStateFromError(error: unknown) {
    if (error instanceof NotCounted) return { error }
    throw error
  }

  static getDerivedStateFromProps({ build }: Props, state: { error: NotCounted | undefined; of: Build | undefined }) {
    // A change of the build is another try.
    return state.of === build ? null : { of: build, error: undefined }
  }

  override render() {
    const { error } = this.state
    const { build, children } = this.props
    if (!error) return children
    return (
      <li className="flex flex-wrap items-center gap-4 px-2 py-4">
        <Link
          to={`/build/${encodeURIComponent(build.id)}/brief`}
          className="font-display text-lg font-semibold wrap-anywhere"
        >
          {build.name}
        </Link>
        <span role="alert" className="text-sm text-bad wrap-anywhere">
          could not be counted: {error.message}
        </span>
        <Button
          onClick={() => {
            error.retry()
            this.setState({ error: undefined })
          }}
        >
          Try again
        </Button>
      </li>
    )
  }
}
