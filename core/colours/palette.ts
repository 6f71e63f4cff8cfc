import { colourId } from '../units/ids.ts'
import { colourKey, type Colour, type Finish } from './colour.ts'

/** The colours the product knows from the start, in our own names; users add theirs. */
const NAMES: readonly (readonly [string, string, Finish])[] = [
  ['Chalk', '#f3f2ea', 'opaque'],
  ['Birch ash', '#b9bdb8', 'opaque'],
  ['Weathered slate', '#6e767c', 'opaque'],
  ['Scree', '#8f8778', 'opaque'],
  ['Soot', '#23262a', 'opaque'],
  ['Rowanberry', '#c2272e', 'opaque'],
  ['Beetroot', '#7c1f34', 'opaque'],
  ['Ember', '#e2622a', 'opaque'],
  ['Apricot', '#f2a65e', 'opaque'],
  ['Hayfield', '#e9c14f', 'opaque'],
  ['Buttercup', '#f7d92e', 'opaque'],
  ['Young fern', '#9cc23f', 'opaque'],
  ['Meadow', '#4b9b45', 'opaque'],
  ['Spruce', '#1f5a3d', 'opaque'],
  ['Lichen', '#a3b39a', 'opaque'],
  ['Bog moss', '#737a3c', 'opaque'],
  ['Meltwater', '#9fd3dc', 'opaque'],
  ['Tarn', '#2f8c99', 'opaque'],
  ['Gentian', '#2a55b0', 'opaque'],
  ['Night sky', '#1c2848', 'opaque'],
  ['Heather', '#8a68ad', 'opaque'],
  ['Foxglove', '#d4679b', 'opaque'],
  ['Oatmeal', '#dac9a0', 'opaque'],
  ['Hazelnut', '#a87748', 'opaque'],
  ['Peat', '#4a3226', 'opaque'],
  ['Clear ice', '#dcecf1', 'clear'],
  ['Clear honey', '#e8b24a', 'clear'],
  ['Clear berry', '#c8354a', 'clear'],
  ['Clear lagoon', '#4aa6d8', 'clear'],
  ['Brass metal', '#b3903f', 'metal'],
  ['Pewter metal', '#8d9296', 'metal'],
  ['Frost shimmer', '#dfe3ea', 'shimmer'],
  ['Moonlight glow', '#e4efc6', 'glow'],
]

export const PALETTE: readonly Colour[] = NAMES.map(([name, hex, finish]) => ({
  id: colourId(name),
  name,
  hex,
  finish,
  aliases: [],
}))

/**
 * The colours that are known: the user's own, then those known from the start, but for what is among the user's under
 * another name (a colour merged into one of theirs does not come back).
 */
export function knownColours(own: readonly Colour[]): Colour[] {
  const ids = new Set<string>(own.map((c) => c.id))
  const names = new Set(own.flatMap((c) => c.aliases))
  return [...own, ...PALETTE.filter((c) => !ids.has(c.id) && !names.has(colourKey(c.name)))]
}
