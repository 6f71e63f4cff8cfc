import type { Part } from '../../../core/catalogue/part.ts'

/** Pieces of a part on the shelf, and how many sets and designs name it. */
export type PartUse = { readonly shelf: number; readonly sets: number; readonly designs: number }
export type PartRow = { readonly part: Part; readonly use: PartUse }
