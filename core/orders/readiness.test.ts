import fc from 'fast-check'
import type { Design } from '../design/design.ts'
import type { TallyLine } from '../netting/tally.ts'
import type { HoldingId, LineId, ModuleId, PlaceId } from '../units/ids.ts'
import { BRICK, PLATE } from './orders.test-data.ts'
import { holdUps, NEVER, NOW, readiness, type Due } from './readiness.ts'

/** Pieces by when they come: days are single digits, which compare like days. */
type Supply = { readonly when: string; readonly qty: number }

const design = (modules: readonly { readonly id: string; readonly repeats?: number }[]): Pick<Design, 'modules'> => ({
  modules: modules.map(({ id, repeats = 1 }) => ({ id: id as ModuleId, name: id, repeats, lines: [] })),
})

const due: Due = (source) => {
  if (source.kind !== 'shelf') throw new Error('test data')
  const when = source.place
  return when === 'now' ? { likely: NOW, late: NOW } : { likely: when, late: `${when}+`, from: when }
}

function line(module: string, wanted: TallyLine['wanted'], need: number, supplies: readonly Supply[]): TallyLine {
  const covered = supplies.reduce((n, s) => n + s.qty, 0)
  return {
    id: `${module}/${wanted}`,
    line: `n-${module}` as LineId,
    module: module as ModuleId,
    path: [module as ModuleId],
    item: wanted,
    wanted,
    group: undefined,
    visibility: 'seen',
    each: need,
    need,
    coverage: { donor: 0, shelf: 0, standIn: 0, onOrder: 0, short: need - covered },
    pegs: supplies.map(({ when, qty }, i) => ({
      item: wanted,
      qty,
      source: {
        kind: 'shelf',
        holding: `h-${i}` as HoldingId,
        place: when as PlaceId,
        estimate: false,
        state: { kind: 'loose' },
      },
    })),
    estimate: false,
    interim: undefined,
    buyInstead: 0,
  }
}

test('what is here, what comes and what never does', () => {
  const lines = [
    line('m-1', PLATE, 4, [{ when: 'now', qty: 4 }]),
    line('m-2', PLATE, 4, [
      { when: '3', qty: 3 },
      { when: 'now', qty: 1 },
    ]),
    line('m-3', BRICK, 2, [{ when: '1', qty: 1 }]),
  ]
  const [first, second, third] = readiness(design([{ id: 'm-1' }, { id: 'm-2' }, { id: 'm-3' }]), lines, due)
  expect(first).toMatchObject({ likely: NOW, readyNow: 1, waits: [] })
  // Four of the five that are here would do for the second, went it first.
  expect(second).toMatchObject({ likely: '3', late: '3+', first: NOW, waits: [{ from: '3', qty: 3 }] })
  expect(third).toMatchObject({ likely: NEVER, first: NEVER })
})

test('repeats become ready one after the other', () => {
  const lines = [
    line('m-1', PLATE, 6, [
      { when: 'now', qty: 3 },
      { when: '2', qty: 2 },
      { when: '4', qty: 1 },
    ]),
  ]
  const [module] = readiness(design([{ id: 'm-1', repeats: 3 }]), lines, due)
  expect(module).toMatchObject({ each: [NOW, '2', '4'], readyNow: 1 })
})

test('the parcel that holds up most is named first', () => {
  const lines = [
    line('m-1', PLATE, 1, [{ when: '2', qty: 1 }]),
    line('m-2', BRICK, 9, [{ when: '1', qty: 9 }]),
    line('m-3', PLATE, 1, [{ when: '2', qty: 1 }]),
  ]
  const modules = readiness(design([{ id: 'm-1' }, { id: 'm-2' }, { id: 'm-3' }]), lines, due)
  expect(holdUps(modules).map((h) => [h.from, h.modules.length])).toEqual([
    ['2', 2],
    ['1', 1],
  ])
})

/** The days of modules that are least in the design's order, over every way to deal the pieces out. */
function leastDays(needs: readonly (readonly number[])[], pools: readonly (readonly string[])[]): string[] {
  let best: string[] | undefined
  const walk = (m: number, left: readonly (readonly string[])[], days: readonly string[]): void => {
    if (m === needs.length) {
      if (!best || days.join(' ') < best.join(' ')) best = [...days]
      return
    }
    const deal = (p: number, rest: readonly (readonly string[])[], day: string): void => {
      const pool = left[p]
      const need = needs[m]?.[p] ?? 0
      if (!pool) {
        walk(m + 1, rest, [...days, day])
        return
      }
      for (const chosen of choices(pool.length, need)) {
        const last = chosen.reduce((d, i) => ((pool[i] ?? '') > d ? (pool[i] ?? '') : d), day)
        deal(p + 1, [...rest, pool.filter((_, i) => !chosen.includes(i))], last)
      }
    }
    deal(0, [], NOW)
  }
  walk(0, pools, [])
  return best ?? []
}

function* choices(n: number, k: number, from = 0): Generator<number[]> {
  if (k === 0) yield []
  else for (let i = from; i <= n - k; i++) for (const rest of choices(n, k - 1, i + 1)) yield [i, ...rest]
}

test('modules in their order are ready as early as any dealing out of the pieces makes them (exhaustive search)', () => {
  const when = fc.constantFrom('now', '1', '2', '3')
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.array(when, { maxLength: 2 }), fc.array(when, { maxLength: 2 })), {
        minLength: 1,
        maxLength: 3,
      }),
      (modules) => {
        const kinds = [PLATE, BRICK]
        const lines = modules.flatMap((own, m) =>
          own.flatMap((days, p) =>
            days.length === 0
              ? []
              : [
                  line(
                    `m-${m}`,
                    kinds[p] ?? PLATE,
                    days.length,
                    days.map((d) => ({ when: d, qty: 1 })),
                  ),
                ],
          ),
        )
        const all = design(modules.map((_, m) => ({ id: `m-${m}` })))
        const found = new Map(readiness(all, lines, due).map((r) => [r.module as string, r.likely]))
        const pools = kinds.map((_, p) => modules.flatMap((own) => (own[p] ?? []).map((d) => (d === 'now' ? NOW : d))))
        const least = leastDays(
          modules.map((own) => own.map((days) => days.length)),
          pools,
        )
        const told = modules.map((_, m) => found.get(`m-${m}`) ?? NOW)
        expect(told).toEqual(least)
      },
    ),
    { numRuns: 300 },
  )
})

test('two hundred modules of forty lines are told at once', () => {
  const many = Array.from({ length: 200 }, (_, m) => ({ id: `m-${m}`, repeats: 5 }))
  const lines = many.flatMap(({ id }) =>
    Array.from({ length: 40 }, (_, i) =>
      line(id, `${PLATE}|${i}` as TallyLine['wanted'], 5, [
        { when: 'now', qty: 2 },
        { when: '2', qty: 3 },
      ]),
    ),
  )
  const started = performance.now()
  const told = readiness(design(many), lines, due)
  // Some 30 ms here; a machine that is busy otherwise takes longer.
  expect(performance.now() - started).toBeLessThan(2000)
  expect(told).toHaveLength(200)
  expect(told.reduce((n, r) => n + r.readyNow, 0)).toBeGreaterThan(0)
})
