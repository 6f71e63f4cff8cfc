import * as v from 'valibot'
import { RECORD_KINDS, RECORD_SCHEMAS, type RecordKind } from '../planning/record-kinds.ts'
import { fail, ok, type Result } from '../units/result.ts'

export const JOB_FORMAT = 'unfinished-brick-job'
export const JOB_VERSION = 1
export const MAX_JOB_BYTES = 100 * 1024 * 1024

/** Kinds absent from files written before there were any. */
type LaterKind = 'versions' | 'pictures' | 'decisions'

/** Anything that was stored under an id. */
const SpoiltSchema = v.looseObject({ id: v.string() })

const listOf = <K extends RecordKind>(kind: K) => v.array(RECORD_SCHEMAS[kind])
const laterListOf = <K extends LaterKind>(kind: K) => v.optional(listOf(kind), [])

const KIND_LISTS = {
  parts: listOf('parts'),
  colours: listOf('colours'),
  sets: listOf('sets'),
  copies: listOf('copies'),
  places: listOf('places'),
  holdings: listOf('holdings'),
  builds: listOf('builds'),
  designs: listOf('designs'),
  shops: listOf('shops'),
  offers: listOf('offers'),
  plans: listOf('plans'),
  versions: laterListOf('versions'),
  pictures: laterListOf('pictures'),
  decisions: laterListOf('decisions'),
} as const satisfies Record<RecordKind, unknown>

export const JobFileSchema = v.object({
  format: v.literal(JOB_FORMAT),
  version: v.literal(JOB_VERSION),
  /** When it was written, ISO 8601, UTC. */
  savedAt: v.pipe(v.string(), v.isoTimestamp()),
  ...KIND_LISTS,
  /** Stored records that do not fit their schema, as they are: in no count, lost by no export. */
  setAside: v.optional(
    v.pipe(v.array(v.object({ kind: v.picklist(RECORD_KINDS), record: SpoiltSchema })), v.maxLength(10_000)),
    [],
  ),
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
