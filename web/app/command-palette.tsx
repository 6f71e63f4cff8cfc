import { Command } from 'cmdk'
import { searchKey } from '../../core/colours/colour.ts'
import { useDeferredValue, useEffect, useMemo, useState } from 'react'
import { useNavigate } from 'react-router'
import { findItems, indexItems } from '../../core/catalogue/search.ts'
import type { BuildId } from '../../core/units/ids.ts'
import { loadDemo } from '../store/demo.ts'
import { redoLast, undoLast } from '../store/perform.ts'
import { useRecords } from '../store/records.tsx'
import { ItemName } from '../pieces/item-name.tsx'
import { focusContent, focusContentNext } from '../ui/last-focus.ts'
import { DO } from '../ui/use-act-from-address.ts'
import { plural } from '../../core/units/numbers.ts'

const GROUP =
  '[&_[cmdk-group-heading]]:px-2 [&_[cmdk-group-heading]]:py-1 [&_[cmdk-group-heading]]:text-xs [&_[cmdk-group-heading]]:text-soft'

/** What is done on a build's screens, by the address that asks for it. */
const BUILD_ACTS = [
  ['Import a donor inventory for this build', `donors?${DO}=import`],
  ['Import a parts list for this build', `design?${DO}=import`],
  ['Import offers for this build', `buy?${DO}=import`],
  ['Ask the market', `buy?${DO}=ask`],
  ['Find the cheapest orders', `buy?${DO}=solve`],
] as const

export function CommandPalette({
  open,
  onOpenChange,
  build,
  onTheme,
  onHelp,
}: {
  open: boolean
  onOpenChange: (open: boolean) => void
  build: BuildId | undefined
  onTheme: () => void
  onHelp: () => void
}) {
  const navigate = useNavigate()
  const records = useRecords()
  const { builds, holdings, places, sets, parts, designs, nameItem } = records
  const [query, setQuery] = useState('')
  useEffect(() => {
    // The palette gives the focus back as it closes, a moment before this.
    if (!open) setTimeout(focusContent)
  }, [open])
  const asked = useDeferredValue(query)
  // Made when the palette opens, then kept while the records stay the same: typing only compares texts.
  const index = useMemo(
    () => (open ? indexItems({ holdings, places, sets, designs }, (item) => nameItem(item).name) : []),
    [open, holdings, places, sets, designs, nameItem],
  )
  const pieces = useMemo(() => (asked.trim().length < 2 ? [] : findItems(index, asked, 12)), [index, asked])
  const words = searchKey(asked).split(' ')
  const fits = (name: string) => words.every((w) => searchKey(name).includes(w))
  /** Opens a screen and goes on there: the focus does not stay where the palette was called. */
  const go = (to: string) => {
    void navigate(to)
    focusContentNext()
  }
  const run = (work: () => unknown) => () => {
    onOpenChange(false)
    setQuery('')
    work()
  }
  // What was found here rather than by the palette's own filter carries the query, so that the filter lets it through.
  const item = (label: string, work: () => unknown, found = false) => (
    <Command.Item
      key={label}
      value={found ? `${asked} ${label}` : label}
      onSelect={run(work)}
      className="rounded-sm px-2 py-1.5 text-sm data-[selected=true]:bg-mark"
    >
      {label}
    </Command.Item>
  )
  return (
    <Command.Dialog
      open={open}
      onOpenChange={onOpenChange}
      label="Commands"
      overlayClassName="fixed inset-0 z-40 bg-black/40"
      contentClassName="fixed top-24 left-1/2 z-50 w-[min(34rem,92vw)] -translate-x-1/2 border border-rule bg-sheet shadow-2xl"
    >
      <Command.Input
        value={query}
        onValueChange={setQuery}
        placeholder="Go to, do, or find a piece…"
        className="w-full border-b border-rule bg-sheet px-3 py-2.5 outline-none"
      />
      <Command.List className="max-h-96 overflow-auto p-1">
        <Command.Empty className="p-3 text-sm text-soft">Nothing by that name.</Command.Empty>
        {build && (
          <Command.Group heading="This build" className={GROUP}>
            {['Brief', 'Donors', 'Design', 'Tally', 'Colours', 'Buy', 'Parcels', 'Make', 'Ledger'].map((step) =>
              item(step, () => go(`/build/${encodeURIComponent(build)}/${step.toLowerCase()}`)),
            )}
            {BUILD_ACTS.map(([label, path]) => item(label, () => go(`/build/${encodeURIComponent(build)}/${path}`)))}
          </Command.Group>
        )}
        <Command.Group heading="Everywhere" className={GROUP}>
          {item('All builds', () => go('/'))}
          {item('Shelf', () => go('/shelf'))}
          {item('Buy for several builds together', () => go('/together'))}
          {item('Parcels of all builds', () => go('/parcels'))}
          {item('Ledgers of all builds', () => go('/ledgers'))}
          {item('Shops', () => go('/shops'))}
          {item('Catalogue: donor sets', () => go('/catalogue'))}
          {item('Catalogue: parts', () => go('/catalogue?view=parts'))}
          {item('Catalogue: colours', () => go('/catalogue?view=colours'))}
          {item('Data: import, export, history', () => go('/data'))}
          {builds.map((b) => item(`Open build: ${b.name}`, () => go(`/build/${encodeURIComponent(b.id)}/brief`)))}
        </Command.Group>
        <Command.Group heading="Do" className={GROUP}>
          {item('Import a shelf list', () => go(`/shelf?${DO}=import`))}
          {item('Import an inventory', () => go(`/catalogue?${DO}=import`))}
          {item('Import offers', () => go(`/shops?${DO}=import`))}
          {item('Count the shelf again', () => go(`/shelf?${DO}=count`))}
          {item('Undo', undoLast)}
          {item('Redo', redoLast)}
          {item('Change between light and dark', onTheme)}
          {item('Load the demo', () => loadDemo(records))}
          {item('Keyboard shortcuts', onHelp)}
        </Command.Group>
        {asked.trim().length >= 2 && (
          <Command.Group heading="Catalogue" className={GROUP}>
            {sets
              .filter((s) => fits(s.name))
              .slice(0, 5)
              .map((s) => item(`Set: ${s.name}`, () => go(`/catalogue/set/${encodeURIComponent(s.id)}`), true))}
            {parts
              .filter((p) => fits(p.name))
              .slice(0, 5)
              .map((p) =>
                item(`Part: ${p.name}`, () => go(`/catalogue?view=parts&find=${encodeURIComponent(p.name)}`), true),
              )}
          </Command.Group>
        )}
        {pieces.length > 0 && (
          <Command.Group heading="Pieces" className={GROUP}>
            {pieces.map((entry) => (
              <Command.Item
                key={entry.item}
                value={`${asked} ${entry.name}`}
                onSelect={run(() => go(`/shelf?find=${encodeURIComponent(entry.name.replace(/,/g, ''))}`))}
                className="flex items-center justify-between gap-3 rounded-sm px-2 py-1 text-sm data-[selected=true]:bg-mark"
              >
                <ItemName item={entry.item} size={28} />
                <span className="shrink-0 text-right text-xs text-soft">
                  {entry.shelf > 0
                    ? `${entry.shelf} on the shelf in ${plural(entry.places, 'place')}`
                    : 'not on the shelf'}
                  <br />
                  {plural(entry.sets, 'set')}, {plural(entry.designs, 'design')}
                </span>
              </Command.Item>
            ))}
          </Command.Group>
        )}
      </Command.List>
    </Command.Dialog>
  )
}
