import { FileUp, Plus, Trash2 } from 'lucide-react'
import { useState } from 'react'
import { useParams, useSearchParams } from 'react-router'
import { VISIBILITIES, type Design, type DesignLine, type Module } from '../../../core/design/design.ts'
import { NO_COVERAGE, type TallyLine } from '../../../core/planning/tally.ts'
import type { BuildId, LineId, ModuleId } from '../../../core/units/ids.ts'
import type { Change } from '../../../storage/journal-entry.ts'
import { put } from '../../../storage/journal.ts'
import { fresh } from '../../data/database.ts'
import { perform } from '../../data/perform.ts'
import { useRecords, useTally } from '../../data/records.tsx'
import { ImportDialog } from '../../import/import-dialog.tsx'
import { Button } from '../../ui/button.tsx'
import { CoverageStrip } from '../../ui/coverage-strip.tsx'
import { DataGrid, type Column } from '../../ui/data-grid.tsx'
import { CommitInput, NumberInput } from '../../ui/fields.tsx'
import { ItemName } from '../../ui/item-name.tsx'
import { NoBuild } from '../../ui/no-build.tsx'
import { QuickEntry } from '../../ui/quick-entry.tsx'
import { Figure, plural, Screen } from '../../ui/screen.tsx'

type LineRow = { readonly line: DesignLine; readonly tally: TallyLine | undefined }

