import fc from 'fast-check'
import { activeItems, type NoteReach } from './active-items.ts'

type Draw = { readonly on: number; readonly several: boolean }
type Node = { readonly draws: readonly Draw[]; readonly pool: number | undefined }
type Case = {
  readonly items: readonly (Node & { readonly there: number; readonly wanted: number })[]
  readonly sources: readonly (Node & { readonly qty: number })[]
  readonly pools: readonly (readonly number[])[]
}

const SIZE = 8
const node = {
  draws: fc.array(fc.record({ on: fc.nat(SIZE - 1), several: fc.nat(7).map((n) => n === 0) }), { maxLength: 2 }),
  pool: fc.option(fc.nat(1), { nil: undefined }),
}
const cases: fc.Arbitrary<Case> = fc.record({
  items: fc.array(fc.record({ ...node, there: fc.nat(5), wanted: fc.nat(5) }), { minLength: SIZE, maxLength: SIZE }),
  sources: fc.array(fc.record({ ...node, qty: fc.nat(4) }), { maxLength: 3 }),
  pools: fc.array(fc.uniqueArray(fc.nat(SIZE - 1), { minLength: 1, maxLength: 4 }), { minLength: 2, maxLength: 2 }),
})

const found = ({ items, sources, pools }: Case) => {
  const tell = ({ draws, pool }: Node, note: NoteReach, own = -1) => {
    for (const { on, several } of draws) if (on !== own) note.item(on, several)
    if (pool !== undefined) note.pool(pools[pool] ?? [], false)
  }
  const numbers = (of: 'there' | 'wanted') => Float64Array.from(items, (item) => item[of])
  const { active, alone } = activeItems(
    { there: numbers('there'), wanted: numbers('wanted') },
    (item, note) => {
      const own = items[item]
      if (own) tell(own, note, item)
    },
    {
      qty: sources.map((s) => s.qty),
      reach: (s, note) => {
        const own = sources[s]
        if (own) tell(own, note)
      },
    },
  )
  return { active: [...active].map(Boolean), alone: [...alone].map(Boolean) }
}

/** The same by its definition, all of it anew until nothing changes. */
function defined({ items, sources, pools }: Case) {
  const active = items.map((i) => i.wanted > i.there)
  const nodes = [...items.map((i, n) => ({ ...i, n })), ...sources.map((s, n) => ({ ...s, n: SIZE + n }))]
  const isIn = (n: number) => n >= SIZE || active[n] === true
  const draws = ({ n, draws: own }: (typeof nodes)[number]) => own.filter((d) => d.on !== n)
  const reaches = (one: (typeof nodes)[number]) => [
    ...draws(one).map((d) => d.on),
    ...(one.pool === undefined ? [] : (pools[one.pool] ?? [])),
  ]
  for (let changed = true; changed;) {
    changed = false
    const activate = (item: number) => {
      if (active[item]) return
      active[item] = true
      changed = true
    }
    for (const one of nodes) if (isIn(one.n)) for (const d of draws(one)) if (d.several) activate(d.on)
    // Parts: what draws on an item with a choice, or on the same pool, is together.
    const part = nodes.map((one) => one.n)
    const merge = (p: number, q: number) => {
      const [from, to] = [part[p], part[q]]
      for (const [n, of] of part.entries()) if (of === from && to !== undefined) part[n] = to
    }
    for (const one of nodes) {
      if (!isIn(one.n)) continue
      for (const to of reaches(one)) if (active[to]) merge(one.n, to)
      for (const other of nodes)
        if (isIn(other.n) && one.pool !== undefined && one.pool === other.pool) merge(one.n, other.n)
    }
    for (const [item, { there, wanted }] of items.entries()) {
      if (active[item]) continue
      let comes = 0
      for (const top of new Set(part)) {
        const own = nodes.filter((one) => isIn(one.n) && part[one.n] === top)
        if (!own.some((one) => reaches(one).includes(item))) continue
        const tangled = own.some((one) => draws(one).some((d) => d.several))
        for (const one of own) {
          const [asked, held] = 'qty' in one ? [one.qty, 0] : [one.wanted, one.there]
          comes += tangled ? asked : Math.max(0, asked - held)
        }
      }
      if (comes > there - wanted) activate(item)
    }
  }
  const drawnOn = new Set(nodes.flatMap((one) => (isIn(one.n) ? reaches(one) : [])))
  const alone = nodes.map((one) => isIn(one.n) && reaches(one).length === 0 && (one.n >= SIZE || !drawnOn.has(one.n)))
  return { active, alone }
}

test('items have a choice exactly where, by the definition, more pieces may come to them than are to spare', () => {
  fc.assert(
    fc.property(cases, (one) => {
      expect(found(one)).toEqual(defined(one))
    }),
    { numRuns: 2000 },
  )
})
