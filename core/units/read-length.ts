import { ok, refuse, type Fault, type Result } from './result.ts'
import { STUD_UM } from './length.ts'

/** Millimetres of each unit. */
const UNITS: Readonly<Record<string, number>> = {
  mm: 1,
  cm: 10,
  m: 1000,
  in: 25.4,
  inch: 25.4,
  inches: 25.4,
  '"': 25.4,
  stud: STUD_UM / 1000,
  studs: STUD_UM / 1000,
}

/** The longest piece that anyone cuts, mm. */
const MOST_MM = 10_000

/** Why a text is no length. */
export type LengthFault = 'no length' | 'no unit' | 'not whole' | 'beyond'

/**
 * Reads a length with its unit ("120 mm", "12,5 cm", "15 studs", "4 in") as whole millimetres, inches to the nearest. A
 * bare number is of the unit `bare`, as in the column of a list; it is refused where none is given.
 */
export function readLength(text: string, bare?: 'mm'): Result<number, Fault<LengthFault>> {
  const match = /^\s*(\d{1,9}(?:[.,]\d{1,9})?)\s*([a-z"]*)\s*$/i.exec(text)
  if (!match) return refuse('no length', 'Write a length with its unit, such as 120 mm.')
  const [, number = '', written = ''] = match
  const name = written === '' ? (bare ?? '') : written.toLowerCase()
  const unit = UNITS[name]
  if (unit === undefined) return refuse('no unit', `Say the unit: ${number} mm, cm, in or studs?`)
  const exact = Number(number.replace(',', '.')) * unit
  const mm = Math.round(exact)
  // Metric figures say what they mean: half a millimetre more is another length, not a way to write this one.
  if (/m$/.test(name) && Math.abs(mm - exact) > 1e-6) return refuse('not whole', 'Lengths are whole millimetres.')
  return mm < 1 || mm > MOST_MM ? refuse('beyond', 'Between 1 mm and 10 m.') : ok(mm)
}
