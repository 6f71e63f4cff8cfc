import * as v from 'valibot'

/** Families of shapes, in our own plain English; `unknown` when a name says nothing the grammar knows. */
export const FAMILIES = [
  'brick',
  'plate',
  'tile',
  'slope',
  'inverted slope',
  'wedge',
  'wedge plate',
  'round brick',
  'round plate',
  'round tile',
  'cone',
  'dome',
  'arch',
  'panel',
  'door',
  'window',
  'bar',
  'rod',
  'hose',
  'string',
  'plant',
  'bracket',
  'hinge',
  'clip plate',
  'base plate',
  'fence',
  'ladder',
  'wheel',
  'gear',
  'figure head',
  'figure hair',
  'figure hat',
  'figure torso',
  'figure arm',
  'figure legs',
  'accessory',
  'sticker sheet',
  'sticker',
  'unknown',
] as const
export type Family = (typeof FAMILIES)[number]

export const ShapeSchema = v.object({
  family: v.picklist(FAMILIES),
  /** Footprint in studs, the smaller first; 0 when the name gives none. Half studs are allowed (1.5). */
  width: v.pipe(v.number(), v.minValue(0), v.maxValue(96)),
  length: v.pipe(v.number(), v.minValue(0), v.maxValue(96)),
  /** Height in plates of 3.2 mm. */
  height: v.pipe(v.number(), v.minValue(0), v.maxValue(120)),
  hand: v.picklist(['none', 'left', 'right']),
  /** Slope angle in degrees, when the name gives one. */
  angle: v.optional(v.pipe(v.number(), v.minValue(1), v.maxValue(90))),
  /** Estimated mass of one piece, integer milligrams. */
  mass: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(5_000_000)),
})
export type Shape = v.InferOutput<typeof ShapeSchema>
export type Hand = Shape['hand']
