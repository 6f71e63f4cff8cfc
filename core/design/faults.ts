import { formatNumber } from '../units/numbers.ts'
import type { ColourId, LineId, ModuleId } from '../units/ids.ts'
import { NO_ITEM, type Design } from './design.ts'
import { explode, MOST_PLACES, overgrown } from './explode.ts'
import { circularModules } from './nesting.ts'

/** What is wrong with a module, or with one of its lines; such a module or line needs nothing until it is put right. */
export type DesignFault = {
  readonly module: ModuleId
  readonly line?: LineId
  readonly code:
    'cycle' | 'repeats' | 'missing module' | 'unknown colour' | 'no part' | 'quantity' | 'range' | 'too many' | 'places'
  readonly message: string
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
  for (const module of overgrown(design))
    faults.push({
      module: module.id,
      code: 'places',
      message: `The lines in ${module.name} come to more than ${formatNumber(MOST_PLACES)} places, as modules in it are the same as others. It needs nothing until there are fewer.`,
    })
  const many = new Set<LineId>()
  explode(design, {
    later: true,
    onTooMany({ id: line }, module, pieces) {
      if (many.has(line)) return
      many.add(line)
      const message = `A line of ${module.name} comes to ${formatNumber(pieces)} pieces, more than can be counted. Ask for fewer, or repeat the modules around it less.`
      faults.push({ module: module.id, line, code: 'too many', message })
    },
  })
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
