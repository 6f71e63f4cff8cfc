import * as v from 'valibot'
import { BuildIdSchema, VersionIdSchema } from '../units/ids.ts'
import { DesignSchema } from './design.ts'
import { MOST_PIXELS, pictureSize } from './picture-size.ts'

/** A design as it was when it got this name; kept whole, so that it can be returned to. */
export const DesignVersionSchema = v.object({
  id: VersionIdSchema,
  buildId: BuildIdSchema,
  name: v.pipe(v.string(), v.minLength(1), v.maxLength(120)),
  /** ISO 8601, UTC. */
  at: v.pipe(v.string(), v.isoTimestamp()),
  design: DesignSchema,
})
export type DesignVersion = v.InferOutput<typeof DesignVersionSchema>

/** Longest a picture's data may be: the browser shrinks what is larger. */
export const MAX_PICTURE = 700_000

/** A drawing or photo of a module, as a data URL of an image type that runs no script. */
export const PictureSchema = v.object({
  id: v.pipe(v.string(), v.startsWith('i-'), v.maxLength(80)),
  name: v.pipe(v.string(), v.minLength(1), v.maxLength(200)),
  data: v.pipe(
    v.string(),
    v.maxLength(MAX_PICTURE),
    v.regex(/^data:image\/(png|jpeg|webp);base64,[A-Za-z0-9+/=]+$/),
    v.check((data) => {
      const size = pictureSize(data)
      return size !== undefined && size.width <= MOST_PIXELS && size.height <= MOST_PIXELS
    }, `a picture of at most ${MOST_PIXELS} × ${MOST_PIXELS} pixels is expected`),
  ),
})
