import * as v from 'valibot'
import { countFault, recordFault } from '../records/record-bounds.ts'
import { RECORD_KINDS, schemaOf, type RecordKind, type RecordOf } from '../records/registry.ts'
import { unfitWords } from '../records/unfit-words.ts'
import { fail, ok, type Result } from '../units/result.ts'

export const JOB_FORMAT = 'unfinished-brick-job'
export const JOB_VERSION = 1
/** Browsers keep no text above some 512 MB; what the app keeps stays well below (`REGISTRY`). */
export const MAX_JOB_BYTES = 450 * 1024 * 1024

/** Kinds absent from files written before there were any. */
type LaterKind =
  'versions' | 'pictures' | 'decisions' | 'scenarios' | 'orders' | 'units' | 'makings' | 'entries' | 'sales' | 'notes'

/** Anything that was stored under an id. */
const SpoiltSchema = v.looseObject({ id: v.string() })

const listOf = <K extends RecordKind>(kind: K) => v.array(schemaOf(kind))
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
  scenarios: laterListOf('scenarios'),
  orders: laterListOf('orders'),
  units: laterListOf('units'),
  makings: laterListOf('makings'),
  entries: laterListOf('entries'),
  sales: laterListOf('sales'),
  notes: laterListOf('notes'),
} as const satisfies Record<RecordKind, unknown>

export const JobFileSchema = v.object({
  format: v.literal(JOB_FORMAT),
  version: v.literal(JOB_VERSION),
  /** When it was written, ISO 8601, UTC. */
  savedAt: v.pipe(v.string(), v.isoTimestamp()),
  ...KIND_LISTS,
  /** Stored records that do not fit their schema, as they are: in no count, lost by no export. */
  setAside: v.optional(
    v.pipe(v.array(v.object({ kind: v.picklist(RECORD_KINDS), record: SpoiltSchema })), v.maxLength(1_000_000)),
    [],
  ),
})
export type JobFile = v.InferOutput<typeof JobFileSchema>

export type JobFileError = {
  /** `beyond`: well formed, but more of something than screens can show. */
  readonly code: 'not-json' | 'not-a-job-file' | 'newer-version' | 'damaged' | 'beyond'
  readonly message: string
}

/** How deep values of a job file stand within one another at most; records are some ten deep. */
const MOST_DEPTH = 100

/** How deep the brackets of a JSON text stand within one another; linear, and builds nothing. */
function depthOf(text: string): number {
  let deepest = 0
  let depth = 0
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i)
    if (c === 0x22) {
      for (i++; i < text.length; i++) {
        const d = text.charCodeAt(i)
        if (d === 0x5c) i++
        else if (d === 0x22) break
      }
    } else if (c === 0x7b || c === 0x5b) {
      if (++depth > deepest) deepest = depth
    } else if (c === 0x7d || c === 0x5d) depth--
  }
  return deepest
}

/** Whether a text means to be a job file; says nothing of whether it can be read. */
export const looksLikeJobFile = (text: string): boolean =>
  /^\ufeff?\s*\{/.test(text) && text.slice(0, 500).includes(JOB_FORMAT)

/** Reads a job file's text. A file that is damaged, foreign or newer is refused with what to do; nothing is half read. */
export function readJobFile(text: string): Result<JobFile, JobFileError> {
  if (depthOf(text) > MOST_DEPTH)
    return fail({
      code: 'beyond',
      message: `Values in the file stand within one another more than ${MOST_DEPTH} deep, which no job file does. Nothing was restored.`,
    })
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
      message: `The file is of version ${String(header.output.version).slice(0, 20)}; this app reads up to ${JOB_VERSION}. Update the app, then restore it.`,
    })
  const parsed = v.safeParse(JobFileSchema, value)
  if (!parsed.success) {
    const issue = parsed.issues[0]
    const where = (v.getDotPath(issue) ?? 'its root').slice(0, 100)
    return fail({ code: 'damaged', message: `The file is damaged at ${where}: ${whyDamaged(value, issue)}` })
  }
  const fault = jobFault(parsed.output)
  return fault === undefined ? ok(parsed.output) : fail({ code: 'beyond', message: `${fault} Nothing was restored.` })
}

/** What is wrong with a value of a file, in words and never longer than a few lines. */
function whyDamaged(value: unknown, issue: v.BaseIssue<unknown>): string {
  const [kind, at, ...path] = issue.path ?? []
  if (kind && at && path.length > 0 && RECORD_KINDS.includes(kind.key as RecordKind))
    return `${unfitWords(kind.key as RecordKind, at.value, { ...issue, path: path as never })} Use another backup.`
  return `${issue.message.slice(0, 200)}. Use another backup.`
}

/** What in a file that fits its schema is more than screens can show; undefined when nothing is. */
function jobFault(job: JobFile): string | undefined {
  for (const kind of RECORD_KINDS) {
    const records = job[kind] as readonly RecordOf<RecordKind>[]
    const ids = new Set<string>()
    const many = countFault(kind, records.length + job.setAside.filter((s) => s.kind === kind).length)
    if (many !== undefined) return many
    for (const record of records) {
      const fault = recordFault(kind, record as never)
      if (fault !== undefined) return fault
      if (ids.has(record.id)) return `The id “${record.id.slice(0, 80)}” stands twice among the ${kind}.`
      ids.add(record.id)
    }
  }
  return undefined
}

/** Records that are written as one text. */
const AT_ONCE = 500

/**
 * The text of a job file in pieces that together are its JSON: the whole may be longer than one text can be. Equal files
 * give equal texts.
 */
export function* jobFileText(file: JobFile): Generator<string> {
  const lists = [...RECORD_KINDS, 'setAside'] as const
  const { format, version, savedAt } = file
  yield `${JSON.stringify({ format, version, savedAt }).slice(0, -1)}`
  for (const list of lists) {
    yield `,${JSON.stringify(list)}:[`
    const records = file[list] as readonly unknown[]
    for (let from = 0; from < records.length; from += AT_ONCE) {
      const text = JSON.stringify(records.slice(from, from + AT_ONCE)).slice(1, -1)
      yield from === 0 ? text : `,${text}`
    }
    yield ']'
  }
  yield '}'
}
