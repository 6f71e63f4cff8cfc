import type { Build } from '../build/build.ts'
import { defaultRules } from '../build/house-rules.ts'
import { splitItemKey } from '../catalogue/item.ts'
import type { Part } from '../catalogue/part.ts'
import type { Colour } from '../colours/colour.ts'
import type { Design, Module } from '../design/design.ts'
import type { DonorSet } from '../donors/donor-set.ts'
import { withheldModules } from '../settling/build-sheet.ts'
import type { ColourId, PartId } from '../units/ids.ts'
import { JOB_FORMAT, JOB_VERSION, type JobFile } from './job-file.ts'

/**
 * A design as a part of a job file, to be shared: the design, the parts and colours it names, and the sets it was begun
 * from. Without modules that their licence forbids to share, without notes, prices, rules, shelf and all else of the user's.
 */
export function designPart(
  build: Pick<Build, 'id' | 'name' | 'currency' | 'provenance'>,
  design: Design,
  known: { readonly parts: readonly Part[]; readonly colours: readonly Colour[]; readonly sets: readonly DonorSet[] },
  savedAt: string,
): JobFile {
  const withheld = withheldModules(design, build.provenance)
  const modules = design.modules
    .filter((m) => !withheld.has(m.id))
    .map((m): Module => {
      // Finished models are the user's own, and a picture is a record of its own.
      const { built: _, note: __, picture: ___, pair, risks, lines, ...bare } = m
      return {
        ...bare,
        ...(pair !== undefined && !withheld.has(pair) && { pair }),
        ...(m.provenance && { provenance: unpriced(m.provenance) }),
        ...(risks && { risks: risks.map(({ note: ____, ...risk }) => risk) }),
        // What a print costs is what the user was quoted.
        lines: lines.map(({ note: _____, print: ______, ...line }) => line),
      }
    })
  const shared: Design = {
    id: design.id,
    modules,
    ...(design.colourway !== undefined && { colourway: design.colourway }),
    ...(design.colourways && {
      colourways: design.colourways.map((way) => ({
        ...way,
        colours: way.colours.filter((c) => c.module === undefined || !withheld.has(c.module)),
      })),
    }),
  }
  const named = new Set<PartId>()
  const coloured = new Set<ColourId>()
  const name = (item: Parameters<typeof splitItemKey>[0]) => {
    const { part, colour } = splitItemKey(item)
    named.add(part)
    coloured.add(colour)
  }
  const begun = new Set(modules.flatMap((m) => (m.origin?.kind === 'donor' ? [m.origin.set] : [])))
  const sets = known.sets.filter((s) => begun.has(s.id)).map(({ retail: _, note: __, ...set }): DonorSet => set)
  for (const m of modules) {
    for (const l of m.lines) {
      name(l.item)
      for (const uses of l.instead ?? []) for (const u of uses) name(u.item)
      if (l.meanwhile !== undefined) name(l.meanwhile)
      for (const c of l.palette ?? []) coloured.add(c)
    }
    for (const c of m.colours ?? []) coloured.add(c.from).add(c.to)
    if (m.origin?.kind === 'donor') for (const c of m.origin.contents) name(c.item)
  }
  for (const way of shared.colourways ?? []) for (const c of way.colours) coloured.add(c.from).add(c.to)
  for (const s of sets) for (const l of s.lines) name(l.item)
  const { provenance } = build
  return {
    ...{ format: JOB_FORMAT, version: JOB_VERSION, savedAt },
    parts: known.parts.filter((p) => named.has(p.id)),
    colours: known.colours.filter((c) => coloured.has(c.id)),
    sets,
    designs: [shared],
    builds: [
      {
        ...{ id: build.id, name: build.name, note: '', currency: build.currency, rules: defaultRules },
        ...(provenance && { provenance: unpriced(provenance) }),
      },
    ],
    ...{ copies: [], places: [], holdings: [], shops: [], offers: [], plans: [], versions: [], pictures: [] },
    ...{ decisions: [], scenarios: [], orders: [], units: [], makings: [], entries: [], sales: [], notes: [] },
    setAside: [],
  }
}

/** Credits without what was paid for the plan. */
function unpriced<P extends { readonly price?: unknown }>({ price: _, ...plan }: P): Omit<P, 'price'> {
  return plan
}
