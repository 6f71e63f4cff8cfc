/** Papers of the A series that labels are printed on. */
export const PAPERS = ['A4', 'A5', 'A6'] as const
export type Paper = (typeof PAPERS)[number]

/**
 * A paper's width and height in mm, portrait: A0 is 841 × 1189, each further size the one before halved across its longer
 * side and rounded down (ISO 216:2007).
 */
export function paperSize(paper: Paper): { readonly width: number; readonly height: number } {
  let [width, height] = [841, 1189]
  for (let n = Number(paper.slice(1)); n > 0; n--) [width, height] = [Math.floor(height / 2), width]
  return { width, height }
}

/** Millimetres left free around a sheet: what most printers cannot reach. */
export const EDGE = 8

/** A label as it is printed: what is on it, large and small. */
export type Label = { readonly title: string; readonly lines: readonly string[] }

export type LabelSheet = {
  /** Of one label, mm; tenths at most. */
  readonly width: number
  readonly height: number
  readonly pages: readonly (readonly Label[])[]
}

/**
 * Labels on sheets of a paper, so many columns and rows a sheet, without gaps: they are cut along their lines. Undefined where
 * labels would be smaller than 15 mm either way.
 */
export function labelSheet(
  labels: readonly Label[],
  paper: Paper,
  columns: number,
  rows: number,
): LabelSheet | undefined {
  const { width, height } = paperSize(paper)
  const tenth = (mm: number) => Math.floor(mm * 10) / 10
  const [w, h] = [tenth((width - 2 * EDGE) / columns), tenth((height - 2 * EDGE) / rows)]
  if (!(columns >= 1 && rows >= 1) || w < 15 || h < 15) return undefined
  const pages: Label[][] = []
  for (let at = 0; at < labels.length; at += columns * rows) pages.push(labels.slice(at, at + columns * rows))
  return { width: w, height: h, pages }
}
