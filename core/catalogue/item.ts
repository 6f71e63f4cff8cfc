import * as v from 'valibot'
import type { ColourId, PartId } from '../units/ids.ts'

/** A part in a colour, with its decoration if it has one: `part|colour` or `part|colour|decoration`. */
export type ItemKey = string & { readonly __item: true }

export const ItemKeySchema = v.pipe(
  v.string(),
  v.maxLength(400),
  v.regex(/^p-[^|]+\|c-[^|]+(\|[^|]+)?$/, 'an item is written part|colour or part|colour|decoration'),
  v.transform((s) => s as ItemKey),
)

export const itemKey = (part: PartId, colour: ColourId, decoration?: string): ItemKey =>
  (decoration ? `${part}|${colour}|${decoration}` : `${part}|${colour}`) as ItemKey

export function splitItemKey(key: ItemKey): { part: PartId; colour: ColourId; decoration: string } {
  const first = key.indexOf('|')
  const second = key.indexOf('|', first + 1)
  return {
    part: key.slice(0, first) as PartId,
    colour: (second < 0 ? key.slice(first + 1) : key.slice(first + 1, second)) as ColourId,
    decoration: second < 0 ? '' : key.slice(second + 1),
  }
}
