import { itemKey, splitItemKey } from '../catalogue/item.ts'
import { PALETTE } from '../colours/palette.ts'
import { defaultRules } from '../build/house-rules.ts'
import type { Build } from '../build/build.ts'
import type { Design } from '../design/design.ts'
import { tally } from '../netting/count.ts'
import type { Snapshot } from '../netting/snapshot.ts'
import { currency } from '../units/money.ts'
import { madeOf } from './made.ts'
import { putIn } from './put-in.ts'
import { newUnit, type Unit } from './unit.ts'
import { BRICK, BUILD, copy, holding, PARTS, places, set, SMALL } from './making.test-data.ts'

const [, second] = PALETTE
const inSecond = (item: typeof BRICK) => itemKey(splitItemKey(item).part, second?.id ?? ('c-x' as never))

const build = { id: BUILD, name: 'B', currency: currency('EUR'), rules: defaultRules } as Build
const design = {
  id: BUILD,
  modules: [
    {
      id: 'm-r',
      name: 'Ring',
      repeats: 4,
      lines: [
        { id: 'n-1', item: BRICK, qty: 1, group: 'Ring', freedom: 'free' },
        { id: 'n-2', item: SMALL, qty: 1 },
      ],
    },
  ],
} as unknown as Design

const count = (
  units: readonly Unit[],
  holdings: Snapshot['holdings'],
  copies: Snapshot['copies'] = [],
  plan = design,
) =>
  tally({
    build,
    design: plan,
    sets: [set],
    copies,
    holdings,
    places,
    parts: PARTS,
    colourById: new Map(PALETTE.map((c) => [c.id, c])),
    made: madeOf(units)[0]?.lines ?? [],
  })

test('a group goes on in the colour in which it was begun, though another is more plentiful by now', () => {
  const shelf = [holding('1', 'l-a', BRICK, 9), holding('2', 'l-a', inSecond(BRICK), 2)]
  expect([...count([], shelf).groups]).toEqual([['Ring', splitItemKey(BRICK).colour]])
  const put = putIn(
    newUnit(BUILD, ['m-r' as never], 1),
    'n-1' as never,
    1,
    [{ covers: 1, takes: [{ kind: 'found', item: inSecond(BRICK), qty: 1 }] }],
    { copies: [] },
  )
  const begun = count(put.ok ? put.value.units : [], shelf)
  expect([...begun.groups]).toEqual([['Ring', splitItemKey(inSecond(BRICK)).colour]])
  // Three more are wanted in that colour, two are there.
  expect(begun.shortfall.get(inSecond(BRICK))).toBe(1)
  expect(begun.lines.find((l) => l.line === ('n-1' as never))?.wanted).toBe(inSecond(BRICK))
})

test('a piece in a colour that its line does not allow is a departure, and decides nothing for the group', () => {
  const exact = {
    ...design,
    modules: design.modules.map((m) => ({ ...m, lines: m.lines.map(({ freedom: _, ...l }) => l) })),
  }
  const put = putIn(
    newUnit(BUILD, ['m-r' as never], 1),
    'n-1' as never,
    1,
    [{ covers: 1, takes: [{ kind: 'found', item: inSecond(BRICK), qty: 1 }] }],
    { copies: [] },
  )
  const begun = count(put.ok ? put.value.units : [], [holding('1', 'l-a', BRICK, 9)], [], exact)
  expect([...begun.groups]).toEqual([['Ring', splitItemKey(BRICK).colour]])
  expect(begun.lines[0]?.coverage).toMatchObject({ short: 0, shelf: 4 })
})

test('what is built in counts where it came from: out of donors, or off the shelf', () => {
  const groups = [
    { covers: 1, takes: [{ kind: 'copy' as const, copy: copy.id, item: SMALL, qty: 1 }] },
    { covers: 2, takes: [{ kind: 'found' as const, item: SMALL, qty: 2 }] },
  ]
  const put = putIn(newUnit(BUILD, ['m-r' as never], 1), 'n-2' as never, 4, groups, { copies: [copy] })
  if (!put.ok) throw new Error('not put in')
  const { lines } = count(put.value.units, [], put.value.copies)
  // One of four came out of the copy, two were found, and the copy has three left for the last.
  expect(lines.find((l) => l.line === ('n-2' as never))?.coverage).toEqual({
    donor: 2,
    shelf: 2,
    standIn: 0,
    onOrder: 0,
    short: 0,
  })
})
