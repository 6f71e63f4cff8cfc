/** One way to cover a required piece, items by number. */
export type Option = {
  readonly uses: readonly { readonly item: number; readonly qty: number }[]
  readonly compromise: number
}
/** Lines that accept the same: so many pieces, each covered by one of the options. */
export type Need = { readonly qty: number; readonly options: readonly Option[] }
/** What there is of an item, by rank, lowest first. */
export type Stock = { readonly tiers: readonly { readonly rank: number; readonly qty: number }[] }

/** Required pieces covered per need and option. */
export type GroupPlan = { readonly cover: readonly (readonly number[])[]; readonly proven: boolean }
