import type { AtWork } from '../../../core/making/at-work.ts'
import type { BuildTally } from '../../store/tallies.ts'
import type { Next, Progress } from '../../../core/making/progress.ts'

/** The views of Make. */
export const VIEWS = {
  next: 'What next',
  apart: 'Take apart',
  sort: 'Sort',
  fetch: 'Fetch',
  build: 'Build',
  swaps: 'Swaps',
  remarks: 'Stickers and checks',
} as const
export type View = keyof typeof VIEWS

/** What every view of Make is given. */
export type MakeView = {
  readonly tally: BuildTally
  readonly at: AtWork
  readonly progress: Progress
  readonly next: readonly Next[]
  readonly today: string
  /** Opens a view, with what it is about in the address. */
  readonly go: (view: View, about?: Readonly<Record<string, string>>) => void
}
