import * as v from 'valibot'

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
    .slice(0, 120)
  return s === '' ? 'unnamed' : s
}

export const partId = (name: string): PartId => `p-${slug(name)}` as PartId
export const colourId = (name: string): ColourId => `c-${slug(name)}` as ColourId
