import type { Snapshot } from '../../core/netting/snapshot.ts'
import type { SupplySource } from '../../core/netting/supply-rows.ts'

/** Where a piece comes from, in words. */
export function sourceWords(source: SupplySource, { copies, sets, places }: Snapshot): string {
  if (source.kind === 'copy') {
    const copy = copies.find((c) => c.id === source.copy)
    const stage = sets.find((s) => s.id === copy?.setId)?.stages.find((s) => s.id === source.stage)
    return `${copy?.label ?? 'a donor copy'}, stage ${stage?.name ?? source.stage}`
  }
  if (source.kind === 'built' && source.places.length === 0) return 'In the model that is being built'
  if (source.kind === 'built')
    return `Built already: ${source.places.map((id) => places.find((p) => p.id === id)?.name ?? 'a model').join(', ')}`
  const where = `${places.find((p) => p.id === source.place)?.name ?? 'the shelf'}${source.estimate ? ' (estimate)' : ''}${source.uncounted === undefined ? '' : ' (taken as right, not counted)'}`
  if (source.state.kind === 'post') {
    const { kind, due } = source.state.at
    return `${where}, ${kind === 'promise' ? 'promised' : 'still in the post'}${due === undefined ? '' : `, due ${due}`}`
  }
  if (source.state.kind === 'model') return `${where}: take ${source.state.model.name} apart for it`
  return where
}
