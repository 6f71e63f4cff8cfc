import type { ItemKey } from '../catalogue/item.ts'
import type { Part } from '../catalogue/part.ts'
import type { Colour } from '../colours/colour.ts'
import type { Design } from '../design/design.ts'
import type { ExplodeOptions } from '../design/explode.ts'
import type { Copy, DonorSet } from '../donors/donor-set.ts'
import type { Holding } from '../shelf/holding.ts'
import type { Place } from '../shelf/place.ts'
import type { ColourId, PartId } from '../units/ids.ts'
import type { Build } from './build.ts'

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
  /** Items that shops are known to sell; none known when left out. */
  readonly offered?: ReadonlySet<ItemKey>
  /** Which of the uncertain quantities, ideas for later, another colourway. */
  readonly explosion?: Omit<ExplodeOptions, 'parts'>
}
