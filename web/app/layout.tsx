import {
  BookOpen,
  Archive,
  Boxes,
  ClipboardList,
  Coins,
  Database,
  Hammer,
  Library,
  Moon,
  Package,
  Palette,
  ReceiptText,
  Search,
  ShoppingBasket,
  Store,
  Sun,
  TableProperties,
  Truck,
  Wrench,
  Undo2,
  Redo2,
} from 'lucide-react'
import { Component, lazy, Suspense, useCallback, useEffect, useRef, useState, type ReactNode } from 'react'
import { NavLink, Outlet, useLocation, useMatch } from 'react-router'
import { Toaster } from 'sonner'
import { coveredPieces, type Coverage } from '../../core/netting/coverage.ts'
import type { BuildId } from '../../core/units/ids.ts'
import { formatMoney } from '../../core/units/money.ts'
import { formatNumber, plural } from '../../core/units/numbers.ts'
import { useBackup } from '../store/backup.ts'
import { loadDemo } from '../store/demo.ts'
import { redoLast, undoLast } from '../store/perform.ts'
import { stateOf, type Order, type OrderState } from '../../core/orders/order.ts'
import { useOrders } from '../store/orders.ts'
import { useRecords } from '../store/records.tsx'
import { useNetCost } from '../store/ledger.ts'
import { usePlan } from '../store/purchases.ts'
import { useTally, type BuildTally } from '../store/tallies.ts'
import { CoverageStrip } from '../pieces/coverage-strip.tsx'
import { Loading } from './loading.tsx'
import { StorageNote } from './storage-note.tsx'
import { ShortcutHelp } from './shortcut-help.tsx'
import { applyTheme, currentTheme } from './theme.ts'
import { useAddress } from '../ui/address.ts'

/** It comes with the first file that is dropped. */
const DropAnywhere = lazy(async () => ({ default: (await import('./drop-anywhere.tsx')).DropAnywhere }))

/** It comes with the first piece that is looked out for. */
const LookoutWatch = lazy(async () => ({ default: (await import('../pieces/lookout-watch.tsx')).LookoutWatch }))

/** It comes after the first screen: nobody asks for it before there is one. */
const CommandPalette = lazy(async () => ({ default: (await import('./command-palette.tsx')).CommandPalette }))

/** Said but not shown where the rail is folded to its signs. */
const FOLDED = 'min-[801px]:max-[960px]:sr-only'

const STEPS = [
  { path: 'brief', label: 'Brief', icon: ClipboardList },
  { path: 'donors', label: 'Donors', icon: Boxes },
  { path: 'design', label: 'Design', icon: Hammer },
  { path: 'tally', label: 'Tally', icon: TableProperties },
  { path: 'colours', label: 'Colours', icon: Palette },
  { path: 'buy', label: 'Buy', icon: ShoppingBasket },
  { path: 'parcels', label: 'Parcels', icon: Package },
  { path: 'make', label: 'Make', icon: Wrench },
  { path: 'ledger', label: 'Ledger', icon: ReceiptText },
] as const

