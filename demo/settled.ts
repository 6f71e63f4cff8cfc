import { itemKey, type ItemKey } from '../core/catalogue/item.ts'
import { partFromName } from '../core/catalogue/part.ts'
import type { Entry } from '../core/settling/entry.ts'
import type { Note } from '../core/settling/note.ts'
import type { Sale } from '../core/settling/sale.ts'
import { addDays } from '../core/units/instants.ts'
import { colourId, type BuildId, type EntryId, type ModuleId, type NoteId, type SaleId } from '../core/units/ids.ts'
import { currency } from '../core/units/money.ts'

const EUR = currency('EUR')
const CZK = currency('CZK')
const item = (part: string, colour: string): ItemKey => itemKey(partFromName(part).id, colourId(colour))

/** What the demo's ledgers, sales and logs hold beside what enters itself; days go back from `today`. */
export function settled(
  today: string,
  observatory: BuildId,
): { readonly entries: readonly Entry[]; readonly sales: readonly Sale[]; readonly notes: readonly Note[] } {
  const ago = (days: number): string => addDays(today, -days)
  const entry = (id: string, days: number, minor: number, text: string, more: Partial<Entry> = {}): Entry => ({
    ...{ id: `e-${id}` as EntryId, build: observatory, on: ago(days), category: 'other', text },
    amount: { minor, currency: EUR },
    ...more,
  })
  const found = { kind: 'found' } as const
  const sale = (id: string, more: Omit<Sale, 'id' | 'build' | 'currency'>): Sale => ({
    ...{ id: `z-${id}` as SaleId, build: observatory, currency: EUR },
    ...more,
  })
  const note = (id: string, days: number, kind: Note['kind'], text: string, more: Partial<Note> = {}): Note => ({
    ...{ id: `k-${id}` as NoteId, build: observatory, on: ago(days), kind, text },
    ...more,
  })
  return {
    entries: [
      entry('hose', 96, 640, 'Hose for the funicular’s cable, two metres', { module: 'm-track-bed' as ModuleId }),
      // A print shop across the border: one crown was 0.0398 euros on that day.
      entry('tiles', 74, 26_000, 'Printed tiles with the station’s name', {
        ...{ category: 'prints', rate: 39_800_000, module: 'm-valley-station' as ModuleId },
        amount: { minor: 26_000, currency: CZK },
      }),
      entry('tiles-less', 70, -120, 'Corrects “Printed tiles with the station’s name”: a tile was not charged', {
        ...{ category: 'prints', corrects: 'e-tiles', module: 'm-valley-station' as ModuleId },
      }),
      entry('plan-sold', 20, 900, 'Plan of the dome, sold twice', { category: 'instructions sold' }),
    ],
    sales: [
      sale('conductor', {
        ...{ title: 'Figure with bag, from the tramway workshop', way: 'price', ask: 450, likely: 300, hoped: 450 },
        lots: [
          { item: item('figure head', 'Oatmeal'), qty: 1, from: found, condition: 'used', figure: 'Conductor' },
          { item: item('figure torso', 'Foxglove'), qty: 1, from: found, condition: 'used', figure: 'Conductor' },
          { item: item('figure legs', 'Soot'), qty: 1, from: found, condition: 'used', figure: 'Conductor' },
        ],
        ...{ got: 420, costs: 90 },
        history: [
          { state: 'listed', on: ago(40) },
          { state: 'sold', on: ago(33) },
          { state: 'sent', on: ago(31) },
        ],
      }),
      sale('slopes', {
        ...{ title: 'Sixty roof slopes', way: 'auction', ask: 100, likely: 380, hoped: 900 },
        lots: [{ item: item('slope 2x4 45°', 'Foxglove'), qty: 60, from: found, condition: 'used' }],
        history: [{ state: 'listed', on: ago(9), note: 'until the end of the month' }],
      }),
      sale('odds', {
        ...{ title: 'Odds and ends for the neighbours’ children, seven and nine', way: 'gift' },
        lots: [{ item: item('brick 2x4', 'Buttercup'), qty: 35, from: found, condition: 'worn' }],
        history: [
          { state: 'listed', on: ago(16) },
          { state: 'sent', on: ago(15) },
        ],
      }),
    ],
    notes: [
      note(
        'plan',
        118,
        'decision',
        'The dome turns on a ring of tiles, not on a turntable: it must carry the telescope.',
        {
          module: 'm-dome-segment' as ModuleId,
        },
      ),
      note('hinge', 92, 'failed try', 'Hinged segments opened under their own weight. Three tries, then clips.', {
        ...{ module: 'm-dome-segment' as ModuleId, minutes: 150 },
      }),
      note(
        'track',
        63,
        'test build',
        'A metre of track at one in three: the cabin stays where it is with one more weight.',
        {
          ...{ module: 'm-track-bed' as ModuleId, minutes: 55 },
        },
      ),
      note('windows', 37, 'compromise', 'Six windows on the valley side instead of eight; the wall needed the bond.', {
        module: 'm-valley-station' as ModuleId,
      }),
      note('lamp', 12, 'to improve', 'A lamp under the eaves of the valley station, wired through the post.', {
        module: 'm-valley-station' as ModuleId,
      }),
    ],
  }
}
