import type { ItemKey } from '../catalogue/item.ts'
import type { Part } from '../catalogue/part.ts'
import type { ColourId, LineId, ModuleId, PartId, PlaceId } from '../units/ids.ts'
import { NO_ITEM, type ColourSwap, type Design, type DesignLine, type Module } from './design.ts'
import { mirrorItem, mirrorPairs } from './mirror.ts'
import { circularModules, placesOfLines } from './nesting.ts'
import { chosenColourway, colourwaySwaps, recolour } from './recolour.ts'

/** A line's gross requirement in one place of the design, traceable to its line and the modules around it. */
export type Requirement = {
  /** Unique: the modules around it and the line. */
  readonly id: string
  readonly line: LineId
  /** The innermost module of the place; the line may belong to a module it is the same as. */
  readonly module: ModuleId
  /** Modules from the outermost to the innermost. */
  readonly path: readonly ModuleId[]
  /** As built: mirrored and recoloured. */
  readonly item: ItemKey
  readonly source: DesignLine
  /** What will do instead, mirrored and recoloured like the item. */
  readonly instead: NonNullable<DesignLine['instead']>
  readonly mirrored: boolean
  /** Pieces in one repeat. */
  readonly each: number
  readonly qty: number
  /** Pieces of `qty` that finished models already are, and those models. */
  readonly built: number
  readonly models: readonly PlaceId[]
  /** Of `built`, pieces that came out of donors; none when left out. */
  readonly builtDonor?: number
  /** The colour in which some of it is built in already, where its group shares one. */
  readonly builtColour?: ColourId
}

/** What is in a model that is being built, of one line in one place of its module: all repeats together. */
export type MadeLine = {
  /** The modules around it, as `path` of a requirement. */
  readonly path: readonly ModuleId[]
  readonly line: LineId
  /** Required pieces that what was put in stands for. */
  readonly put: number
  /** Of those, pieces that came out of donors. */
  readonly donor: number
  /** The colour of what was put in first; none while nothing is. */
  readonly colour?: ColourId | undefined
  /** Required pieces that were left out on purpose: nothing is needed for them. */
  readonly leftOut: number
}

export const AMOUNTS = ['low', 'likely', 'high'] as const
export type Amount = (typeof AMOUNTS)[number]

export type ExplodeOptions = {
  /** Tells mirrored modules their handed parts; without it they keep the drawn ones. */
  readonly parts?: ReadonlyMap<PartId, Part>
  /** Which of the uncertain quantities; the likely ones when left out. */
  readonly amount?: Amount
  /** Ideas for later as well. */
  readonly later?: boolean
  /** A colourway by its id instead of the chosen one; `null` as drawn. */
  readonly colourway?: string | null
  /** Is told of lines that come to more than `MOST_PIECES` in one place, with the module they are in. */
  readonly onTooMany?: (line: DesignLine, module: Module, pieces: number) => void
  /** What is built in already: it needs nothing any more. */
  readonly made?: readonly MadeLine[]
}

/** Places of lines that a design may have: modules that are the same as others multiply them. */
export const MOST_PLACES = 50_000

/** Ids name every module around a line up to this depth; deeper places are numbered. */
const DEEP = 24

/** Pieces of a line in one place of the design: sums of as many as there can be lines of stay exact. */
export const MOST_PIECES = 1_000_000_000

const NOTHING: Requirement['instead'] = []
const NO_MODELS: readonly PlaceId[] = []

/** What a line takes instead, as it is shown where the line stands. */
const shownAlternates = ({ instead }: DesignLine, shown: (item: ItemKey) => ItemKey): Requirement['instead'] =>
  instead ? instead.map((uses) => uses.map((use) => ({ ...use, item: shown(use.item) }))) : NOTHING

/**
 * Gross requirements of a design, in design order: every line in every place its module occurs, quantity × repeats of
 * all modules around it; tapers add up their steps. Exchanges of colour apply from the innermost module outwards, the
 * colourway last; locked lines keep their colour. Lines and modules that cannot be counted (`designFaults`) need
 * nothing; so do modules with which there would be more than `MOST_PLACES` places, which is known before any is made.
 * What is built in counts as built, what was left out on purpose is not needed; more than a line needs is passed over.
 * Linear in the places of lines, however deep modules nest.
 */
