import type { ColourId, LineId, ModuleId } from '../units/ids.ts'
import { NO_ITEM, type Design } from './design.ts'

/** What is wrong with a module, or with one of its lines; such a module or line needs nothing until it is put right. */
export type DesignFault = {
  readonly module: ModuleId
  readonly line?: LineId
  readonly code: 'cycle' | 'repeats' | 'missing module' | 'unknown colour' | 'no part' | 'quantity' | 'range'
  readonly message: string
}

/** Modules directly inside each module: those within it, and what it is the same as. */
function innerModules(design: Design): Map<ModuleId, ModuleId[]> {
  const inner = new Map<ModuleId, ModuleId[]>(design.modules.map((m) => [m.id, []]))
  for (const m of design.modules) {
    if (m.within !== undefined) inner.get(m.within)?.push(m.id)
    if (m.like !== undefined && inner.has(m.like)) inner.get(m.id)?.push(m.like)
  }
  return inner
}

/** Modules that contain themselves, however deep, or lead into such a circle. Linear in modules. */
export function circularModules(design: Design): Set<ModuleId> {
  const inner = innerModules(design)
  const state = new Map<ModuleId, 'open' | 'done'>()
  const circular = new Set<ModuleId>()
  const visit = (id: ModuleId): boolean => {
    if (state.get(id) === 'open') return true
    if (state.get(id) === 'done') return circular.has(id)
    state.set(id, 'open')
    for (const next of inner.get(id) ?? []) if (visit(next)) circular.add(id)
    state.set(id, 'done')
    return circular.has(id)
  }
  for (const m of design.modules) visit(m.id)
  return circular
}

/**
 * Modules that a module may stand within, and those it may be the same as, without ever containing itself: what it holds
 * is no place for it, and what holds it is no model for it. Linear in modules.
 */
export function nestingChoices(design: Design, id: ModuleId): { within: Set<ModuleId>; like: Set<ModuleId> } {
  const inner = innerModules(design)
  const outer = new Map<ModuleId, ModuleId[]>(design.modules.map((m) => [m.id, []]))
  for (const [around, held] of inner) for (const m of held) outer.get(m)?.push(around)
  const except = (links: ReadonlyMap<ModuleId, readonly ModuleId[]>): Set<ModuleId> => {
    const reached = new Set([id])
    for (const at of reached) for (const next of links.get(at) ?? []) reached.add(next)
    return new Set(design.modules.map((m) => m.id).filter((m) => !reached.has(m)))
  }
  return { within: except(inner), like: except(outer) }
}

/** Everything in a design that cannot be counted, module by module; nothing is dropped for it. */
export function designFaults(design: Design, colours?: ReadonlyMap<ColourId, unknown>): DesignFault[] {
  const faults: DesignFault[] = []
  const known = new Set(design.modules.map((m) => m.id))
  const circular = circularModules(design)
  for (const module of design.modules) {
    const add = (code: DesignFault['code'], message: string, line?: LineId) =>
      faults.push({ module: module.id, code, message, ...(line === undefined ? {} : { line }) })
    if (circular.has(module.id))
      add('cycle', `${module.name} contains itself. Take it out of the module around it, or of what it is the same as.`)
    if (module.repeats < 1) add('repeats', `${module.name} is repeated ${module.repeats} times. Give it 1 or more.`)
    for (const other of [module.within, module.like])
      if (other !== undefined && !known.has(other))
        add('missing module', `${module.name} refers to a module that is not there. Choose another.`)
    for (const { from, to } of module.colours ?? [])
      if (colours && !(colours.has(from) && colours.has(to)))
        add('unknown colour', `${module.name} exchanges a colour that is not known. Choose another.`)
    for (const line of module.lines) {
      if (line.item === NO_ITEM) add('no part', `A line of ${module.name} names no part. Type it again.`, line.id)
      if (line.qty < 1 && !line.steps)
        add('quantity', `A line of ${module.name} asks for ${line.qty}. Give it 1 or more.`, line.id)
      if ((line.low ?? line.qty) > line.qty || (line.high ?? line.qty) < line.qty)
        add('range', `A line of ${module.name} is likely outside its low and high.`, line.id)
    }
  }
  for (const { name, colours: swaps } of design.colourways ?? [])
    for (const { from, to } of swaps)
      if (colours && !(colours.has(from) && colours.has(to)) && design.modules[0])
        faults.push({
          module: design.modules[0].id,
          code: 'unknown colour',
          message: `The colourway ${name} exchanges a colour that is not known. Choose another.`,
        })
  return faults
}
