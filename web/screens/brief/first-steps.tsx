import { ArrowRight, Boxes, Check, LayoutGrid, Package } from 'lucide-react'
import { Link } from 'react-router'
import type { Snapshot } from '../../../core/netting/snapshot.ts'
import { plural } from '../../../core/units/numbers.ts'
import { DO } from '../../ui/use-act-from-address.ts'

/** Where an empty build begins: donors, shelf, design, each with how it stands and its way in. */
export function FirstSteps({ snapshot }: { snapshot: Snapshot }) {
  const { build, copies, holdings, design } = snapshot
  const base = `/build/${encodeURIComponent(build.id)}`
  const pieces = holdings.reduce((n, h) => n + h.qty, 0)
  const steps = [
    {
      name: 'Donors',
      icon: Boxes,
      done: copies.length > 0,
      state: copies.length > 0 ? `${plural(copies.length, 'copy', 'copies')} of sets serve it` : 'No set serves it yet',
      what: 'What the sets you take apart hold: a list of part, colour and quantity.',
      way: { to: `${base}/donors?${DO}=import`, label: 'Import an inventory' },
      other: { to: `${base}/donors`, label: 'or choose a known set' },
    },
    {
      name: 'Shelf',
      icon: Package,
      done: holdings.length > 0,
      state:
        holdings.length > 0
          ? `${plural(pieces, 'piece')} in ${plural(holdings.length, 'holding')}`
          : 'Nothing on it yet',
      what: 'What lies loose in your bins and drawers, for all your builds.',
      way: { to: `/shelf?${DO}=import`, label: 'Import a shelf list' },
      other: { to: '/shelf', label: 'or type what there is' },
    },
    {
      name: 'Design',
      icon: LayoutGrid,
      done: design.modules.length > 0,
      state: design.modules.length > 0 ? plural(design.modules.length, 'module') : 'Nothing designed yet',
      what: 'What you want to build: from a list, from a donor, or as it stands built.',
      way: { to: `${base}/design?${DO}=import`, label: 'Import a parts list' },
      other: { to: `${base}/design`, label: 'or begin from a donor' },
    },
  ]
  return (
    <ol aria-label="First steps" className="flex flex-col gap-3">
      {steps.map(({ name, icon: Icon, done, state, what, way, other }, i) => (
        <li key={name} className="grid grid-cols-[2.5rem_1fr_auto] items-center gap-3 border border-rule bg-sheet p-3">
          <span
            className={`flex size-9 items-center justify-center rounded-full ${done ? 'bg-accent text-accent-ink' : 'bg-raised'}`}
          >
            {done ? <Check size={18} aria-label="there" /> : <Icon size={18} aria-hidden="true" />}
          </span>
          <div className="min-w-0">
            <h2 className="font-display text-base font-medium">
              {i + 1}. {name}: <span className={done ? '' : 'text-soft'}>{state}</span>
            </h2>
            <p className="text-sm text-soft">{what}</p>
          </div>
          <div className="flex flex-col items-end gap-1 text-sm">
            <Link
              to={way.to}
              className="inline-flex items-center gap-1 rounded-sm border border-rule bg-paper px-3 py-1.5 font-semibold hover:bg-raised"
            >
              {way.label} <ArrowRight size={14} aria-hidden="true" />
            </Link>
            <Link to={other.to} className="text-accent underline">
              {other.label}
            </Link>
          </div>
        </li>
      ))}
    </ol>
  )
}
