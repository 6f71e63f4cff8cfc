import { decimal, readAmount } from '../units/money.ts'
import { ok, refuse, type Fault, type Result } from '../units/result.ts'
import type { Shop } from './shop.ts'

/** Why a text says nothing of shipping. */
export type ShippingFault = 'no weight' | 'no fee' | 'order' | 'too many'

const MOST_BANDS = 20
const MILLIGRAMS: Readonly<Record<string, number>> = { g: 1000, kg: 1_000_000 }
/** "500 g 3.90", "to 2 kg: 6,90 EUR". */
const BAND = /^(?:up\s+)?(?:to\s+)?(\d{1,6}(?:[.,]\d{1,3})?)\s*(k?g)\b\s*[:=–-]?\s*(.+)$/i

/**
 * Shipping by weight as people write it, "500 g 3.90; 2 kg 6.90": each band the heaviest parcel it holds and its fee, lighter
 * ones first. Masses in whole milligrams, fees in minor units of the currency. A heavier parcel must not cost less.
 */
export function readBands(text: string, currency: string): Result<Shop['bands'], Fault<ShippingFault>> {
  const parts = text
    .split(/[;\n]/)
    .map((part) => part.trim())
    .filter((part) => part !== '')
  if (parts.length > MOST_BANDS) return refuse('too many', `At most ${MOST_BANDS} steps.`)
  const bands: { maxMass: number; fee: number }[] = []
  for (const part of parts) {
    const match = BAND.exec(part)
    const mass = Math.round(
      Number((match?.[1] ?? '').replace(',', '.')) * (MILLIGRAMS[(match?.[2] ?? '').toLowerCase()] ?? 0),
    )
    if (!match || !(mass > 0))
      return refuse('no weight', `"${part}" names no weight. Write steps like 500 g 3.90; 2 kg 6.90.`)
    const fee = readAmount(match[3] ?? '', currency, '.')
    const other = fee.ok ? fee : readAmount(match[3] ?? '', currency, ',')
    if (!other.ok || other.value < 0) return refuse('no fee', `"${part}" names no fee in ${currency}.`)
    const before = bands.at(-1)
    if (before && (mass <= before.maxMass || other.value < before.fee))
      return refuse('order', `"${part}" comes after a heavier or dearer step. Write the lightest first.`)
    bands.push({ maxMass: mass, fee: other.value })
  }
  return ok(bands)
}

/** Shipping by weight as `readBands` reads it. */
export const bandsText = (bands: Shop['bands'], currency: string): string =>
  bands
    .map(
      ({ maxMass, fee }) =>
        `${maxMass % 1_000_000 === 0 ? `${maxMass / 1_000_000} kg` : `${maxMass / 1000} g`} ${decimal(fee, currency)}`,
    )
    .join('; ')
