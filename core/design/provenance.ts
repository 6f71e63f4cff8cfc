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

export type PermissionConflict = {
  readonly purpose: Purpose
  readonly author: string
  readonly licence: string
  /** The module whose instructions do not permit it; the build's own plan when left out. */
  readonly module?: string
}

/**
 * What the build is meant for and a plan's licence does not permit: that of the build, and those of modules that follow
 * someone else's. An own design permits everything.
 */
export function permissionConflicts(
  purpose: Purpose | undefined,
  provenance: Provenance | undefined,
  modules: readonly {
    readonly name: string
    readonly provenance?: Provenance | undefined
    readonly later?: boolean | undefined
  }[] = [],
): PermissionConflict[] {
  if (purpose === undefined || purpose === 'keep') return []
  const plans = [
    ...(provenance ? [{ provenance, module: undefined }] : []),
    ...modules.flatMap((m) => (m.provenance && !m.later ? [{ provenance: m.provenance, module: m.name }] : [])),
  ]
  return plans.flatMap(({ provenance: { author, licence, permits }, module }) =>
    permits[purpose] ? [] : [{ purpose, author, licence, ...(module === undefined ? {} : { module }) }],
  )
}

/** What the instructions of a build and of its modules cost in a currency, minor units; other currencies are left out. */
export const instructionsCost = (
  currency: string,
  provenance: Provenance | undefined,
  modules: readonly { readonly provenance?: Provenance | undefined }[],
): number =>
  [provenance, ...modules.map((m) => m.provenance)].reduce(
    (sum, plan) => sum + (plan?.price?.currency === currency ? plan.price.minor : 0),
    0,
  )
