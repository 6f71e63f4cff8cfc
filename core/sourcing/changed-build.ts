import type { Build } from '../build/build.ts'
import type { Decision } from '../build/decision.ts'
import type { Changes } from '../build/scenario.ts'
import { itemKey, splitItemKey } from '../catalogue/item.ts'
import { withLines } from '../design/arrange-modules.ts'
import type { Design } from '../design/design.ts'
import type { DesignVersion } from '../design/version.ts'
import type { Copy } from '../donors/donor-set.ts'
import type { Snapshot } from '../netting/snapshot.ts'
import type { CopyId, DecisionId } from '../units/ids.ts'
import { fail, ok, type Result } from '../units/result.ts'
import { said } from '../units/said.ts'
import { wantedCopies } from './wanted-copies.ts'

/** Why changes cannot be made to a build as it is: what they name is gone. */
export type ChangeFault = {
  readonly code: 'version gone' | 'colourway gone' | 'module gone' | 'line gone' | 'copies gone' | 'decision gone'
  /** In words, with the remedy. */
  readonly message: string
}

/** What changes make of a build. */
export type ChangedBuild = {
  readonly build: Build
  readonly design: Design
  /** Copies that serve the build; those beyond the wanted ones are new. */
  readonly copies: readonly Copy[]
  readonly decisions: readonly Decision[]
}

/** Further copies like a wanted one, each with an id that comes after it: purchases know all by the first. */
export const furtherCopies = (first: Copy, wanted: number, more: number, fresh: () => string): Copy[] =>
  Array.from({ length: Math.max(0, more) }, (_, k) => ({
    ...first,
    id: `${first.id}~${fresh()}` as CopyId,
    label: `${first.label}, no. ${wanted + k + 1}`.slice(0, 200),
  }))

const gone = (code: ChangeFault['code'], what: string): Result<never, ChangeFault> =>
  fail({ code, message: `${what} is gone. Take that change out, or choose another.` })

/** A design with what changes say of it; a fault where they name what it has not. */
function changedDesign(
  design: Design,
  { version, colourway, modules = [], freed, recoloured = [], leftOut = [] }: Changes,
  versions: readonly DesignVersion[],
): Result<Design, ChangeFault> {
  const stored = version === undefined ? undefined : versions.find((v) => v.id === version)
  if (version !== undefined && !stored) return gone('version gone', 'The design version of this scenario')
  let next: Design = stored ? { ...stored.design, id: design.id } : design
  if (colourway === null) {
    const { colourway: _, ...drawn } = next
    next = drawn
  } else if (colourway !== undefined) {
    if (!next.colourways?.some((c) => c.id === colourway))
      return gone('colourway gone', 'The colourway of this scenario')
    next = { ...next, colourway }
  }
  const known = new Set(next.modules.map((m) => m.id))
  if (modules.some((m) => !known.has(m.module))) return gone('module gone', 'A module that this scenario changes')
  const lines = new Set(next.modules.flatMap((m) => m.lines.map((l) => l.id)))
  const named = [...leftOut, ...recoloured.flatMap((r) => r.lines)]
  if (named.some((id) => !lines.has(id))) return gone('line gone', 'A line that this scenario changes')
  const changes = new Map(modules.map(({ module, ...change }) => [module, change]))
  const colourOf = new Map(recoloured.flatMap((r) => r.lines.map((id) => [id, r.colour] as const)))
  const out = new Set(leftOut)
  next = {
    ...next,
    modules: next.modules.map((m) => {
      const kept = out.size === 0 ? m : { ...m, lines: m.lines.filter((l) => !out.has(l.id)) }
      return { ...kept, ...said(changes.get(m.id) ?? {}) }
    }),
  }
  if (colourOf.size > 0)
    next = withLines(next, (line) => {
      const to = colourOf.get(line.id)
      if (to === undefined) return line
      const { part, decoration } = splitItemKey(line.item)
      return { ...line, item: itemKey(part, to, decoration) }
    })
  if (freed)
    next = withLines(next, (line) =>
      line.locked === true || (freed.which === 'hidden' && line.visibility !== 'hidden')
        ? line
        : { ...line, freedom: freed.freedom },
    )
  return ok(next)
}

/**
 * A build with changes made to it, on the same stock and offers; nothing of the build itself changes. Locked lines keep
 * their colour. Refused where the changes name a version, colourway, module, line, copy or decision that is gone.
 * `fresh` makes ids of further copies and decisions.
 */
export function changedBuild(
  snapshot: Pick<Snapshot, 'build' | 'design' | 'sets' | 'copies' | 'decisions'>,
  changes: Changes,
  versions: readonly DesignVersion[],
  fresh: () => string,
): Result<ChangedBuild, ChangeFault> {
  const { build, copies } = snapshot
  const design = changedDesign(snapshot.design, changes, versions)
  if (!design.ok) return design
  const wanted = wantedCopies(snapshot).sets
  const further: Copy[] = []
  for (const [id, number] of Object.entries(changes.copies ?? {})) {
    const set = wanted.find((s) => s.id === id)
    const first = copies.find((c) => c.id === id)
    if (!set || !first) return gone('copies gone', 'A copy that this scenario would buy')
    further.push(...furtherCopies(first, set.maxCopies, number - set.maxCopies, fresh))
  }
  const decisions = snapshot.decisions ?? []
  const back = new Set(changes.takenBack)
  if ([...back].some((id) => !decisions.some((d) => d.id === id)))
    return gone('decision gone', 'A decision that this scenario takes back')
  const shops = Object.entries({ ...build.rules.shops, ...changes.shops }).filter(
    (entry): entry is [string, 'excluded' | 'pinned'] => entry[1] !== 'free',
  )
  return ok({
    design: design.value,
    build: {
      ...build,
      rules: {
        ...build.rules,
        ...said(changes.rules ?? {}),
        shops: Object.fromEntries(shops),
        buyCopies: { ...build.rules.buyCopies, ...changes.copies },
      },
    },
    copies: further.length > 0 ? [...copies, ...further] : copies,
    decisions: [
      ...decisions.filter((d) => !back.has(d.id)),
      ...(changes.accepted ?? []).map((what): Decision => ({
        id: `d-${fresh()}` as DecisionId,
        build: build.id,
        what: { kind: 'accept', ...what },
      })),
    ],
  })
}
