import { splitItemKey, type ItemKey } from '../../../core/catalogue/item.ts'
import { searchKey } from '../../../core/colours/colour.ts'
import type { Holding } from '../../../core/shelf/holding.ts'
import type { Place } from '../../../core/shelf/place.ts'
import { once } from '../../../core/units/once.ts'

type Named = { readonly name: string; readonly id?: string }

/** What a holding is found by: its part, colour, decoration and place. Names come again and again; their keys are made once. */
export function searchKeys(
  places: readonly Place[],
  nameItem: (item: ItemKey) => { readonly part: Named; readonly colour: Named },
): (holding: Holding) => string {
  const placeName = new Map(places.map((p) => [p.id, p.name]))
  const keyOf = once(searchKey)
  return ({ item, place }) => {
    const { part, colour } = nameItem(item)
    const { decoration } = splitItemKey(item)
    // Whatever the user calls it, a part is found by its plain name as well.
    const plain = part.id?.slice(2).replace(/-/g, ' ') ?? ''
    const own = keyOf(part.name)
    return [
      own,
      ...(own === keyOf(plain) ? [] : [keyOf(plain)]),
      keyOf(colour.name),
      keyOf(decoration),
      keyOf(placeName.get(place) ?? ''),
    ].join(' ')
  }
}
