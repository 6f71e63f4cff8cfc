import type { Part } from '../catalogue/part.ts'
import type { Colour } from '../colours/colour.ts'
import type { Design } from '../design/design.ts'
import type { ExplodeOptions, MadeLine } from '../design/explode.ts'
import type { Copy, DonorSet } from '../donors/donor-set.ts'
import type { Holding } from '../shelf/holding.ts'
import type { Place } from '../shelf/place.ts'
import type { BuildId, ColourId, PartId } from '../units/ids.ts'
import type { Build } from '../build/build.ts'
import type { Decision } from '../build/decision.ts'
import type { Market } from '../offers/market.ts'

/** Everything one build's tally depends on. */
export type Snapshot = {
  readonly build: Build
  readonly design: Design
  readonly sets: readonly DonorSet[]
  /** Copies that serve this build. */
  readonly copies: readonly Copy[]
  readonly holdings: readonly Holding[]
  readonly places: readonly Place[]
  readonly parts: ReadonlyMap<PartId, Part>
  /** Known colours, for near ones; no colour is near another when left out. */
  readonly colourById?: ReadonlyMap<ColourId, Colour>
  /** What shops are known to sell; nothing known when left out. */
  readonly market?: Market
  /** What the user decided by hand, for this and other builds. */
  readonly decisions?: readonly Decision[]
  /** Which of the uncertain quantities, ideas for later, another colourway. */
  readonly explosion?: Omit<ExplodeOptions, 'parts' | 'made'>
  /** What is in the model that is being built; nothing when left out. */
  readonly made?: readonly MadeLine[]
}

/** What is in the unfinished model of one build. */
export type BuildMade = { readonly id: BuildId; readonly lines: readonly MadeLine[] }

/** What the tallies of all builds depend on. */
export type SnapshotRecords = {
  readonly designs: readonly Design[]
  readonly sets: readonly DonorSet[]
  readonly copies: readonly Copy[]
  readonly holdings: readonly Holding[]
  readonly places: readonly Place[]
  readonly partById: ReadonlyMap<PartId, Part>
  readonly colourById: ReadonlyMap<ColourId, Colour>
  readonly market: Market
  readonly decisions: readonly Decision[]
  readonly made: readonly BuildMade[]
}

/** One build with everything its tally depends on; an empty design when it has none. */
export function snapshotOf(build: Build, records: SnapshotRecords): Snapshot {
  const { designs, sets, copies, holdings, places, partById, colourById, market, decisions, made } = records
  const own = made.find((m) => m.id === build.id)
  return {
    build,
    design: designs.find((d) => d.id === build.id) ?? { id: build.id, modules: [] },
    sets,
    copies: copies.filter((c) => c.buildId === build.id),
    holdings,
    places,
    parts: partById,
    colourById,
    market,
    decisions,
    ...(own && { made: own.lines }),
  }
}
