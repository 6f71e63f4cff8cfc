import type { Part } from '../catalogue/part.ts'
import { STATED_CONDITIONS, type StatedCondition } from '../units/condition.ts'
import { nameKey, type PlaceId } from '../units/ids.ts'
import { readLength } from '../units/read-length.ts'
import { readQuantity } from '../units/read-quantity.ts'
import { ok, refuse, type Fault, type Result } from '../units/result.ts'
import type { Holding } from './holding.ts'
import type { Place } from './place.ts'

/** Cells of a holding that are edited as text. */
export const HOLDING_CELLS = ['qty', 'place', 'condition', 'length'] as const
export type HoldingCell = (typeof HOLDING_CELLS)[number]

/** What an edited cell comes to: a count, a move, or the holding with another property. */
export type HoldingEdit =
  | { readonly kind: 'count'; readonly qty: number; readonly estimate: boolean }
  | { readonly kind: 'move'; readonly to: PlaceId }
  | { readonly kind: 'change'; readonly next: Holding }

export type HoldingFault = 'quantity' | 'place' | 'condition' | 'length' | 'no length of its own'

/** Families whose pieces have a length of their own. */
const BY_LENGTH: ReadonlySet<string> = new Set(['hose', 'string', 'bar', 'rod'])

/** A cell's text as it is edited: an estimate as "~60", a length with its unit. */
export function holdingText(holding: Holding, cell: HoldingCell, placeName: string): string {
  if (cell === 'qty') return holding.estimate ? `~${holding.qty}` : String(holding.qty)
  if (cell === 'place') return placeName
  if (cell === 'length') return holding.length === undefined ? '' : `${holding.length} mm`
  return holding.condition
}

/**
 * What a text typed or pasted into a holding's cell means, or what is wrong with it and what would do. Places are called
 * by their whole name, or by a beginning that only one of them has; conditions by a beginning. An empty length is the
 * name's; an empty condition is not stated.
 */
export function editHolding(
  holding: Holding,
  cell: HoldingCell,
  text: string,
  { places, part }: { readonly places: readonly Pick<Place, 'id' | 'name'>[]; readonly part: Part },
): Result<HoldingEdit, Fault<HoldingFault>> {
  const word = text.trim()
  switch (cell) {
    case 'qty': {
      const read = readQuantity(word)
      if (!read.ok) return refuse('quantity', read.error.message)
      return ok({ kind: 'count', qty: read.value.qty, estimate: read.value.estimate })
    }
    case 'place': {
      const place = placeCalled(word, places)
      if (place) return ok({ kind: 'move', to: place.id })
      return refuse(
        'place',
        `No single place is called "${word.slice(0, 60)}". Write one's whole name, or make it first.`,
      )
    }
    case 'condition': {
      const meant = conditionCalled(word.toLowerCase())
      if (meant) return ok({ kind: 'change', next: { ...holding, condition: meant } })
      return refuse('condition', 'new, used, worn or not stated; n, u, w or nothing will do')
    }
    case 'length': {
      const { length: _, ...bare } = holding
      if (word === '') return ok({ kind: 'change', next: bare })
      if (!BY_LENGTH.has(part.shape.family))
        return refuse('no length of its own', 'Only hose, string, bars and rods have a length of their own.')
      const read = readLength(word, 'mm')
      return read.ok
        ? ok({ kind: 'change', next: { ...bare, length: read.value } })
        : refuse('length', read.error.message)
    }
  }
}

function placeCalled<P extends Pick<Place, 'name'>>(text: string, places: readonly P[]): P | undefined {
  const key = nameKey(text)
  if (key === '') return undefined
  const [first, ...more] = places.filter((p) => nameKey(p.name) === key)
  if (first) return more.length === 0 ? first : undefined
  const [only, ...others] = places.filter((p) => nameKey(p.name).startsWith(key))
  return others.length === 0 ? only : undefined
}

const conditionCalled = (word: string): StatedCondition | undefined =>
  word === '' ? 'not stated' : (STATED_CONDITIONS.find((c) => c === word) ?? beginning(word))

/** "n" is new, "no" not stated: new is what most mean by its letter. */
const beginning = (word: string): StatedCondition | undefined => STATED_CONDITIONS.find((c) => c.startsWith(word))
