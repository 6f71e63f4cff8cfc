import { useMemo, useState } from 'react'
import type { ItemKey } from '../../../core/catalogue/item.ts'
import { missingIn, type CopyFound } from '../../../core/orders/copy-check-in.ts'
import type { Order, OrderedCopy } from '../../../core/orders/order.ts'
import { splitItemKey } from '../../../core/catalogue/item.ts'
import { plural } from '../../../core/units/numbers.ts'
import { bookCopy } from '../../store/orders.ts'
import { useRecords } from '../../store/records.tsx'
import { ItemName } from '../../pieces/item-name.tsx'
import { QuickEntry } from '../../pieces/quick-entry.tsx'
import { Button } from '../../ui/button.tsx'
import { Tick } from '../../ui/fields.tsx'
import { ViewSwitch } from '../../ui/view-switch.tsx'

const OPENED = { sealed: 'Sealed', opened: 'Opened' } as const

/** A donor copy that came: sealed, or opened and looked through by stages, figures, sheets and pieces. */
export function CopyBench({ order, ordered, today }: { order: Order; ordered: OrderedCopy; today: string }) {
  const { copies, sets, nameItem } = useRecords()
  const copy = copies.find((c) => c.id === ordered.id)
  const set = sets.find((s) => s.id === copy?.setId)
  const [opened, setOpened] = useState<keyof typeof OPENED>('opened')
  const [gone, setGone] = useState<ReadonlySet<string>>(new Set())
  const [figures, setFigures] = useState<ReadonlySet<string>>(new Set())
  const [sheets, setSheets] = useState<ReadonlySet<string>>(new Set())
  const [missing, setMissing] = useState<CopyFound['missing']>([])
  const [claiming, setClaiming] = useState(true)
  const parts = useMemo(() => {
    const stages = set?.stages.filter((s) => copy?.stages === 'all' || copy?.stages.includes(s.id)) ?? []
    const names = [...new Set((set?.lines ?? []).flatMap((l) => l.figure ?? []))]
    const bent = (set?.lines ?? []).filter((l) => splitItemKey(l.item).part.startsWith('p-sticker'))
    return { stages, names, bent: [...new Set(bent.map((l) => l.item))] }
  }, [set, copy])
  if (!copy || !set)
    return (
      <p role="alert" className="border-l-4 border-warn bg-raised px-3 py-2 text-sm">
        {ordered.label}: the copy or its set is no longer known. Add it on Donors as a copy that is there.
      </p>
    )
  const found: CopyFound = {
    sealed: opened === 'sealed',
    stagesGone: [...gone],
    figuresGone: [...figures],
    missing: [...missing, ...[...sheets].map((item) => ({ item: item as ItemKey, qty: 1 }))],
  }
  const lacks = missingIn(set, copy, found).reduce((n, m) => n + m.qty, 0) - copy.missing.reduce((n, m) => n + m.qty, 0)
  const flip = (of: ReadonlySet<string>, id: string) =>
    new Set(of.has(id) ? [...of].filter((x) => x !== id) : [...of, id])
  const words = [
    ...[...gone].map((id) => `stage ${set.stages.find((s) => s.id === id)?.name ?? id}`),
    ...figures,
    ...[...sheets].map((item) => `${nameItem(item as ItemKey).name} bent`),
    ...missing.map((m) => `${m.qty} ${nameItem(m.item).name}`),
  ].join(', ')
  const fieldset = 'flex flex-wrap gap-x-5 gap-y-1'
  return (
    <section aria-label={copy.label} className="flex max-w-3xl flex-col gap-3 border-y border-rule py-3 text-sm">
      <div className="flex flex-wrap items-center justify-between gap-3">
        <h2 className="text-base font-semibold">{copy.label}</h2>
        <ViewSwitch label="Box" views={OPENED} view={opened} onChange={setOpened} />
      </div>
      {opened === 'sealed' ? (
        <p className="text-soft">Taken as complete. What turns out to be missing later is noted on Donors.</p>
      ) : (
        <>
          <p className="text-soft">Untick what is not there. All other pieces are taken to be as they should.</p>
          <div role="group" aria-label="Stages" className={fieldset}>
            {parts.stages.map((s) => (
              <Tick
                key={s.id}
                checked={!gone.has(s.id)}
                onChange={() => {
                  setGone(flip(gone, s.id))
                }}
              >
                {s.name}
              </Tick>
            ))}
          </div>
          {parts.names.length > 0 && (
            <div role="group" aria-label="Figures" className={fieldset}>
              {parts.names.map((name) => (
                <Tick
                  key={name}
                  checked={!figures.has(name)}
                  onChange={() => {
                    setFigures(flip(figures, name))
                  }}
                >
                  {name}
                </Tick>
              ))}
            </div>
          )}
          {parts.bent.map((item) => (
            <Tick
              key={item}
              checked={!sheets.has(item)}
              onChange={() => {
                setSheets(flip(sheets, item))
              }}
            >
              {nameItem(item).name}: there and flat
            </Tick>
          ))}
          <QuickEntry
            label="Missing piece"
            action="It is missing"
            onAdd={(typed) => {
              setMissing((before) => [...before, ...typed.map(({ item, qty }) => ({ item, qty }))])
            }}
          />
          {missing.length > 0 && (
            <ul>
              {missing.map((m, i) => (
                <li key={i} className="flex items-center gap-3">
                  <b>{m.qty}</b> <ItemName item={m.item} size={24} />
                  <Button
                    look="bare"
                    onClick={() => {
                      setMissing(missing.filter((_, j) => j !== i))
                    }}
                  >
                    It is there
                  </Button>
                </li>
              ))}
            </ul>
          )}
        </>
      )}
      <div className="flex flex-wrap items-center gap-4">
        <Button
          look="primary"
          onClick={() =>
            void bookCopy(
              order,
              copy,
              set,
              found,
              today,
              claiming && lacks > 0
                ? { note: words, damaged: gone.size + figures.size + missing.length === 0 }
                : undefined,
            )
          }
        >
          Check the copy in
        </Button>
        {opened === 'opened' && (
          <span>{lacks > 0 ? `${plural(lacks, 'piece')} fewer than was said.` : 'Complete, as far as was said.'}</span>
        )}
        {lacks > 0 && opened === 'opened' && (
          <Tick checked={claiming} onChange={setClaiming}>
            Claim it from the seller
          </Tick>
        )}
      </div>
    </section>
  )
}
