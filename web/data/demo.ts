import { put } from '../../storage/journal.ts'
import { perform } from './perform.ts'

/** Loads the demo scenario beside whatever is there; one act, undoable. The generator is loaded when needed. */
export async function loadDemo(): Promise<boolean> {
  const { demoRecords } = await import('../../demo/scenario.ts')
  const demo = demoRecords()
  return perform('Loaded the demo: mountain observatory', [
    put('parts', demo.parts),
    put('colours', demo.colours),
    put('sets', demo.sets),
    put('copies', demo.copies),
    put('places', demo.places),
    put('holdings', demo.holdings),
    put('builds', demo.builds),
    put('designs', demo.designs),
    put('versions', demo.versions),
  ])
}
