import type { Candidate } from './candidate.ts'
import type { StockPart, Stock } from '../stock.ts'
import type { Demand } from '../demand.ts'
import type { Rules } from '../../build/house-rules.ts'
import type { PartId, ColourId } from '../../units/ids.ts'

/** Takes note of a candidate: one piece of an item there is, by its index, or pieces of items that may not be there. */
export type CandidateVisitor = {
  one(itemIndex: number, kind: Candidate['kind'], points: number): void
  kit(uses: Candidate['uses'], kind: Candidate['kind'], points: number): void
  /** Whether it is told of the piece itself where there is none. */
  readonly missingToo: boolean
  /**
   * Candidates that demands of a part have alike, whatever their colour, by a number for each kind of demand. `takes` says
   * whether they are known and the demand at hand has them thereby; undefined until `make` is told of them, which `fill`
   * visits. False where they have to be visited for each demand.
   */
  readonly alike?: {
    takes(part: StockPart, field: number): boolean | undefined
    make(part: StockPart, field: number, fill: () => void): boolean
  }
}

/** A demand whose candidates are looked for, and in what. */
export type Asked = {
  readonly demand: Demand
  readonly rules: Rules
  readonly stock: Stock
  readonly visit: CandidateVisitor
  readonly part: PartId
  readonly colour: ColourId
  readonly decoration: string
  readonly scoresOf: (demand: Demand, colour: ColourId) => ColourScores
  /** Those of the demand's own colour. */
  readonly scores: ColourScores
  /** The number of the demand's own colour, where there is anything in it. */
  readonly colourIndex: number | undefined
}

/** What other colours cost a demand, by the numbers of the colours there are. */
export type ColourScores = {
  /** Points of compromise; negative for colours that may not be. */
  readonly points: readonly number[]
  /** The other colours that may be. */
  readonly others: readonly number[]
}
