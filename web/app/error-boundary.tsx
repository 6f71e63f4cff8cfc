import { Component, type ReactNode } from 'react'

/** The last resort, when not even the data can be opened (a private window, a blocked or full disk). */
export class ErrorBoundary extends Component<{ children: ReactNode }, { message: string | null }> {
  override state = { message: null as string | null }

  static getDerivedStateFromError(error: unknown) {
    return { message: error instanceof Error ? error.message : 'unknown' }
  }

  override render() {
    if (this.state.message === null) return this.props.children
    return (
      <main className="flex flex-col gap-3 p-8">
        <h1 className="font-display text-2xl">Your data cannot be opened here</h1>
        <p>
          The browser refused access to its storage: {this.state.message}. Private windows and full disks do that.
          Nothing was changed; allow storage for this address, or free some space, and reload the page.
        </p>
      </main>
    )
  }
}
