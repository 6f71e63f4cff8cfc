/** Rows of values as cells of a workbook. */
export const cells = (rows: readonly (readonly (string | number)[])[]) =>
  rows.map((row) => row.map((value) => ({ value })))
