import * as v from 'valibot'
import { MoneySchema } from '../units/money.ts'

/** Whose plan a build follows, what it cost and what its licence permits. */
export const ProvenanceSchema = v.object({
  author: v.pipe(v.string(), v.maxLength(120)),
  licence: v.pipe(v.string(), v.maxLength(200)),
  price: v.optional(MoneySchema),
  /** Building it for oneself is always assumed to be permitted. */
  permits: v.object({ share: v.boolean(), sell: v.boolean() }),
})
export type Provenance = v.InferOutput<typeof ProvenanceSchema>

export const PURPOSES = ['keep', 'share', 'sell'] as const
export type Purpose = (typeof PURPOSES)[number]

export type PermissionConflict = { readonly purpose: Purpose; readonly author: string }

/** What the build is meant for and its plan's licence does not permit; an own design permits everything. */
export function permissionConflict(
  purpose: Purpose | undefined,
  provenance: Provenance | undefined,
): PermissionConflict | undefined {
  if (!provenance || purpose === undefined || purpose === 'keep') return undefined
  return provenance.permits[purpose] ? undefined : { purpose, author: provenance.author }
}