export function Layout() {
  const match = useMatch('/build/:build/*')
  const opened = match?.params.build as BuildId | undefined
  const build = useBuildAtHand(opened)
  const [palette, setPalette] = useState(false)
  const settled = useSettled(palette)
  useEffect(() => {
    // Keeping the app must not hold up its first screen.
    if (settled)
      void import('./offline.ts').then(({ keepOffline }) => {
        keepOffline()
      })
  }, [settled])
  const [help, setHelp] = useState(false)
  const [theme, setTheme] = useState(currentTheme())
  const backup = useBackup()
  useDemoFromAddress()
  const { dropped, onTaken } = useDroppedFiles()
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const typing = event.target instanceof HTMLElement && event.target.closest('input, textarea, [contenteditable]')
      const command = event.ctrlKey || event.metaKey
      // What lies behind an open dialog is not undone unseen.
      const behind = document.querySelector('[role="dialog"], [role="alertdialog"]') !== null
      if (command && event.key.toLowerCase() === 'k') {
        event.preventDefault()
        setPalette(true)
      } else if (!typing && !behind && command && event.key.toLowerCase() === 'z') {
        event.preventDefault()
        void (event.shiftKey ? redoLast() : undoLast())
      } else if (!typing && !behind && command && event.key.toLowerCase() === 'y') {
        event.preventDefault()
        void redoLast()
      } else if (!typing && !behind && event.key === '?') setHelp(true)
    }
    window.addEventListener('keydown', onKey)
    return () => {
      window.removeEventListener('keydown', onKey)
    }
  }, [])
  const toggleTheme = () => {
    const next = theme === 'dark' ? 'light' : 'dark'
    applyTheme(next)
    setTheme(next)
  }
  return (
    <div className="shell flex h-full max-[800px]:flex-col">
      <a href="#main" className="absolute -top-20 left-2 z-50 bg-sheet px-3 py-2 focus:top-2">
        Skip to the content
      </a>
      <nav
        aria-label="Main"
        className="ruler no-print flex w-52 shrink-0 flex-col gap-1 border-r min-[801px]:overflow-y-auto border-rule py-4 pr-5 pl-4 max-[960px]:w-18 max-[960px]:px-3 max-[800px]:w-full max-[800px]:flex-row max-[800px]:flex-wrap max-[800px]:items-center max-[800px]:border-r-0 max-[800px]:border-b max-[800px]:py-2"
      >
        <NavLink
          to="/"
          className="mb-3 flex items-center gap-2 font-display text-base leading-tight font-bold max-[800px]:mr-2 max-[800px]:mb-0"
        >
          <img src="/icon.svg" alt="" width="26" height="26" />
          <span className={FOLDED}>Unfinished Brick</span>
        </NavLink>
        <RailLink to="/" end icon={<Library size={16} aria-hidden="true" />}>
          Builds
        </RailLink>
        {build && (
          <RailBoundary key={build} fallback={<Steps id={build} />}>
            <Suspense fallback={<Steps id={build} />}>
              <BuildRail id={build} />
            </Suspense>
          </RailBoundary>
        )}
        <BesideRail backupDue={backup?.due === true} />
        <div className="mt-auto flex flex-wrap gap-1 max-[800px]:mt-0 max-[800px]:ml-auto">
          <RailButton
            label="Commands (Ctrl K)"
            onClick={() => {
              setPalette(true)
            }}
          >
            <Search size={16} aria-hidden="true" />
          </RailButton>
          <RailButton label="Undo (Ctrl Z)" onClick={() => void undoLast()}>
            <Undo2 size={16} aria-hidden="true" />
          </RailButton>
          <RailButton label="Redo (Ctrl Shift Z)" onClick={() => void redoLast()}>
            <Redo2 size={16} aria-hidden="true" />
          </RailButton>
          <RailButton label={theme === 'dark' ? 'Light theme' : 'Dark theme'} onClick={toggleTheme}>
            {theme === 'dark' ? <Sun size={16} aria-hidden="true" /> : <Moon size={16} aria-hidden="true" />}
          </RailButton>
        </div>
      </nav>
      <main id="main" className="flex min-w-0 flex-1 flex-col" tabIndex={-1}>
        <StorageNote />
        <div className="min-h-0 flex-1">
          <Suspense fallback={<Loading />}>
            <Outlet />
          </Suspense>
        </div>
      </main>
      {settled && (
        <Suspense fallback={null}>
          <CommandPalette
            open={palette}
            onOpenChange={setPalette}
            build={build}
            onTheme={toggleTheme}
            onHelp={() => {
              setHelp(true)
            }}
          />
        </Suspense>
      )}
      {dropped && (
        <Suspense fallback={null}>
          <DropAnywhere files={dropped} build={build} onTaken={onTaken} />
        </Suspense>
      )}
      <ShortcutHelp open={help} onOpenChange={setHelp} />
      <Toaster
        position="bottom-right"
        expand
        visibleToasts={4}
        theme={theme}
        toastOptions={{ className: 'font-sans' }}
      />
    </div>
  )
}

const NO_FILES: readonly File[] = []

/** Files dropped where nothing on the screen takes them itself; undefined until the first. */
function useDroppedFiles() {
  const [dropped, setDropped] = useState<readonly File[] | undefined>()
  useEffect(() => {
    const over = (event: DragEvent) => {
      if (event.dataTransfer?.types.includes('Files')) event.preventDefault()
    }
    const drop = (event: DragEvent) => {
      const files = [...(event.dataTransfer?.files ?? [])]
      if (files.length === 0) return
      const taken = event.defaultPrevented
      event.preventDefault()
      if (!taken) setDropped(files)
    }
    window.addEventListener('dragover', over)
    window.addEventListener('drop', drop)
    return () => {
      window.removeEventListener('dragover', over)
      window.removeEventListener('drop', drop)
    }
  }, [])
  const onTaken = useCallback(() => {
    setDropped(NO_FILES)
  }, [])
  return { dropped, onTaken }
}

