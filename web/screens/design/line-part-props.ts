import type { DesignLine } from '../../../core/design/design.ts'
import type { Change } from '../../../storage/journal-entry.ts'

/** Writes a line in its new form, as one named act. */
export type SetLine = (label: string, next: DesignLine, more?: readonly Change[]) => void

/** What a part of the line's details is given; `without` is the line with one mark taken away. */
export type LinePartProps = {
  readonly line: DesignLine
  readonly set: SetLine
  readonly without: (key: keyof DesignLine) => DesignLine
}
