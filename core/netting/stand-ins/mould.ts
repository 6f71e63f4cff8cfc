import type { Visibility } from '../../design/design.ts'
import type { Rules } from '../../build/house-rules.ts'

/** Whether another mould of the same shape may stand in: never where the structure counts on this one. */
export const mayTakeMould = (visibility: Visibility, { moulds }: Rules): boolean =>
  visibility !== 'structural' && (moulds === 'anywhere' || (moulds === 'where hidden' && visibility === 'hidden'))
