import { Component, type ReactNode } from 'react'
import { wordsOf } from '../store/perform.ts'
import { NotOpened } from '../store/records.tsx'
import { whyNotOpened } from '../store/storage-state.ts'
import { Button } from '../ui/button.tsx'
import { SaveEverything } from './save-everything.tsx'

/** The last resort, when no screen can be shown: says what is known of the cause, and offers what still works. */
export class ErrorBoundary extends Component<{ children: ReactNode }, { error: unknown; failed: boolean }> {
  override state = { error: undefined as unknown, failed: false }

  static getDerivedStateFromError(error: unknown) {
    return { error, failed: true }
  }

  override render() {
    const { error, failed } = this.state
    if (!failed) return this.props.children
    const message = wordsOf(error)
    return (
      <main className="flex max-w-2xl flex-col gap-3 p-8">
        {error instanceof NotOpened ? (
          <>
            <h1 className="font-display text-2xl">Your data cannot be opened here</h1>
            <p className="wrap-anywhere">{whyNotOpened(error).why}</p>
            <p className="wrap-anywhere">{whyNotOpened(error).way}</p>
            <p className="flex flex-wrap items-center gap-3">
              <Button
                look="primary"
                onClick={() => {
                  location.reload()
                }}
              >
                Reload
              </Button>
            </p>
            <SaveEverything />
          </>
        ) : (
          <>
            <h1 className="font-display text-2xl">Something went wrong here</h1>
            <p className="wrap-anywhere">
              A fault of this app, not of your data: {message}. Nothing was changed. Reload the page; what is stored can
              be saved as a file all the same.
            </p>
            <SaveEverything />
          </>
        )}
      </main>
    )
  }
}
