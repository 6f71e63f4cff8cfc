import { colourKey, type Colour } from '../../../core/colours/colour.ts'
import { newColour } from '../../../core/colours/new-colour.ts'
import type { ListKind } from '../../../core/formats/list-fields.ts'
import type { ShelfMode } from '../../../core/formats/list-import.ts'
import type { ListReading } from '../../../core/formats/list-rows.ts'
import { colourId, type BuildId, type ColourId, type PartId } from '../../../core/units/ids.ts'
import { currency } from '../../../core/units/money.ts'
import { listWorker } from '../../../workers/list-client.ts'
import { nowIso } from '../../store/database.ts'
import { thisTab } from '../../store/tab.ts'
import { performed } from '../../store/perform.ts'
import { caughtUp, type RecordsView } from '../../store/records.tsx'

/** What an unknown colour name means: rows left out, a new colour, or a known one. */
export type ColourChoice = 'leave' | 'new' | ColourId

export type ImportRequest = {
  readonly kind: ListKind
  readonly build: BuildId | null
  /** Names and codes of colours that the rows use. */
  readonly colours: ListReading['colours']
  readonly choices: ReadonlyMap<string, ColourChoice>
  readonly same: ReadonlyMap<PartId, string>
  readonly name: string
  readonly place: string
  readonly mode: ShelfMode
  readonly addCopy: boolean
  readonly edition: number
  readonly records: RecordsView
}

/** Writes the accepted rows in one act; colour decisions are remembered as aliases. True when it was written. */
export async function runImport(request: ImportRequest): Promise<boolean> {
  const { kind, build, records } = request
  const { colours, decided } = decideColours(request)
  const owner = records.builds.find((b) => b.id === build)
  const learnt = new Set(colours.map((c) => c.id))
  const stored = await listWorker().call('store', {
    at: nowIso(),
    by: await thisTab(),
    edition: request.edition,
    colours: { before: records.colours.filter((c) => learnt.has(c.id)), after: colours },
    order: {
      kind,
      build,
      name: request.name,
      addCopy: request.addCopy,
      place: request.place,
      mode: request.mode,
      currency: owner?.currency ?? currency('EUR'),
      country: owner?.rules.shipTo ?? 'AT',
      colours: decided,
      parts: records.parts,
      sameParts: request.same,
      shops: kind === 'offers' ? records.shops : [],
      design: kind === 'design' ? (records.designs.find((d) => d.id === build) ?? null) : null,
    },
  })
  if (stored.ok) await caughtUp()
  return performed(stored.ok ? stored.value.label : '', stored.ok ? { ok: true, value: stored.value.entry } : stored)
}

/** Colour by key for every name in the rows, and the colour records that are new or learnt a name or code. */
function decideColours({ colours: named, choices, records }: ImportRequest): {
  colours: Colour[]
  decided: Map<string, ColourId>
} {
  const changed = new Map<ColourId, Colour>()
  const decided = new Map<string, ColourId>()
  const nameOf = new Map(named.map(({ name }) => [colourKey(name), name]))
  for (const [key, choice] of choices) {
    if (choice === 'leave') continue
    if (choice === 'new') {
      const name = nameOf.get(key) ?? key
      const id = colourId(name)
      if (!records.colourById.has(id)) changed.set(id, newColour(name))
      decided.set(key, id)
    } else {
      const colour = changed.get(choice) ?? records.colourById.get(choice)
      if (!colour) continue
      changed.set(choice, { ...colour, aliases: [...new Set([...colour.aliases, key])] })
      decided.set(key, choice)
    }
  }
  // Built-in colours become part of the user's data once used, so that an exported job file carries them.
  const own = new Set(records.colours.map((c) => c.id))
  for (const key of nameOf.keys()) {
    const colour = records.colourByName.get(key)
    if (!colour || decided.has(key)) continue
    decided.set(key, colour.id)
    if (!own.has(colour.id) && !changed.has(colour.id)) changed.set(colour.id, colour)
  }
  // A code beside a name is one more name of that colour.
  const codes = new Map(named.flatMap(({ name, code }) => (code === '' ? [] : [[code, colourKey(name)]])))
  for (const [code, key] of codes) {
    const id = decided.get(key)
    const colour = id && (changed.get(id) ?? records.colourById.get(id))
    if (colour && !records.colourByName.has(code))
      changed.set(colour.id, { ...colour, aliases: [...new Set([...colour.aliases, code])] })
  }
  return { colours: [...changed.values()], decided }
}
