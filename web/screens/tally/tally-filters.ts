import { isDoubtful } from '../../../core/studies/line-choices.ts'
import type { TallyLine } from '../../../core/netting/tally.ts'

const exact = ({ coverage, pegs }: TallyLine) => coverage.short === 0 && pegs.every((p) => p.standIn === undefined)

/** Which lines are shown. */
export const FILTERS = [
  { value: 'all', label: 'all lines', keep: () => true },
  { value: 'short', label: 'short', keep: (l: TallyLine) => l.coverage.short > 0 },
  { value: 'covered', label: 'fully covered', keep: (l: TallyLine) => l.coverage.short === 0 },
  { value: 'exact', label: 'exact throughout', keep: exact },
  {
    value: 'stand-in',
    label: 'with stand-ins',
    keep: (l: TallyLine) => l.pegs.some((p) => p.standIn !== undefined),
  },
  { value: 'doubtful', label: 'doubtful: to be looked at', keep: isDoubtful },
  { value: 'pinned', label: 'pinned', keep: (l: TallyLine) => l.pegs.some((p) => p.by === 'pin') },
  { value: 'rather', label: 'better bought', keep: (l: TallyLine) => l.buyInstead > 0 },
  { value: 'donor', label: 'from donors', keep: (l: TallyLine) => l.coverage.donor > 0 },
  { value: 'shelf', label: 'from the shelf', keep: (l: TallyLine) => l.coverage.shelf > 0 },
  { value: 'estimate', label: 'resting on estimates', keep: (l: TallyLine) => l.estimate },
] as const

export const VIEWS = {
  line: 'By line',
  module: 'By module',
  item: 'By item',
  colour: 'By colour',
  source: 'By source',
} as const
export type View = keyof typeof VIEWS
export const isView = (text: string | null): text is View => text !== null && text in VIEWS
