import * as v from 'valibot'
import { hash53 } from './hash.ts'

/** Branded ids: plain strings with a prefix that says the record kind, checked where data enters. */
type Id<P extends string> = string & { readonly __id: P }

const idSchema = <P extends string>(prefix: P) =>
  v.pipe(
    v.string(),
    v.maxLength(200),
    v.startsWith(prefix, `an id that begins with "${prefix}" is expected`),
    v.transform((s) => s as Id<P>),
  )

export type PartId = Id<'p-'>
export type ColourId = Id<'c-'>
export type SetId = Id<'s-'>
export type CopyId = Id<'y-'>
export type PlaceId = Id<'l-'>
export type HoldingId = Id<'h-'>
export type BuildId = Id<'b-'>
export type ModuleId = Id<'m-'>
export type LineId = Id<'n-'>
export type VersionId = Id<'v-'>
export type DecisionId = Id<'d-'>
export type ScenarioId = Id<'w-'>
export type OrderId = Id<'r-'>
export type UnitId = Id<'u-'>
export type EntryId = Id<'e-'>
export type SaleId = Id<'z-'>
export type NoteId = Id<'k-'>

export const PartIdSchema = idSchema('p-')
export const ColourIdSchema = idSchema('c-')
export const SetIdSchema = idSchema('s-')
export const CopyIdSchema = idSchema('y-')
export const PlaceIdSchema = idSchema('l-')
export const HoldingIdSchema = idSchema('h-')
export const BuildIdSchema = idSchema('b-')
export const ModuleIdSchema = idSchema('m-')
export const LineIdSchema = idSchema('n-')
export const VersionIdSchema = idSchema('v-')
export const DecisionIdSchema = idSchema('d-')
export const ScenarioIdSchema = idSchema('w-')
export const OrderIdSchema = idSchema('r-')
export const UnitIdSchema = idSchema('u-')
export const EntryIdSchema = idSchema('e-')
export const SaleIdSchema = idSchema('z-')
export const NoteIdSchema = idSchema('k-')

const MOST_SLUG = 120

/** Lower-case words joined by hyphens, for ids made from names; never empty. */
export function slug(text: string): string {
  const s = text
    .normalize('NFKD')
    .replace(/[\u0300-\u036f]/g, '')
    .toLowerCase()
    .replace(/×/g, 'x')
    .replace(/°/g, 'deg')
    .replace(/[^\p{L}\p{N}]+/gu, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, MOST_SLUG)
  return s === '' ? 'unnamed' : s
}

/** The form in which names of places, sets, stages and shops are the same: Unicode's composed form, spaces, case. */
export const nameKey = (name: string): string => name.normalize('NFC').replace(/\s+/g, ' ').trim().toLowerCase()

/** Signs that a slug drops though they tell names apart: any but spaces and those that only set words off. */
const TELLING = /[^\p{L}\p{N}\s\-_.,;:/()'"’“”×°]|^[-−]|[-−]$|\p{N}[.,/:]\p{N}/u

/**
 * A text for an id that two names share only where they are the same but for spaces, case and what sets words off: the
 * slug where that tells all of the name, else a slug with a hash of the name.
 */
export function idText(name: string): string {
  const key = nameKey(name)
  const told = slug(key)
  // Accents and signs that stand for others (½) are more than a slug tells.
  const whole = key.length <= MOST_SLUG && key === key.normalize('NFKD') && !TELLING.test(key) && told !== 'unnamed'
  return whole ? told : `${told.slice(0, 100)}~${hash53(key, 3).toString(36)}`
}

/** An id for a new record by its name: `prefix` and the name's text, or a fresh one where another record has that. */
export function freeId(prefix: string, name: string, taken: ReadonlySet<string>, fresh: () => string): string {
  const id = prefix + idText(name)
  return taken.has(id) ? prefix + fresh() : id
}

export const partId = (name: string): PartId => `p-${idText(name)}` as PartId
export const colourId = (name: string): ColourId => `c-${idText(name)}` as ColourId

/** The part id that versions before 0.2 gave a name; several names may share one. */
export const olderPartId = (name: string): PartId => `p-${slug(name)}` as PartId