export function DesignScreen() {
  const id = useParams()['build'] as BuildId
  const tally = useTally(id)
  const records = useRecords()
  const [importing, setImporting] = useState(false)
  const [params, setParams] = useSearchParams()
  const [selected, setSelected] = useState<string | undefined>()
  if (!tally) return <NoBuild />
  const { design } = tally.snapshot
  const module = design.modules.find((m) => m.id === params.get('module')) ?? design.modules[0]
  const save = (label: string, next: Design, more: readonly Change[] = [], quiet = true) =>
    void perform(label, [put('designs', [next]), ...more], { quiet })
  const replace = (label: string, next: Module, more: readonly Change[] = []) => {
    save(label, { ...design, modules: design.modules.map((m) => (m.id === next.id ? next : m)) }, more)
  }
  const addModule = () => {
    const next: Module = {
      id: `m-${fresh()}` as ModuleId,
      name: `Module ${design.modules.length + 1}`,
      repeats: 1,
      lines: [],
    }
    save(`Added ${next.name}`, { ...design, modules: [...design.modules, next] })
    setParams({ module: next.id })
  }
  const byLine = new Map(tally.result.lines.map((l) => [l.line, l]))
  const rows = (module?.lines ?? []).map((line): LineRow => ({ line, tally: byLine.get(line.id) }))
  const distinct = new Set(design.modules.flatMap((m) => m.lines.map((l) => l.item))).size
  const columns: Column<LineRow>[] = [
    {
      id: 'item',
      header: 'Piece',
      width: 'minmax(0, 2fr)',
      sort: (r) => records.nameItem(r.line.item).name,
      cell: (r) => <ItemName item={r.line.item} />,
    },
    {
      id: 'qty',
      header: 'In one',
      width: '84px',
      align: 'right',
      sort: (r) => r.line.qty,
      cell: (r) => r.line.qty,
      edit: {
        text: (r) => String(r.line.qty),
        commit: (r, text) => {
          if (!/^\d+$/.test(text) || Number(text) > 1_000_000) return 'a whole number; 0 removes the line'
          const qty = Number(text)
          if (!module || qty === r.line.qty) return undefined
          const lines =
            qty === 0
              ? module.lines.filter((l) => l.id !== r.line.id)
              : module.lines.map((l) => (l.id === r.line.id ? { ...l, qty } : l))
          replace(qty === 0 ? 'Removed a line' : `Changed a quantity to ${qty}`, { ...module, lines })
          return undefined
        },
      },
    },
    {
      id: 'need',
      header: 'Needed',
      width: '84px',
      align: 'right',
      sort: (r) => r.tally?.need ?? 0,
      cell: (r) => r.tally?.need ?? 0,
    },
    {
      id: 'strip',
      header: 'Coverage',
      width: 'minmax(90px, 1fr)',
      cell: (r) => <CoverageStrip coverage={r.tally?.coverage ?? NO_COVERAGE} />,
    },
    {
      id: 'short',
      header: 'Short',
      width: '70px',
      align: 'right',
      sort: (r) => r.tally?.coverage.short ?? 0,
      cell: (r) => r.tally?.coverage.short ?? 0,
    },
    {
      id: 'visibility',
      header: 'Where',
      width: '92px',
      sort: (r) => r.line.visibility ?? 'seen',
      cell: (r) => <span className={r.line.visibility ? '' : 'text-soft'}>{r.line.visibility ?? 'seen'}</span>,
      edit: {
        text: (r) => r.line.visibility ?? 'seen',
        commit: (r, text) => {
          const word = text.trim().toLowerCase()
          const meant = word === '' ? 'seen' : VISIBILITIES.find((known) => known.startsWith(word))
          if (!meant) return 'seen, hidden or structural; s, h or st will do'
          if (!module || meant === (r.line.visibility ?? 'seen')) return undefined
          const { visibility: _, ...bare } = r.line
          const line = meant === 'seen' ? bare : { ...bare, visibility: meant }
          replace(`Marked a line as ${meant}`, {
            ...module,
            lines: module.lines.map((l) => (l.id === line.id ? line : l)),
          })
          return undefined
        },
      },
    },
    {
      id: 'note',
      header: 'Note',
      width: 'minmax(0, 1fr)',
      cell: (r) => <span className="truncate">{r.line.note ?? ''}</span>,
      edit: {
        text: (r) => r.line.note ?? '',
        commit: (r, text) => {
          if (!module || text === (r.line.note ?? '')) return undefined
          const { note: _, ...bare } = r.line
          const line = text.trim() === '' ? bare : { ...bare, note: text.trim().slice(0, 500) }
          replace('Changed a note', { ...module, lines: module.lines.map((l) => (l.id === line.id ? line : l)) })
          return undefined
        },
      },
    },
  ]
  return (
    <Screen
      title="Design"
      headline={
        design.modules.length === 0 ? (
          'The design is empty.'
        ) : (
          <>
            <Figure>{plural(design.modules.length, 'module')}</Figure>, repeated, come to{' '}
            <Figure>{plural(tally.result.need, 'piece')}</Figure> of{' '}
            <Figure>{plural(distinct, 'different item')}</Figure>.
          </>
        )
      }
      actions={
        <>
          <Button
            look="primary"
            onClick={() => {
              setImporting(true)
            }}
          >
            <FileUp size={16} aria-hidden="true" /> Import a parts list
          </Button>
          <Button onClick={addModule}>
            <Plus size={16} aria-hidden="true" /> Add a module
          </Button>
        </>
      }
    >
      {design.modules.length === 0 ? (
        <p className="max-w-xl text-sm">
          Import a parts list with part, colour and quantity (and module, if it has one), or add a module and type its
          lines.
        </p>
      ) : (
        <div className="grid min-h-0 flex-1 grid-cols-[15rem_minmax(0,1fr)] gap-5">
          <ul aria-label="Modules" className="min-h-0 overflow-auto border border-rule bg-sheet">
            {design.modules.map((m) => (
              <li key={m.id}>
                <button
                  type="button"
                  aria-current={m.id === module?.id}
                  className={`w-full border-b border-hair px-3 py-2 text-left text-sm ${m.id === module?.id ? 'bg-mark' : 'hover:bg-raised'}`}
                  onClick={() => {
                    setParams({ module: m.id })
                  }}
                >
                  <span className="flex justify-between gap-2">
                    <span className="truncate font-semibold">{m.name}</span>
                    <span className="text-soft">{m.repeats === 1 ? '' : `${m.repeats} times`}</span>
                  </span>
                  <span className="mt-1 block">
                    <CoverageStrip coverage={tally.result.byModule.get(m.id) ?? NO_COVERAGE} height={8} />
                  </span>
                </button>
              </li>
            ))}
          </ul>
          {module && (
            <div className="flex min-h-0 flex-col gap-3">
              <div className="flex flex-wrap items-center gap-3">
                <span className="flex items-center gap-2 text-sm font-semibold">
                  Module
                  <CommitInput
                    aria-label="Module name"
                    value={module.name}
                    maxLength={120}
                    className="w-64 font-normal"
                    onCommit={(name) => {
                      if (name.trim() !== '') replace('Renamed a module', { ...module, name: name.trim() })
                    }}
                  />
                </span>
                <span className="flex items-center gap-2 text-sm font-semibold">
                  Repeats
                  <NumberInput
                    aria-label="Repeats"
                    value={module.repeats}
                    min={0}
                    max={10_000}
                    className="w-20 font-normal"
                    onCommit={(n) => {
                      if (n !== null) replace(`${module.name}: ${n} repeats`, { ...module, repeats: n })
                    }}
                  />
                </span>
                <Button
                  onClick={() => {
                    save(
                      `Removed module ${module.name}`,
                      { ...design, modules: design.modules.filter((m) => m.id !== module.id) },
                      [],
                      false,
                    )
                  }}
                >
                  <Trash2 size={14} aria-hidden="true" /> Remove the module
                </Button>
              </div>
              <QuickEntry
                onAdd={(typed, more) => {
                  let lines = module.lines
                  for (const { item, qty } of typed) {
                    const held = lines.find((l) => l.item === item)
                    lines = held
                      ? lines.map((l) => (l === held ? { ...l, qty: l.qty + qty } : l))
                      : [...lines, { id: `n-${fresh()}` as LineId, item, qty }]
                  }
                  const [first] = typed
                  const label =
                    typed.length === 1 && first ? `Added ${first.qty} ${first.name}` : `Added ${typed.length} lines`
                  replace(label, { ...module, lines }, more)
                }}
              />
              <DataGrid
                label={`Lines of ${module.name}`}
                columns={columns}
                rows={rows}
                rowKey={(r) => r.line.id}
                selected={selected}
                onSelect={(r) => {
                  setSelected(r.line.id)
                }}
                empty="No lines yet. Type one above."
              />
            </div>
          )}
        </div>
      )}
      <ImportDialog kind="design" build={id} open={importing} onOpenChange={setImporting} />
    </Screen>
  )
}