export function explode(design: Design, options: ExplodeOptions = {}): Requirement[] {
  const { parts, amount = 'likely', later = false, onTooMany } = options
  const byId = new Map(design.modules.map((m) => [m.id, m]))
  const within = new Map<ModuleId, Module[]>()
  for (const m of design.modules) if (m.within !== undefined) within.set(m.within, [...(within.get(m.within) ?? []), m])
  const pairs =
    parts && design.modules.some((m) => m.mirrored) ? mirrorPairs(parts.values()) : new Map<PartId, PartId>()
  const colourway = options.colourway === null ? undefined : chosenColourway(design, options.colourway)
  const modelsLeft = new Map(design.modules.map((m) => [m.id, [...(m.built ?? [])]]))
  const madeAt = madeByPath(options.made)
  const found: Requirement[] = []

  type Place = {
    readonly path: readonly ModuleId[]
    readonly id: string
    /** How often the surroundings occur, and how often of that inside finished models. */
    readonly times: number
    readonly built: number
    readonly models: readonly PlaceId[]
    readonly mirrored: boolean
    readonly maps: readonly (readonly ColourSwap[])[]
  }
  type Visit = { readonly module: Module; readonly place: Place; readonly repeats: number; readonly same: boolean }
  let numbered = 0
  const isLeftOut = (module: Module) => module.later === true && !later
  /** Pieces of a line in so many finished models of its module. */
  const inModels = (line: DesignLine, models: number, repeats: number): number =>
    Math.floor(models / repeats) * amountIn(line, repeats, amount) + amountIn(line, models % repeats, amount)
  /** Pieces of a line that finished models are: those of its module, and those of the modules around it. */
  const finishedPieces = (line: DesignLine, place: Place, repeats: number, models: number): number =>
    place.built === 0 && models === 0
      ? 0
      : place.built * amountIn(line, repeats, amount) + inModels(line, models, repeats)
  /** What a module is the same as, and the modules within it. */
  const visitsIn = (module: Module, place: Place): Visit[] => {
    const like = module.like === undefined ? undefined : byId.get(module.like)
    const inner = (within.get(module.id) ?? []).map((m) => ({ module: m, place, repeats: m.repeats, same: false }))
    return like && !like.later ? [{ module: like, place, repeats: 1, same: true }, ...inner] : inner
  }
  /** Adds the requirements of a module's own lines, and gives the modules to visit inside it. */
  const visit = ({ module, place, repeats, same }: Visit): Visit[] => {
    if (repeats < 1 || isLeftOut(module)) return []
    const path = same ? place.path : [...place.path, module.id]
    const id =
      path.length > DEEP
        ? `…${numbered++}/`
        : // What a module is the same as may also stand within it.
          `${place.id}${same ? '=' : ''}${module.id}/`
    const mirrored = place.mirrored !== (module.mirrored ?? false)
    const maps = module.colours?.length ? [module.colours, ...place.maps] : place.maps
    const open = (place.times - place.built) * repeats
    const own = same ? [] : (modelsLeft.get(module.id) ?? []).splice(0, open)
    const models = own.length > 0 ? [...place.models, ...own] : place.models
    const swaps = colourwaySwaps(colourway, path)
    const all = swaps.length > 0 ? [...maps, swaps] : maps
    const asDrawn = all.length === 0 && !mirrored
    const shown = (drawn: ItemKey, locked: boolean): ItemKey => {
      const item = locked ? drawn : recolour(drawn, all)
      return mirrored ? mirrorItem(item, pairs) : item
    }
    const made = madeAt?.get(path.join('/'))
    for (const line of module.lines) {
      if (line.item === NO_ITEM || line.use === 'left off') continue
      const here = made?.get(line.id)
      const qty = place.times * amountIn(line, repeats, amount) - (here?.leftOut ?? 0)
      if (qty < 1) continue
      if (qty > MOST_PIECES) {
        onTooMany?.(line, module, qty)
        continue
      }
      const inFinished = finishedPieces(line, place, repeats, own.length)
      const built = here ? Math.min(qty, inFinished + here.put) : inFinished
      const locked = line.locked ?? false
      found.push({
        id: `${id}${line.id}`,
        line: line.id,
        module: path.at(-1) ?? module.id,
        path,
        item: asDrawn ? line.item : shown(line.item, locked),
        source: line,
        instead: shownAlternates(line, (item) => shown(item, locked)),
        mirrored,
        each: amountIn(line, 1, amount),
        qty,
        built,
        models: inFinished > 0 ? models : NO_MODELS,
        ...(here && builtOf(here, line, built - inFinished)),
      })
    }
    const inside: Place = {
      path,
      id,
      times: place.times * repeats,
      built: place.built * repeats + own.length,
      models,
      mirrored,
      maps,
    }
    return visitsIn(module, inside)
  }
  const root: Place = { path: [], id: '', times: 1, built: 0, models: [], mirrored: false, maps: [] }
  for (const module of outermost(design)) {
    const stack: Visit[] = [{ module, place: root, repeats: module.repeats, same: false }]
    for (let next = stack.pop(); next; next = stack.pop()) stack.push(...visit(next).reverse())
  }
  return found
}

