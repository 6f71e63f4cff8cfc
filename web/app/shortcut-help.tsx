import { Dialog } from '../ui/dialog.tsx'

const SHORTCUTS = [
  ['Ctrl K', 'Commands: go anywhere, do anything'],
  ['Ctrl Z, Ctrl Shift Z', 'Undo, redo'],
  ['Arrows, Home, End, Page keys', 'Move in a table'],
  ['Enter', 'Edit a cell; commit and go down'],
  ['M, arrows, Enter', 'On the shelf: take a place up, choose another, put it there'],
  [
    'Digits, Enter, - + / * . # =',
    'At check-in: how many are right; short, extra, other colour, other piece, damaged, bent, taken as right',
  ],
  ['Ctrl Enter', 'At check-in: take all that is left as right'],
  ['Arrows, Space, A', 'While building: from line to line, put it in, something is amiss'],
  ['Escape', 'Leave a cell or a dialog unchanged'],
  ['?', 'This list'],
] as const

export function ShortcutHelp({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  return (
    <Dialog
      open={open}
      onOpenChange={onOpenChange}
      title="Keyboard shortcuts"
      description="On a Mac, use Cmd for Ctrl."
    >
      <dl className="grid grid-cols-[auto_1fr] gap-x-6 gap-y-2 text-sm">
        {SHORTCUTS.map(([keys, meaning]) => (
          <div key={keys} className="contents">
            <dt className="font-semibold">{keys}</dt>
            <dd>{meaning}</dd>
          </div>
        ))}
      </dl>
    </Dialog>
  )
}
