import type { ItemKey } from '../catalogue/item.ts'
import type { CopyId, HoldingId } from '../units/ids.ts'

/** Where pieces of a count come from, as far as shelf and boxes need to know. */
type DrawnFrom =
  | { readonly kind: 'shelf'; readonly holding: HoldingId }
  | { readonly kind: 'copy'; readonly copy: CopyId }
  | { readonly kind: 'built' }

/** What a count draws from holdings and copies, line by line. */
export type Drawn = {
  readonly lines: readonly {
    readonly pegs: readonly { readonly source: DrawnFrom; readonly item: ItemKey; readonly qty: number }[]
  }[]
}
