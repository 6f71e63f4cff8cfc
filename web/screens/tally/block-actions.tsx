import { Check, Palette } from 'lucide-react'
import { splitItemKey } from '../../../core/catalogue/item.ts'
import type { Family } from '../../../core/catalogue/shape.ts'
import { withLines } from '../../../core/design/arrange-modules.ts'
import type { DesignLine } from '../../../core/design/design.ts'
import { openStandIns } from '../../../core/studies/line-choices.ts'
import type { Snapshot } from '../../../core/netting/snapshot.ts'
import type { Tally } from '../../../core/netting/tally.ts'
import { edit } from '../../../storage/journal.ts'
import { decide } from '../../store/decide.ts'
import { perform } from '../../store/perform.ts'
import { Menu, type MenuEntry } from '../../ui/menu.tsx'
import { plural } from '../../../core/units/numbers.ts'

/** Thresholds offered for accepting stand-ins, in points. */
const UP_TO = [2, 4, 8]

/** Acts on many lines at once, each one step of undo. */
export function BlockActions({ snapshot, result }: { snapshot: Snapshot; result: Tally }) {
  const { build, design, parts } = snapshot
  const entries: MenuEntry[] = []
  let before = 0
  for (const points of [...UP_TO, Infinity]) {
    const open = openStandIns(result, points)
    if (open.length === before) continue
    before = open.length
    const which = points === Infinity ? 'all stand-ins' : `stand-ins of up to ${points} points`
    entries.push({
      label: `Accept ${which} (${open.length})`,
      icon: <Check size={14} aria-hidden="true" />,
      onSelect: () => {
        void decide(
          `Accepted ${plural(open.length, 'stand-in')}`,
          build.id,
          open.map(({ line, item, uses }) => ({
            kind: 'accept',
            line,
            item,
            uses: uses.map((u) => ({ item: u.item, qty: u.qty })),
          })),
        )
      },
    })
  }
  const familyOf = ({ item }: DesignLine): Family => parts.get(splitItemKey(item).part)?.shape.family ?? 'unknown'
  const hidden = new Map<Family | 'all', number>()
  for (const line of design.modules.flatMap((m) => m.lines)) {
    const family = familyOf(line)
    if (line.visibility !== 'hidden' || line.freedom === 'free') continue
    hidden.set(family, (hidden.get(family) ?? 0) + 1)
    hidden.set('all', (hidden.get('all') ?? 0) + 1)
  }
  const most = [...hidden].sort((p, q) => q[1] - p[1]).slice(0, 4)
  for (const [family, lines] of most)
    entries.push({
      label: `Free the colour of ${family === 'all' ? 'all hidden pieces' : `hidden ${family} pieces`} (${plural(lines, 'line')})`,
      icon: <Palette size={14} aria-hidden="true" />,
      onSelect: () => {
        const freed = withLines(design, (l) =>
          l.visibility === 'hidden' && (family === 'all' || familyOf(l) === family) ? { ...l, freedom: 'free' } : l,
        )
        void perform(`Freed the colour of ${plural(lines, 'hidden line')}`, [edit('designs', design, freed)])
      },
    })
  if (entries.length === 0) return null
  return <Menu label="All at once" entries={entries} />
}