/** False while the first screen comes, unless it is asked for before; what nobody needs for it waits until then. */
function useSettled(asked: boolean): boolean {
  const [settled, setSettled] = useState(false)
  if (asked && !settled) setSettled(true)
  useEffect(() => {
    const timer = setTimeout(() => {
      setSettled(true)
    }, 3000)
    return () => {
      clearTimeout(timer)
    }
  }, [])
  return settled
}

/** Screens that are of no one build. */
function BesideRail({ backupDue }: { backupDue: boolean }) {
  return (
    <div className="mt-3 border-t border-rule pt-3 max-[800px]:m-0 max-[800px]:flex max-[800px]:flex-wrap max-[800px]:border-0 max-[800px]:p-0">
      <RailLink to="/shelf" icon={<Archive size={16} aria-hidden="true" />}>
        Shelf
      </RailLink>
      <RailLink to="/parcels" end icon={<Truck size={16} aria-hidden="true" />}>
        All parcels
      </RailLink>
      <RailLink to="/ledgers" icon={<Coins size={16} aria-hidden="true" />}>
        All ledgers
      </RailLink>
      <RailLink to="/shops" icon={<Store size={16} aria-hidden="true" />}>
        Shops
      </RailLink>
      <RailLink to="/catalogue" icon={<BookOpen size={16} aria-hidden="true" />}>
        Catalogue
      </RailLink>
      <RailLink
        to="/data"
        icon={<Database size={16} aria-hidden="true" className="shrink-0" />}
        {...(backupDue ? { state: 'back up now' } : {})}
      >
        Data
      </RailLink>
    </div>
  )
}

/** Screens that belong to no build, and are visited while one works on one. */
const BESIDE = /^\/(shelf|shops|catalogue|parcels|ledgers)(\/|$)/

/** The build that is open; on the shelf, the shops and in the catalogue the one that was open before, while it is there. */
function useBuildAtHand(opened: BuildId | undefined): BuildId | undefined {
  const { pathname } = useLocation()
  const { builds } = useRecords()
  const [last, setLast] = useState(opened)
  if (opened !== undefined && opened !== last) setLast(opened)
  if (opened !== undefined) return opened
  return BESIDE.test(pathname) && builds.some((b) => b.id === last) ? last : undefined
}

/** `?demo` on any address loads the demo into an empty profile; data that is there is left alone. */
function useDemoFromAddress() {
  const { params, change } = useAddress()
  const records = useRecords()
  const latest = useRef(records)
  useEffect(() => {
    latest.current = records
  })
  const { builds } = records
  const asked = params.has('demo')
  const empty = builds.length === 0
  const begun = useRef(false)
  useEffect(() => {
    if (!asked) return
    // It leaves the address once there is a build to be seen.
    if (!empty) change({ demo: null })
    else if (!begun.current) {
      begun.current = true
      // Who writes it in the address knows what comes.
      void loadDemo(latest.current, { quiet: true })
    }
  }, [asked, empty, change])
}

function BuildRail({ id }: { id: BuildId }) {
  const tally = useTally(id)
  const { purchase, age } = usePlan(tally)
  const orders = useOrders(id)
  const net = useNetCost(tally)
  if (!tally) return null
  const { coverage, need, shortfall } = tally.result
  const owned = tally.snapshot.copies.filter((c) => c.state !== 'to-buy').length
  return (
    <>
      <Suspense>{tally.snapshot.design.lookout && <LookoutWatch key={id} snapshot={tally.snapshot} />}</Suspense>
      <Steps
        id={id}
        coverage={coverage}
        states={{
          brief: need === 0 ? 'nothing yet' : `${Math.floor((coveredPieces(coverage) / need) * 100)}% covered`,
          donors: plural(owned, 'copy', 'copies'),
          design: plural(need, 'piece'),
          tally: `${formatNumber(coverage.short)} short`,
          colours: `${tally.result.coloursUsed} used`,
          buy: purchase
            ? purchase.fault !== undefined
              ? 'plan unsound'
              : age === 'ordered'
                ? 'ordered'
                : age === 'old'
                  ? 'plan is old'
                  : age === 'elsewhere'
                    ? 'plan of a file'
                    : 'plan kept'
            : tally.now.build.rules.sources !== 'donors, shelf and shops'
              ? 'not allowed'
              : shortfall.size > 0
                ? 'no plan'
                : 'not needed',
          parcels: parcelWords(orders),
          make: builtWords(tally),
          ledger: net === 0 ? 'nothing paid' : formatMoney(net, tally.now.build.currency),
        }}
      />
    </>
  )
}

