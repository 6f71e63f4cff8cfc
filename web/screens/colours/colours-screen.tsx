import { useParams } from 'react-router'
import { isVision, VISION_WORDS, type Vision } from './vision-words.ts'
import type { BuildId } from '../../../core/units/ids.ts'
import { useRecords } from '../../store/records.tsx'
import { useAboutCount } from '../../store/about-count.ts'
import { useTally, type BuildTally } from '../../store/tallies.ts'
import { AnswerNote } from '../../pieces/answer-note.tsx'
import { StaleNote } from '../../pieces/stale-note.tsx'
import { OwnColours } from '../../pieces/own-colours.tsx'
import { Choice } from '../../ui/fields.tsx'
import { NoBuild } from '../../pieces/no-build.tsx'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import { Figure, Screen } from '../../ui/screen.tsx'
import { ViewSwitch } from '../../ui/view-switch.tsx'
import { ColourGrid } from './colour-grid.tsx'
import { NearestColours } from './nearest-colours.tsx'
import { PalettePanel } from './palette-panel.tsx'
import { RecolourSearch } from './recolour-search.tsx'
import { useAddress } from '../../ui/address.ts'

const VIEWS = {
  palette: 'Palette',
  grid: 'Part by colour',
  nearest: 'Least compromise',
  recolour: 'Which recolouring helps',
  own: 'Names and values',
} as const
type View = keyof typeof VIEWS
const isView = (text: string | null): text is View => text !== null && text in VIEWS

/** The colours of a build: what it needs of each, what there is, which parts exist in which, what recolouring brings. */
export function ColoursScreen() {
  const tally = useTally(useParams()['build'] as BuildId)
  if (!tally) return <NoBuild />
  return <Colours tally={tally} />
}

function Colours({ tally }: { tally: BuildTally }) {
  const { snapshot, result, count } = tally
  const { colourById } = useRecords()
  const { params, change } = useAddress()
  const asked = params.get('view')
  const view: View = isView(asked) ? asked : 'palette'
  const seen = params.get('vision')
  const vision: Vision = isVision(seen) ? seen : 'usual'
  const answer = useAboutCount(count, 'palette', null)
  const { counts = [], alike = [] } = answer.value ?? {}
  const needed = counts.filter((c) => c.need > 0)
  const worst = [...needed].sort((p, q) => q.short - p.short)[0]
  const set = (key: string, value: string, rest: string) => {
    change({ [key]: value === rest ? null : value })
  }
  return (
    <Screen
      title="Colours"
      headline={
        answer.value === undefined ? (
          'The colours of the design…'
        ) : needed.length === 0 ? (
          'The design has no colours yet.'
        ) : (
          <>
            <Figure>{plural(needed.length, 'colour')}</Figure> in the design
            {worst && worst.short > 0 && (
              <>
                ; most is short in <Figure>{colourById.get(worst.colour)?.name ?? 'one of them'}</Figure> (
                {formatNumber(worst.short)} of {formatNumber(worst.need)})
              </>
            )}
            {alike.length > 0 && `; ${plural(alike.length, 'pair looks', 'pairs look')} alike`}.
          </>
        )
      }
      actions={
        <Choice
          label="Seen by"
          value={vision}
          options={(Object.keys(VISION_WORDS) as Vision[]).map((v) => ({ value: v, label: VISION_WORDS[v] }))}
          onChange={(v) => {
            set('vision', v, 'usual')
          }}
        />
      }
    >
      <StaleNote tally={tally} />
      <AnswerNote answer={answer} />
      <ViewSwitch
        views={VIEWS}
        view={view}
        onChange={(v) => {
          set('view', v, 'palette')
        }}
      />
      {view === 'palette' && <PalettePanel counts={counts} alike={alike} design={snapshot.design} vision={vision} />}
      {view === 'grid' && <ColourGrid snapshot={snapshot} result={result} counts={needed} vision={vision} />}
      {view === 'nearest' && <NearestColours snapshot={snapshot} count={count} vision={vision} />}
      {view === 'recolour' && <RecolourSearch snapshot={snapshot} result={result} />}
      {view === 'own' && <OwnColours />}
    </Screen>
  )
}