/** What a requirement says of what was put in for it: so many pieces of it count. */
const builtOf = (
  { donor, put, colour }: MadeLine,
  { group }: DesignLine,
  counted: number,
): Pick<Requirement, 'builtDonor' | 'builtColour'> => ({
  ...(donor > 0 && { builtDonor: Math.min(donor, counted) }),
  ...(put > 0 && group !== undefined && colour !== undefined && { builtColour: colour }),
})

/** What is built in, by the place of its module and by line; undefined where nothing is. */
function madeByPath(made: readonly MadeLine[] = []): Map<string, Map<LineId, MadeLine>> | undefined {
  if (made.length === 0) return undefined
  const byPath = new Map<string, Map<LineId, MadeLine>>()
  for (const line of made) {
    const key = line.path.join('/')
    const lines = byPath.get(key)
    if (lines) lines.set(line.line, line)
    else byPath.set(key, new Map([[line.line, line]]))
  }
  return byPath
}

/** Modules that stand by themselves and can be counted: in no circle, and not with too many places in all. */
function outermost(design: Design): Module[] {
  const known = new Set(design.modules.map((m) => m.id))
  const places = placesOfLines(design)
  let sum = 0
  return design.modules.filter((m) => {
    const own = places.get(m.id)
    if (own === undefined || (m.within !== undefined && known.has(m.within)) || sum + own > MOST_PLACES) return false
    sum += own
    return true
  })
}

/** Modules that are left out because lines would come to more than `MOST_PLACES` places with them. */
export function overgrown(design: Design): Module[] {
  const known = new Set(design.modules.map((m) => m.id))
  const kept = new Set(outermost(design))
  const circular = circularModules(design)
  return design.modules.filter(
    (m) => !kept.has(m) && !circular.has(m.id) && (m.within === undefined || !known.has(m.within)),
  )
}

/**
 * A module's pieces in the colours it gives them itself, wherever it stands: exchanges of the modules around it and of
 * the colourway are left out. An idea for later counts as if it were needed now.
 */
export function ownPieces(design: Design, module: ModuleId, parts: ReadonlyMap<PartId, Part>): Requirement[] {
  const byId = new Map(design.modules.map((m) => [m.id, m]))
  const around = new Set<ModuleId>()
  for (let at = byId.get(module)?.within; at !== undefined && !around.has(at); at = byId.get(at)?.within) around.add(at)
  const modules = design.modules.map((m) => (around.has(m.id) ? { ...m, colours: [] } : m))
  return explode({ ...design, modules }, { parts, colourway: null, later: true }).filter((r) => r.path.includes(module))
}

/** Pieces of a line in the first so many repeats of its module. */
function amountIn(line: DesignLine, repeats: number, amount: Amount = 'likely'): number {
  const { steps } = line
  if (steps) {
    const last = steps.at(-1) ?? 0
    let sum = Math.max(0, repeats - steps.length) * last
    for (const step of repeats < steps.length ? steps.slice(0, repeats) : steps) sum += step
    return sum
  }
  const qty = amount === 'low' ? (line.low ?? line.qty) : amount === 'high' ? (line.high ?? line.qty) : line.qty
  return Math.max(0, qty) * repeats
}
