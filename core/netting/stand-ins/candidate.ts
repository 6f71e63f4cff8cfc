import type { ItemKey } from '../../catalogue/item.ts'

/** Why a piece stands in for another. */
export const STAND_IN_KINDS = [
  'chosen',
  'colour',
  'instead',
  'length',
  'mould',
  'own',
  'peel',
  'plain',
  'print',
  'split',
  'sticker',
] as const
export type StandInKind = (typeof STAND_IN_KINDS)[number]

/** One way to get a required piece: items used, with its points of compromise. */
export type Candidate = {
  readonly kind: StandInKind | 'exact'
  readonly uses: readonly { readonly item: ItemKey; readonly qty: number }[]
  readonly points: number
}
