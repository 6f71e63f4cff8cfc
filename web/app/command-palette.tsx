import { Command } from 'cmdk'
import { useNavigate } from 'react-router'
import type { BuildId } from '../../core/units/ids.ts'
import { loadDemo } from '../data/demo.ts'
import { redoLast, undoLast } from '../data/perform.ts'
import { useRecords } from '../data/records.tsx'

const GROUP =
  '[&_[cmdk-group-heading]]:px-2 [&_[cmdk-group-heading]]:py-1 [&_[cmdk-group-heading]]:text-xs [&_[cmdk-group-heading]]:text-soft'

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
  const { builds } = useRecords()
  const run = (work: () => unknown) => () => {
    onOpenChange(false)
    work()
  }
  const item = (label: string, work: () => unknown) => (
    <Command.Item
      key={label}
      value={label}
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
        placeholder="Go to, or do…"
        className="w-full border-b border-rule bg-sheet px-3 py-2.5 outline-none"
      />
      <Command.List className="max-h-96 overflow-auto p-1">
        <Command.Empty className="p-3 text-sm text-soft">Nothing by that name.</Command.Empty>
        {build && (
          <Command.Group heading="This build" className={GROUP}>
            {['Brief', 'Donors', 'Design', 'Tally', 'Buy'].map((step) =>
              item(step, () => navigate(`/build/${build}/${step.toLowerCase()}`)),
            )}
          </Command.Group>
        )}
        <Command.Group heading="Everywhere" className={GROUP}>
          {item('All builds', () => navigate('/'))}
          {item('Shelf', () => navigate('/shelf'))}
          {item('Data: import, export, history', () => navigate('/data'))}
          {builds.map((b) => item(`Open build: ${b.name}`, () => navigate(`/build/${b.id}/brief`)))}
        </Command.Group>
        <Command.Group heading="Do" className={GROUP}>
          {item('Undo', undoLast)}
          {item('Redo', redoLast)}
          {item('Change between light and dark', onTheme)}
          {item('Load the demo', loadDemo)}
          {item('Keyboard shortcuts', onHelp)}
        </Command.Group>
      </Command.List>
    </Command.Dialog>
  )
}
