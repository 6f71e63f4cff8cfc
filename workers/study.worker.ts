import { pricesIn } from '../core/offers/loose-prices.ts'
import { compareColourways, type ColourwayResult } from '../core/studies/colourways.ts'
import { goodsFor, goodsPricer, type GoodsCost } from '../core/offers/goods-cost.ts'
import { knownItems } from '../core/catalogue/availability.ts'
import type { Rest } from '../core/netting/shared-records.ts'
import type { Offer } from '../core/offers/offer.ts'
import type { Shop } from '../core/offers/shop.ts'
import { mockUp, type MockUp } from '../core/studies/mock-up.ts'
import { recolourings, type Recolouring } from '../core/studies/recolouring.ts'
import { relaxations, remedies, type Relaxation, type Remedy } from '../core/studies/relaxations.ts'
import type { Snapshot } from '../core/netting/snapshot.ts'
import { tally } from '../core/netting/count.ts'
import {
  jointYields,
  yieldCurve,
  yieldOf,
  type Pattern,
  type YieldResult,
  type YieldStep,
} from '../core/studies/yield.ts'
import type { Changes } from '../core/build/scenario.ts'
import type { DesignVersion } from '../core/design/version.ts'
import type { ChangeFault } from '../core/sourcing/changed-build.ts'
import {
  whatIfRows,
  whatIfTask,
  type WhatIf,
  type WhatIfAnswer,
  type WhatIfRow,
  type WhatIfTask,
} from '../core/sourcing/what-if.ts'
import { stillThere, type StillThere } from '../core/studies/still-there.ts'
import { Memory } from '../core/units/memory.ts'
import type { Planner } from '../core/netting/planner.ts'
import { highs } from './highs.ts'
import type { LineId, ModuleId, PlaceId } from '../core/units/ids.ts'
import type { Result } from '../core/units/result.ts'
import { releaseOf } from '../core/studies/release.ts'
import { orderStudy, rangeOf, type OrderFault, type OrderStudy, type Range } from '../core/studies/uncertain.ts'
import { wholeSnapshot } from './lent.ts'
import { serve } from './serve.ts'

type Market = { readonly offers: readonly Offer[]; readonly shops: readonly Shop[] }
type OnStep = () => void

/** What the studies of this worker have in common. */
const memory = new Memory()

const pricer = ({ build }: Snapshot, { offers, shops }: Market) =>
  goodsPricer(offers, shops, build.currency, build.rules)

