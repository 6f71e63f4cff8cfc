import { Plus } from 'lucide-react'
import { useMemo, useState } from 'react'
import { Link } from 'react-router'
import { costOf, type Posting } from '../../../core/settling/postings.ts'
import { correctedSum } from '../../../core/settling/typed-entry.ts'
import { decimal, formatMoney } from '../../../core/units/money.ts'
import { plural } from '../../../core/units/numbers.ts'
import { add, edit } from '../../../storage/journal.ts'
import { AddPicture } from '../../pieces/add-picture.tsx'
import { perform } from '../../store/perform.ts'
import { useRecords } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'
import { DataGrid, type Column } from '../../ui/data-grid.tsx'
import { useDialogFromAddress } from '../../ui/use-act-from-address.ts'
import { CorrectEntry } from './correct-entry.tsx'
import { EntryDialog } from './entry-dialog.tsx'
import type { LedgerView } from './ledger-view.ts'

/** Every movement of the build's money: those that came by themselves and those that were typed. */
export function EntriesView({ tally, settlement: { postings, movements: rows }, today }: LedgerView) {
  const { build } = tally.now
  const [adding, setAdding] = useDialogFromAddress('entry')
  const [chosen, setChosen] = useState<string | undefined>()
  const posting = rows.find((r) => r.key === chosen)
  const columns = useMemo((): Column<Posting>[] => {
    const whence = {
      order: 'an order',
      copy: 'a copy',
      plan: 'a plan',
      purchase: 'a purchase plan',
      sale: 'a sale',
      entry: 'typed',
    } as const
    return [
      {
        id: 'on',
        header: 'Day',
        width: '104px',
        sort: (p) => p.on ?? '',
        cell: (p) => p.on ?? <span className="text-soft">not noted</span>,
        text: (p) => p.on ?? '',
      },
      {
        id: 'text',
        header: 'What',
        width: 'minmax(0, 2.4fr)',
        sort: (p) => p.text,
        cell: (p) => <span className="truncate">{p.text}</span>,
        text: (p) => p.text,
      },
      {
        id: 'category',
        header: 'Category',
        width: 'minmax(0, 1fr)',
        sort: (p) => p.category,
        cell: (p) => p.category,
      },
      { id: 'from', header: 'By', width: '84px', sort: (p) => whence[p.of.kind], cell: (p) => whence[p.of.kind] },
      {
        id: 'minor',
        header: build.currency,
        width: '112px',
        align: 'right',
        sort: (p) => costOf(p),
        // What came in is told by a sign and a word, for readers of either.
        cell: (p) => (costOf(p) < 0 ? `in ${decimal(-costOf(p), build.currency)}` : decimal(costOf(p), build.currency)),
        text: (p) => decimal(costOf(p), build.currency),
      },
    ]
  }, [build.currency])
  return (
    <div className="flex min-h-0 flex-1 gap-6 max-[960px]:flex-col">
      <div className="flex min-h-0 min-w-0 flex-1 flex-col gap-3">
        <div className="flex flex-wrap items-center gap-3 text-sm">
          <Button
            look="primary"
            onClick={() => {
              setAdding(true)
            }}
          >
            <Plus size={14} aria-hidden="true" /> Add an entry
          </Button>
          <span className="text-soft">
            {plural(rows.length, 'entry', 'entries')}. Orders, claims, copies, plans and sales enter themselves; a
            mistake is corrected by another entry.
          </span>
        </div>
        <DataGrid
          rowHeight={32}
          label="Entries"
          columns={columns}
          rows={rows}
          rowKey={(p) => p.key}
          selected={chosen}
          onSelect={(p) => {
            setChosen(p.key)
          }}
          empty="Nothing was paid yet. What is paid for orders enters itself; anything else is added by hand."
        />
      </div>
      {posting && <EntryDetails key={posting.key} posting={posting} postings={postings} tally={tally} today={today} />}
      {adding && <EntryDialog build={build} design={tally.now.design} today={today} onOpenChange={setAdding} />}
    </div>
  )
}

function EntryDetails({
  posting,
  postings,
  tally,
  today,
}: Pick<LedgerView, 'tally' | 'today'> & { posting: Posting; postings: readonly Posting[] }) {
  const { pictures } = useRecords()
  const { build, design } = tally.now
  const { of, minor, text, on, category, stage } = posting
  const corrections = postings.filter((p) => p.of.kind === 'entry' && p.of.entry.corrects === posting.key)
  const typed = of.kind === 'entry' ? of.entry : undefined
  const receipt = typed?.receipt === undefined ? undefined : pictures.find((p) => p.id === typed.receipt)
  const module = design.modules.find((m) => m.id === posting.module)
  const paid =
    typed?.amount ?? (of.kind === 'sale' ? { minor: of.sale.got ?? 0, currency: of.sale.currency } : undefined)
  return (
    <aside aria-label="Entry" className="flex w-80 shrink-0 flex-col gap-2 overflow-auto text-sm max-[960px]:w-full">
      <h2 className="font-display text-base font-medium">{text}</h2>
      <p>
        <b>{formatMoney(minor, build.currency)}</b>
        {stage === 'back' ? ' paid back' : ''}, {category}, {on ?? 'day not noted'}
        {module && `, for ${module.name}`}
      </p>
      {paid && paid.currency !== build.currency && (
        <p>As {formatMoney(paid.minor, paid.currency)}, at the rate of that day.</p>
      )}
      {of.kind === 'order' && (
        <Link
          className="text-accent underline"
          to={`/build/${encodeURIComponent(build.id)}/parcels?order=${of.order.id}`}
        >
          Open the order
        </Link>
      )}
      {of.kind === 'copy' && (
        <Link className="text-accent underline" to={`/build/${encodeURIComponent(build.id)}/donors`}>
          Open the donors
        </Link>
      )}
      {typed?.corrects !== undefined && (
        <p>Corrects {postings.find((p) => p.key === typed.corrects)?.text ?? 'an entry that is gone'}.</p>
      )}
      {corrections.length > 0 && (
        <p>
          With {plural(corrections.length, 'correction')}:{' '}
          <b>{formatMoney(correctedSum(posting, postings), build.currency)}</b>
        </p>
      )}
      {receipt && <img src={receipt.data} alt={`Receipt: ${receipt.name}`} className="border border-rule" />}
      {typed && (
        <AddPicture
          label="Receipt"
          onPicture={(picture) =>
            void perform('Attached a receipt', [
              add('pictures', [picture]),
              edit('entries', typed, { ...typed, receipt: picture.id }),
            ])
          }
        >
          {receipt ? 'Another receipt' : 'Attach a receipt'}
        </AddPicture>
      )}
      {typed?.corrects === undefined && !posting.key.includes(' share ') && (
        <CorrectEntry posting={posting} postings={postings} build={build} today={today} />
      )}
    </aside>
  )
}
