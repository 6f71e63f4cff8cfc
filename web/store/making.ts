import { useMemo } from 'react'
import { toast } from 'sonner'
import type { Copy } from '../../core/donors/donor-set.ts'
import { explode } from '../../core/design/explode.ts'
import { wantedOf } from '../../core/netting/sheet.ts'
import { newMaking, type Making } from '../../core/making/making.ts'
import { OUT_OF_MODELS, type MakingChange, type MakingRefusal } from '../../core/making/put-in.ts'
import { newUnit, type Unit } from '../../core/making/unit.ts'
import { atWork, type AtWork } from '../../core/making/at-work.ts'
import { worksOf } from '../../core/making/works.ts'
import type { Place } from '../../core/shelf/place.ts'
import type { ColourId } from '../../core/units/ids.ts'
import type { Result } from '../../core/units/result.ts'
import type { Change } from '../../storage/journal-entry.ts'
import { add, edit, editAsSeen, shelve, takeForBuild } from '../../storage/journal.ts'
import { perform } from './perform.ts'
import { useRecords, type RecordsView } from './records.tsx'
import type { BuildTally } from './tallies.ts'

/** What is being built of one build, as it is now. */
export function useAtWork({ now, result }: BuildTally): AtWork {
  const { units: all, makings, holdings, copies, sets, places } = useRecords()
  const { design, parts, build } = now
  const donorsOnly = build.rules.sources === 'donors'
  const { groups, lines } = result
  // Counts come anew after every tick: what groups took is told by its content.
  const took = JSON.stringify([...groups])
  const works = useMemo(() => {
    const known = new Map(JSON.parse(took) as [string, ColourId][])
    return worksOf(design, explode(design, { parts }), (r) => wantedOf(r, known))
  }, [design, parts, took])
  const units = useMemo(() => all.filter((u) => u.build === build.id), [all, build.id])
  const stored = makings.find((m) => m.id === build.id)
  const making = useMemo(() => stored ?? newMaking(build.id), [stored, build.id])
  return useMemo(
    () =>
      atWork({ build: build.id, works, units, making, lines, stock: { holdings, copies, sets, places, donorsOnly } }),
    [build.id, donorsOnly, works, units, making, lines, holdings, copies, sets, places],
  )
}

/** Units as they are written: those that are new begin empty, so that another tab's are never written over. */
export const unitChanges = (before: readonly Unit[], units: readonly Unit[]): Change[] =>
  units.flatMap((unit): Change[] => {
    const known = before.find((u) => u.id === unit.id)
    if (known) return [edit('units', known, unit)]
    const empty = newUnit(unit.build, unit.path, unit.repeat)
    return [add('units', [empty]), edit('units', empty, unit)]
  })

/** What an act at the table writes: units, what leaves the shelf and copies, and what comes back. */
export const makingChanges = (
  { units, takes, lots, copies }: MakingChange,
  records: { readonly units: readonly Unit[]; readonly copies: readonly Copy[] },
): Change[] => [
  ...unitChanges(records.units, units),
  ...(copies.length > 0 ? editAsSeen('copies', records.copies, copies) : []),
  ...(takes.length > 0 ? [takeForBuild(takes)] : []),
  ...placesFor(lots, [OUT_OF_MODELS]),
  ...(lots.length > 0 ? [shelve(lots)] : []),
]

/** Places of the app's own that pieces are put into: made where they are not there. */
const placesFor = (lots: MakingChange['lots'], places: readonly Place[]): Change[] => {
  const used = places.filter((p) => lots.some((l) => l.place === p.id))
  return used.length > 0 ? [add('places', used)] : []
}

/** Does something at the table that may be refused, and says why where it is. */
export function doMaking(
  label: string,
  done: Result<MakingChange, MakingRefusal>,
  records: Pick<RecordsView, 'units' | 'copies'>,
  { more = [], quiet = true }: { readonly more?: readonly Change[]; readonly quiet?: boolean } = {},
): Promise<boolean> {
  if (done.ok) return perform(label, [...makingChanges(done.value, records), ...more], { quiet })
  toast.error(done.error.message, { duration: 15_000 })
  return Promise.resolve(false)
}

/** Writes what is said of making a build, beside its units. */
export const saveMaking = (label: string, from: Making, next: Making, quiet = true): Promise<boolean> =>
  perform(label, makingEdit(from, next), { quiet })

export const makingEdit = (from: Making, next: Making): Change[] => [
  add('makings', [newMaking(from.id)]),
  edit('makings', from, next),
]

/** Writes what is said of one unit: times and exceptions. */
export const saveUnit = (label: string, before: readonly Unit[], next: Unit, quiet = true): Promise<boolean> =>
  perform(label, unitChanges(before, [next]), { quiet })