/** How the orders of a build stand, in a word or two. */
function parcelWords(orders: readonly Order[]): string {
  const count = (...states: readonly OrderState[]) => orders.filter((o) => states.includes(stateOf(o))).length
  const here = count('arrived')
  const out = count('placed', 'paid', 'dispatched')
  if (here > 0) return `${here} to check in`
  if (out > 0) return `${out} on the way`
  return orders.length === 0 ? 'none' : count('drafted') > 0 ? 'drafts' : 'all in'
}

/** How much of a build is in its model, in a word or two. */
function builtWords({ result, now }: BuildTally): string {
  const put = (now.made ?? []).reduce((n, l) => n + l.put, 0)
  return put === 0 ? 'not begun' : `${Math.min(100, Math.floor((put / Math.max(1, result.need)) * 100))}% in`
}

/** Steps without states where a build cannot be counted: its screens say why. */
class RailBoundary extends Component<{ fallback: ReactNode; children: ReactNode }, { failed: boolean }> {
  override state = { failed: false }

  static getDerivedStateFromError() {
    return { failed: true }
  }

  override render() {
    return this.state.failed ? this.props.fallback : this.props.children
  }
}

/** The steps of a build; how far each is, once its tally is made. */
function Steps({
  id,
  coverage,
  states,
}: {
  id: BuildId
  coverage?: Coverage
  states?: Record<(typeof STEPS)[number]['path'], string>
}) {
  const { builds } = useRecords()
  const build = builds.find((b) => b.id === id)
  if (!build) return null
  return (
    <div className="mt-3 border-t border-rule pt-3 max-[800px]:order-last max-[800px]:m-0 max-[800px]:flex max-[800px]:w-full max-[800px]:flex-wrap max-[800px]:items-center max-[800px]:pt-1">
      <p className={`mb-1 line-clamp-2 text-xs leading-tight text-soft ${FOLDED}`}>{build.name}</p>
      <div className="mb-2 max-[800px]:w-full">
        {coverage ? (
          <CoverageStrip coverage={coverage} height={8} />
        ) : (
          <span role="img" aria-label="Being tallied" className="flex h-2 border border-rule bg-sheet" />
        )}
      </div>
      {STEPS.map(({ path, label, icon: Icon }) => (
        <RailLink
          key={path}
          to={`/build/${encodeURIComponent(id)}/${path}`}
          icon={<Icon size={16} aria-hidden="true" className="shrink-0" />}
          {...(states && { state: states[path] })}
        >
          {label}
        </RailLink>
      ))}
    </div>
  )
}

function RailLink({
  to,
  icon,
  children,
  state,
  end = false,
}: {
  to: string
  icon: ReactNode
  children: ReactNode
  state?: string
  end?: boolean
}) {
  return (
    <NavLink
      to={to}
      end={end}
      title={typeof children === 'string' ? children : undefined}
      className={({ isActive }) =>
        `flex items-center gap-2 rounded-sm px-2 py-1.5 text-sm min-[801px]:max-[960px]:justify-center ${isActive ? 'bg-mark font-semibold text-ink' : 'hover:bg-raised'}`
      }
    >
      {icon}
      <span className={`flex-1 ${FOLDED}`}>{children}</span>
      {state && <span className="text-xs font-normal whitespace-nowrap text-soft max-[960px]:hidden">{state}</span>}
    </NavLink>
  )
}

function RailButton({ label, onClick, children }: { label: string; onClick: () => void; children: ReactNode }) {
  return (
    <button
      type="button"
      aria-label={label}
      title={label}
      onClick={onClick}
      className="rounded-sm border border-rule bg-sheet p-1.5 hover:bg-raised"
    >
      {children}
    </button>
  )
}