const studies = {
  colourways: (
    snapshot: Snapshot,
    market: Market & { readonly copies: readonly { readonly setId: string; readonly state: string }[] },
    onStep: OnStep,
    planner: Planner,
  ): ColourwayResult[] => {
    const known = knownItems({
      ...market,
      holdings: snapshot.holdings,
      sets: snapshot.sets,
      prices: pricesIn(market, snapshot.build.currency),
    })
    const found = compareColourways(snapshot, known, pricer(snapshot, market), planner)
    onStep()
    return found
  },

  /** The yield and its cost curve: around the yield and some way beyond. */
  yield: (
    snapshot: Snapshot,
    question: Market & { readonly pattern: Pattern; readonly keepRest: boolean; readonly beyond: number },
    onStep: OnStep,
    planner: Planner,
  ): { readonly result: YieldResult; readonly curve: YieldStep[] } => {
    const { pattern, keepRest, beyond } = question
    const result = yieldOf(snapshot, pattern, { keepRest, onStep, planner })
    const first = Math.max(0, result.elements - 2)
    const numbers = Array.from({ length: beyond + 3 }, (_, i) => first + i)
    const curve =
      pattern.modules.length === 0
        ? []
        : yieldCurve(snapshot, pattern, { keepRest, onStep, planner }, numbers, pricer(snapshot, question))
    return { result, curve }
  },

  joint: (
    snapshot: Snapshot,
    {
      modules,
      keepRest,
      most,
    }: { readonly modules: readonly ModuleId[]; readonly keepRest: boolean; readonly most: number },
    onStep: OnStep,
    planner: Planner,
  ): number[][] => jointYields(snapshot, modules, { keepRest, most, onStep, planner }),

  recolourings: (
    snapshot: Snapshot,
    module: ModuleId,
    onStep: OnStep,
    planner: Planner,
  ): { readonly found: Recolouring[]; readonly proven: boolean } =>
    recolourings(snapshot, tally(snapshot, planner), module, onStep, planner),

  relaxations: (snapshot: Snapshot, short: number, onStep: OnStep, planner: Planner): Relaxation[] =>
    short === 0 ? [] : relaxations(snapshot, tally(snapshot, planner), onStep, planner),

  remedies: (snapshot: Snapshot, line: LineId, onStep: OnStep, planner: Planner): Remedy[] =>
    remedies(snapshot, tally(snapshot, planner), line, onStep, planner),

  /** What a design needs, lacks, and what that costs loose under the build's rules: goods alone. */
  goods: (
    snapshot: Snapshot,
    _: null,
    __: OnStep,
    planner: Planner,
  ): { readonly need: number; readonly short: number } & GoodsCost => {
    const { need, coverage, shortfall } = tally(snapshot, planner)
    const { offers, shops } = snapshot.market ?? { offers: [], shops: [] }
    return { need, short: coverage.short, ...goodsFor(shortfall, pricer(snapshot, { offers, shops })) }
  },

  range: (snapshot: Snapshot, _: null, onStep: OnStep, planner: Planner): Range => rangeOf(snapshot, onStep, planner),

  /** Ordering the likely or the high; `seconds` for each of three purchases. */
  orders: async (
    snapshot: Snapshot,
    seconds: number,
    onStep: OnStep,
    planner: Planner,
  ): Promise<Result<OrderStudy, OrderFault>> =>
    orderStudy(snapshot, { milp: await highs(), now: () => performance.now() / 1000, seconds, onStep }, planner),

  /** What a model gives once it may be taken apart: the pieces it gives, and how many fewer are short. */
  release: (
    snapshot: Snapshot,
    { model, short }: { readonly model: PlaceId; readonly short: number },
    _: OnStep,
    planner: Planner,
  ): { readonly taken: number; readonly saved: number } => releaseOf(snapshot, model, short, planner),

  /** What donors and shelf can still give. */
  still: (snapshot: Snapshot, _: null, __: OnStep, planner: Planner): StillThere[] =>
    stillThere(snapshot, tally(snapshot, planner), planner),

  /** What-ifs with their answers, each counted anew; answers of another state of the build are told as old. */
  whatIfs: (
    snapshot: Snapshot,
    {
      whatIfs,
      answers,
      versions,
    }: {
      readonly whatIfs: readonly WhatIf[]
      readonly answers: readonly WhatIfAnswer[]
      readonly versions: readonly DesignVersion[]
    },
    onStep: OnStep,
    planner: Planner,
  ): WhatIfRow[] => whatIfRows(snapshot, whatIfs, answers, versions, planner, onStep),

  /** What a build with changes leaves to be bought. */
  whatIfTask: (
    snapshot: Snapshot,
    { changes, versions }: { readonly changes: Changes; readonly versions: readonly DesignVersion[] },
    _: OnStep,
    planner: Planner,
  ): Result<WhatIfTask, ChangeFault> => whatIfTask(snapshot, changes, versions, planner),

  mockUps: (snapshot: Snapshot, modules: readonly ModuleId[], onStep: OnStep, planner: Planner): MockUp[] =>
    modules.map((id) => {
      const found = mockUp(snapshot, id, planner)
      onStep()
      return found
    }),
}

export type Studies = typeof studies

/** Studies that try rules which bring in options of several pieces. */
const TRY_RULES: readonly string[] = ['relaxations', 'remedies', 'whatIfs', 'whatIfTask'] satisfies (keyof Studies)[]

/** Gives a study the solver where options of several pieces may need it. */
const withSolver =
  (name: string, study: (snapshot: Snapshot, question: never, onStep: OnStep, planner: Planner) => unknown) =>
  async (sent: Rest, question: never, onStep: OnStep, lender?: MessagePort): Promise<unknown> => {
    const snapshot = await wholeSnapshot(sent, lender)
    const several =
      TRY_RULES.includes(name) ||
      snapshot.build.rules.splits !== 'never' ||
      (snapshot.decisions ?? []).some((d) => d.what.kind === 'own')
    return study(snapshot, question, onStep, { memory, ...(several && { milp: await highs() }) })
  }

serve(Object.fromEntries(Object.entries(studies).map(([name, study]) => [name, withSolver(name, study)])))
