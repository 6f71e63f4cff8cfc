import { fail, ok, type Result } from './result.ts'
import { STUD_UM } from './length.ts'

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

/** Reads a length with its unit ("120 mm", "12 cm", "15 studs", "4 in") as whole millimetres; a bare number is refused. */
export function readLength(text: string): Result<number, string> {
  const match = /^\s*(\d+(?:[.,]\d+)?)\s*([a-z"]*)\s*$/i.exec(text)
  if (!match) return fail('Write a length with its unit, such as 120 mm.')
  const unit = UNITS[(match[2] ?? '').toLowerCase()]
  if (unit === undefined) return fail(`Say the unit: ${match[1] ?? ''} mm, cm, in or studs?`)
  const mm = Math.round(Number((match[1] ?? '').replace(',', '.')) * unit)
  return mm < 1 || mm > 10_000 ? fail('Between 1 mm and 10 m.') : ok(mm)
}
