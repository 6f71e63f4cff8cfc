import type { ItemKey } from '../catalogue/item.ts'
import { explode } from '../design/explode.ts'
import type { Design } from '../design/design.ts'
import { copyContents } from '../donors/copy-contents.ts'
import type { Copy, DonorSet } from '../donors/donor-set.ts'
import { net, verifyNetting, type NettingSupply } from '../netting/net.ts'
import { freeFor, type Holding } from '../shelf/holding.ts'
import { CONDITIONS } from '../units/condition.ts'
import type { CopyId, HoldingId, LineId, ModuleId, PlaceId } from '../units/ids.ts'
import type { Build } from './build.ts'

/** Everything one build's tally depends on. */
export type Snapshot = {
  readonly build: Build
  readonly design: Design
  readonly sets: readonly DonorSet[]
  /** Copies that serve this build. */
  readonly copies: readonly Copy[]
  readonly holdings: readonly Holding[]
}

/** Pieces by where they come from; the segments of a coverage strip. */
export type Coverage = {
  readonly donor: number
  readonly shelf: number
  readonly standIn: number
  readonly onOrder: number
  readonly short: number
}

export type SupplySource =
  | { readonly kind: 'copy'; readonly copy: CopyId; readonly stage: string; readonly promised: boolean }
  | { readonly kind: 'shelf'; readonly holding: HoldingId; readonly place: PlaceId; readonly estimate: boolean }

export type TallyPeg = { readonly source: SupplySource; readonly qty: number }

export type TallyLine = {
  readonly line: LineId
  readonly module: ModuleId
  readonly item: ItemKey
  readonly each: number
  readonly need: number
  readonly coverage: Coverage
  readonly pegs: readonly TallyPeg[]
  /** True when a peg rests on an estimated holding. */
  readonly estimate: boolean
}

export type Tally = {
  readonly lines: readonly TallyLine[]
  readonly coverage: Coverage
  readonly byModule: ReadonlyMap<ModuleId, Coverage>
  /** Short items with their quantities, in design order. */
  readonly shortfall: ReadonlyMap<ItemKey, number>
  /** Pieces of the total that rest on estimates. */
  readonly estimated: number
  readonly need: number
}

export const NO_COVERAGE: Coverage = { donor: 0, shelf: 0, standIn: 0, onOrder: 0, short: 0 }

export const addCoverage = (p: Coverage, q: Coverage): Coverage => ({
  donor: p.donor + q.donor,
  shelf: p.shelf + q.shelf,
  standIn: p.standIn + q.standIn,
  onOrder: p.onOrder + q.onOrder,
  short: p.short + q.short,
})

export const coveredPieces = (c: Coverage): number => c.donor + c.shelf + c.standIn + c.onOrder

const DONOR_RANK = 0
const SHELF_RANK = 1
const ESTIMATE_RANK = 2
const PROMISED_RANK = 3

/**
 * Nets a build: gross requirements against donor copies, then the shelf, as the build's rules allow; counted holdings
 * before estimated ones, promised copies last (as on order). Exact items only. The netting is verified before it is returned; a fault there is a bug and
 * throws.
 */
export function tally(snapshot: Snapshot): Tally {
  const requirements = explode(snapshot.design)
  const { supplies, sources } = gatherSupplies(snapshot)
  const lines = requirements.map((r) => ({ id: r.line, item: r.item, qty: r.qty }))
  const netting = net(lines, supplies)
  const faults = verifyNetting(lines, supplies, netting)
  if (faults.length > 0) throw new Error(`the netting does not hold: ${faults[0]}`)

  const pegsByLine = new Map<string, TallyPeg[]>()
  for (const peg of netting.pegs) {
    const source = sources.get(peg.supply)
    if (!source) continue
    const pegs = pegsByLine.get(peg.line)
    if (pegs) pegs.push({ source, qty: peg.qty })
    else pegsByLine.set(peg.line, [{ source, qty: peg.qty }])
  }

  let coverage = NO_COVERAGE
  let estimated = 0
  const byModule = new Map<ModuleId, Coverage>()
  const shortfall = new Map<ItemKey, number>()
  const result = requirements.map((r): TallyLine => {
    const pegs = pegsByLine.get(r.line) ?? []
    const short = netting.short.get(r.line) ?? 0
    let donor = 0
    let shelf = 0
    let onOrder = 0
    let guessed = 0
    for (const { source, qty } of pegs) {
      if (source.kind === 'copy' && source.promised) onOrder += qty
      else if (source.kind === 'copy') donor += qty
      else {
        shelf += qty
        if (source.estimate) guessed += qty
      }
    }
    const lineCoverage: Coverage = { donor, shelf, standIn: 0, onOrder, short }
    coverage = addCoverage(coverage, lineCoverage)
    estimated += guessed
    byModule.set(r.module, addCoverage(byModule.get(r.module) ?? NO_COVERAGE, lineCoverage))
    if (short > 0) shortfall.set(r.item, (shortfall.get(r.item) ?? 0) + short)
    return {
      line: r.line,
      module: r.module,
      item: r.item,
      each: r.each,
      need: r.qty,
      coverage: lineCoverage,
      pegs,
      estimate: guessed > 0,
    }
  })
  const need = requirements.reduce((sum, r) => sum + r.qty, 0)
  return { lines: result, coverage, byModule, shortfall, estimated, need }
}

function gatherSupplies(snapshot: Snapshot): { supplies: NettingSupply[]; sources: Map<string, SupplySource> } {
  const supplies: NettingSupply[] = []
  const sources = new Map<string, SupplySource>()
  const setById = new Map(snapshot.sets.map((s) => [s.id, s]))
  for (const copy of snapshot.copies) {
    const set = setById.get(copy.setId)
    if (!set || copy.state === 'to-buy') continue
    const promised = copy.state === 'promised'
    for (const { stage, item, qty } of copyContents(set, copy)) {
      const id = `${copy.id}\n${stage}\n${item}`
      supplies.push({ id, item, qty, rank: promised ? PROMISED_RANK : DONOR_RANK })
      sources.set(id, { kind: 'copy', copy: copy.id, stage, promised })
    }
  }
  if (snapshot.build.rules.sources === 'donors') return { supplies, sources }
  const worst = CONDITIONS.indexOf(snapshot.build.rules.condition)
  for (const holding of snapshot.holdings) {
    if (CONDITIONS.indexOf(holding.condition) > worst) continue
    const qty = freeFor(holding, snapshot.build.id, snapshot.build.rules.estimatePercent)
    supplies.push({ id: holding.id, item: holding.item, qty, rank: holding.estimate ? ESTIMATE_RANK : SHELF_RANK })
    sources.set(holding.id, {
      kind: 'shelf',
      holding: holding.id,
      place: holding.place,
      estimate: holding.estimate,
    })
  }
  return { supplies, sources }
}
