import { plural } from '../../core/units/numbers.ts'

/** What a sum of orders leaves out: the shipping of so many shops; empty for none. */
export const withoutShippingWords = (shops: number): string =>
  shops === 0 ? '' : `without the shipping of ${plural(shops, 'shop')}, which is not known`
