import * as v from 'valibot'
import { PartSchema } from '../catalogue/part.ts'
import { ColourSchema } from '../colours/colour.ts'
import { DesignSchema } from '../design/design.ts'
import { DesignVersionSchema, PictureSchema } from '../design/version.ts'
import { CopySchema, DonorSetSchema } from '../donors/donor-set.ts'
import { BuildSchema } from '../planning/build.ts'
import { DecisionSchema } from '../planning/decision.ts'
import { KeptPlanSchema } from '../planning/kept-plan.ts'
import { OfferSchema, ShopSchema } from '../planning/market.ts'
import { HoldingSchema } from '../shelf/holding.ts'
import { PlaceSchema } from '../shelf/place.ts'
import { fail, ok, type Result } from '../units/result.ts'

export const JOB_FORMAT = 'unfinished-brick-job'
export const JOB_VERSION = 1
export const MAX_JOB_BYTES = 100 * 1024 * 1024

/** Every record kind with its schema: what a job file carries and the browser keeps. */
export const RECORD_SCHEMAS = {
  parts: PartSchema,
  colours: ColourSchema,
  sets: DonorSetSchema,
  copies: CopySchema,
  places: PlaceSchema,
  holdings: HoldingSchema,
  builds: BuildSchema,
  designs: DesignSchema,
  shops: ShopSchema,
  offers: OfferSchema,
  plans: KeptPlanSchema,
  versions: DesignVersionSchema,
  pictures: PictureSchema,
  decisions: DecisionSchema,
} as const

export type RecordKind = keyof typeof RECORD_SCHEMAS
export const RECORD_KINDS = Object.keys(RECORD_SCHEMAS) as readonly RecordKind[]
export type RecordOf<K extends RecordKind> = v.InferOutput<(typeof RECORD_SCHEMAS)[K]>
export type Records = { readonly [K in RecordKind]: readonly RecordOf<K>[] }

export const JobFileSchema = v.object({
  format: v.literal(JOB_FORMAT),
  version: v.literal(JOB_VERSION),
  /** When it was written, ISO 8601, UTC. */
  savedAt: v.pipe(v.string(), v.isoTimestamp()),
  parts: v.array(PartSchema),
  colours: v.array(ColourSchema),
  sets: v.array(DonorSetSchema),
  copies: v.array(CopySchema),
  places: v.array(PlaceSchema),
  holdings: v.array(HoldingSchema),
  builds: v.array(BuildSchema),
  designs: v.array(DesignSchema),
  shops: v.array(ShopSchema),
  offers: v.array(OfferSchema),
  plans: v.array(KeptPlanSchema),
  /** Absent from files written before there were any. */
  versions: v.optional(v.array(DesignVersionSchema), []),
  pictures: v.optional(v.array(PictureSchema), []),
  decisions: v.optional(v.array(DecisionSchema), []),
})
export type JobFile = v.InferOutput<typeof JobFileSchema>

export type JobFileError = {
  readonly code: 'not-json' | 'not-a-job-file' | 'newer-version' | 'damaged'
  readonly message: string
}

/** Whether a text means to be a job file; says nothing of whether it can be read. */
export const looksLikeJobFile = (text: string): boolean =>
  /^\ufeff?\s*\{/.test(text) && text.slice(0, 500).includes(JOB_FORMAT)

/** Reads a job file's text. A file that is damaged, foreign or newer is refused with what to do; nothing is half read. */
export function readJobFile(text: string): Result<JobFile, JobFileError> {
  let value: unknown
  try {
    value = JSON.parse(text)
  } catch {
    return fail({ code: 'not-json', message: 'The file is not complete JSON. Download or copy it again and retry.' })
  }
  const header = v.safeParse(v.object({ format: v.literal(JOB_FORMAT), version: v.number() }), value)
  if (!header.success)
    return fail({
      code: 'not-a-job-file',
      message: 'This is not a job file of Unfinished Brick. Choose one that the Data screen exported.',
    })
  if (header.output.version > JOB_VERSION)
    return fail({
      code: 'newer-version',
      message: `The file is of version ${header.output.version}; this app reads up to ${JOB_VERSION}. Update the app, then restore it.`,
    })
  const parsed = v.safeParse(JobFileSchema, value)
  if (!parsed.success) {
    const issue = parsed.issues[0]
    return fail({
      code: 'damaged',
      message: `The file is damaged at ${v.getDotPath(issue) ?? 'its root'}: ${issue.message}. Use another backup.`,
    })
  }
  return ok(parsed.output)
}
