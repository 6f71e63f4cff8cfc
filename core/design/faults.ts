import type { ColourId, LineId, ModuleId } from '../units/ids.ts'
import { NO_ITEM, type Design, type Module } from './design.ts'

/** What is wrong with a module, or with one of its lines; such a module or line needs nothing until it is put right. */
export type DesignFault = {
  readonly module: ModuleId
  readonly line?: LineId
  readonly code: 'cycle' | 'repeats' | 'missing module' | 'unknown colour' | 'no part' | 'quantity' | 'range'
  readonly message: string
}

/** Modules inside a module: those within it, and what it is the same as. */
export function innerModules(design: Design, module: Module): Module[] {
  const like = module.like === undefined ? undefined : design.modules.find((m) => m.id === module.like)
  return [...(like ? [like] : []), ...design.modules.filter((m) => m.within === module.id)]
}

/** Modules that contain themselves, however deep, or lead into such a circle. Linear in modules. */
export function circularModules(design: Design): Set<ModuleId> {
  const inner = new Map<ModuleId, ModuleId[]>(design.modules.map((m) => [m.id, []]))
  for (const m of design.modules) {
    if (m.within !== undefined) inner.get(m.within)?.push(m.id)
    if (m.like !== undefined && inner.has(m.like)) inner.get(m.id)?.push(m.like)
  }
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

/** Whether a module may stand within, or be the same as, another without ever containing itself. */
export function mayNest(design: Design, id: ModuleId, change: Pick<Module, 'within'> | Pick<Module, 'like'>): boolean {
  const modules = design.modules.map((m) => (m.id === id ? { ...m, ...change } : m))
  const after = circularModules({ ...design, modules })
  const before = circularModules(design)
  return [...after].every((m) => before.has(m))
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
