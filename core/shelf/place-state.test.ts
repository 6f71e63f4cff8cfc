import fc from 'fast-check'
import type { PlaceId } from '../units/ids.ts'
import { mayStandIn, placeStates } from './place-state.ts'
import { PLACE_KINDS, type Place } from './place.ts'

const id = (n: number) => `l-${n}` as PlaceId
/** Places that stand in earlier ones, or in none: no circles. */
const treeArb = fc
  .array(
    fc.record({
      kind: fc.constantFrom(...PLACE_KINDS),
      within: fc.nat(20),
      loose: fc.boolean(),
      released: fc.boolean(),
    }),
    {
      minLength: 1,
      maxLength: 12,
    },
  )
  .map((all) =>
    all.map(({ kind, within, loose, released }, i): Place => ({
      id: id(i),
      name: `P${i}`,
      kind,
      parent: i === 0 || loose ? null : id(within % i),
      ...(kind === 'model' ? { released } : {}),
    })),
  )
/** The places around a place from the inside out; undefined where they come round again. */
function around(place: Place, places: readonly Place[]): Place[] | undefined {
  const path: Place[] = []
  for (let at: Place | undefined = place; at; at = places.find((p) => p.id === at?.parent)) {
    if (path.includes(at)) return undefined
    path.push(at)
  }
  return path
}

test('a place may stand in another just when nothing then stands in itself', () => {
  fc.assert(
    fc.property(treeArb, fc.nat(), fc.nat(), (places, a, b) => {
      const moved = places[a % places.length] as Place
      const target = b % 3 === 0 ? null : (places[b % places.length] as Place).id
      const after = places.map((p) => (p === moved ? { ...p, parent: target } : p))
      expect(mayStandIn(moved.id, target, places)).toBe(after.every((p) => around(p, after) !== undefined))
    }),
    { numRuns: 500 },
  )
})

test('pieces are in the state of the nearest model, post or promise around them, else loose', () => {
  fc.assert(
    fc.property(treeArb, (places) => {
      const states = placeStates(places)
      for (const place of places) {
        const nearest = around(place, places)?.find((p) => ['model', 'post', 'promise'].includes(p.kind))
        const state = states.get(place.id)
        expect(state?.kind).toBe(nearest?.kind === 'promise' ? 'post' : (nearest?.kind ?? 'loose'))
        if (state?.kind === 'post') expect(state.at).toBe(nearest)
        if (state?.kind === 'model') expect([state.model, state.released]).toEqual([nearest, nearest?.released])
      }
    }),
    { numRuns: 300 },
  )
})

test('places in a circle, or in one that is gone, end the walk', () => {
  const place = (n: number, parent: number, kind: Place['kind'] = 'bin'): Place => ({
    id: id(n),
    name: `P${n}`,
    kind,
    parent: id(parent),
  })
  const odd = [place(1, 2), place(2, 1), place(3, 9), place(4, 4, 'model')]
  expect([...placeStates(odd).values()].map((s) => s.kind)).toEqual(['loose', 'loose', 'loose', 'model'])
  expect(mayStandIn(id(3), id(1), odd)).toBe(true)
  expect(mayStandIn(id(1), id(2), odd)).toBe(false)
})
