import { useParams } from 'react-router'
import type { BuildId } from '../../../core/units/ids.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { plural } from '../../../core/units/numbers.ts'
import { NoBuild } from '../../pieces/no-build.tsx'
import { StaleNote } from '../../pieces/stale-note.tsx'
import { useSettlement } from '../../store/ledger.ts'
import { useTally, type BuildTally } from '../../store/tallies.ts'
import { useToday } from '../../store/today.ts'
import { Figure, Screen } from '../../ui/screen.tsx'
import { ViewSwitch } from '../../ui/view-switch.tsx'
import { CostView } from './cost-view.tsx'
import { EntriesView } from './entries-view.tsx'
import type { LedgerView } from './ledger-view.ts'
import { LogView } from './log-view.tsx'
import { SheetView } from './sheet-view.tsx'
import { SurplusView } from './surplus-view.tsx'
import { useAddress } from '../../ui/address.ts'

const VIEWS = {
  cost: 'Cost',
  entries: 'Entries',
  surplus: 'Surplus',
  log: 'Log',
  sheet: 'Build sheet',
} as const
type View = keyof typeof VIEWS

/** What a build cost, what it leaves over, what was learned, and how another builder could build it. */
export function LedgerScreen() {
  const id = useParams()['build'] as BuildId
  const tally = useTally(id)
  if (!tally) return <NoBuild />
  return <Ledger tally={tally} />
}

function Ledger({ tally }: { tally: BuildTally }) {
  const settlement = useSettlement(tally)
  const today = useToday()
  const { params, setAll } = useAddress()
  const asked = params.get('view') as View | null
  const view = asked !== null && asked in VIEWS ? asked : 'cost'
  const shown: LedgerView = { tally, settlement, today }
  return (
    <Screen title="Ledger" headline={<Headline {...shown} />}>
      <ViewSwitch
        views={VIEWS}
        view={view}
        onChange={(to) => {
          setAll({ view: to }, { replace: true })
        }}
      />
      <StaleNote tally={tally} />
      {view === 'cost' && <CostView {...shown} />}
      {view === 'entries' && <EntriesView {...shown} />}
      {view === 'surplus' && <SurplusView {...shown} />}
      {view === 'log' && <LogView {...shown} />}
      {view === 'sheet' && <SheetView {...shown} />}
    </Screen>
  )
}

function Headline({ settlement: { completion, ledger }, tally }: LedgerView) {
  const { currency } = tally.now.build
  const money = (minor: number) => formatMoney(minor, currency)
  const { soFar, total, rest, overBudget, perPiece } = completion
  if (ledger.total.paid === 0 && ledger.income === 0 && total === 0)
    return <>Nothing is paid yet, and nothing is due.</>
  return (
    <>
      {soFar < 0 ? (
        <>
          It has brought <Figure>{money(-soFar)}</Figure> so far
        </>
      ) : (
        <>
          <Figure>{money(soFar)}</Figure> so far
        </>
      )}
      {total !== soFar && (
        <>
          , {rest.unpriced > 0 && 'at least '}
          <Figure>{money(total)}</Figure> at completion
        </>
      )}
      {overBudget !== undefined &&
        (overBudget > 0 ? (
          <>
            , <Figure>{money(overBudget)}</Figure> over the budget
          </>
        ) : (
          rest.unpriced === 0 && `, ${money(-overBudget)} below the budget`
        ))}
      {perPiece !== undefined && rest.unpriced === 0 && `; ${money(perPiece)} a piece`}.
      {rest.unpriced > 0 && ` What ${plural(rest.unpriced, 'short piece')} will cost is not known.`}
    </>
  )
}
