import type { Module } from './design.ts'
import type { ModuleId, LineId } from '../units/ids.ts'

/**
 * A module with all it holds under new ids, as it is inserted from the library or a version: itself first. What it is
 * the same as becomes an inner module of its own, so that the copy stands by itself. Finished models stay behind.
 */
export function copyModules(modules: readonly Module[], top: ModuleId, fresh: () => string): Module[] {
  const copied: Module[] = []
  const copy = (module: Module, within: ModuleId | undefined, repeats: number, around: readonly ModuleId[]): void => {
    if (around.includes(module.id)) return
    const { within: _, like, pair: __, built: ___, ...rest } = module
    const id = `m-${fresh()}` as ModuleId
    copied.push({
      ...rest,
      id,
      repeats,
      ...(within === undefined ? {} : { within }),
      lines: module.lines.map((line) => ({ ...line, id: `n-${fresh()}` as LineId })),
    })
    const inside = [...around, module.id]
    const same = modules.find((m) => m.id === like)
    if (same && !same.later) copy(same, id, 1, inside)
    for (const inner of modules) if (inner.within === module.id) copy(inner, id, inner.repeats, inside)
  }
  const module = modules.find((m) => m.id === top)
  if (module) copy(module, undefined, module.repeats, [])
  return copied
}
