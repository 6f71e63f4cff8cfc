import { useMemo } from 'react'
import type { ItemKey } from '../../../core/catalogue/item.ts'
import { confusables } from '../../../core/making/confusable.ts'
import { exchange } from '../../../core/making/exchange.ts'
import { atHandOf, lookAlikeGroups, stagesOf } from '../../../core/making/look-alike-stages.ts'
import { takesFor } from '../../../core/making/takes.ts'
import { explainLeftovers, type Explanation, type Swap } from '../../../core/making/swaps.ts'
import { plural } from '../../../core/units/numbers.ts'
import { ItemName } from '../../pieces/item-name.tsx'
import { doMaking, makingEdit, saveMaking } from '../../store/making.ts'
import { useRecords } from '../../store/records.tsx'
import { toast } from 'sonner'
import { Button } from '../../ui/button.tsx'
import { NumberInput } from '../../ui/fields.tsx'
import { useGrowing } from '../../ui/use-growing.ts'
import { workName } from './make-words.ts'
import type { MakeView } from './make-view.ts'

type StageAt = ReturnType<typeof stagesOf>[number]

/** Pieces that are taken for one another: how many should be left, how many are, and which swap explains it. */
export function SwapsView(view: MakeView) {
  const { at, tally } = view
  const { parts, colourById } = tally.now
  const { making } = at
  const stages = useMemo(() => stagesOf(at.works, at.unitsOf), [at.works, at.unitsOf])
  const built = useMemo(() => new Set(stages.filter((s) => s.done).flatMap((s) => [...s.needs.keys()])), [stages])
  const expected = useMemo(() => atHandOf(at.build, at.stock), [at.build, at.stock])
  const alike = useMemo(() => {
    const items = new Set(at.works.flatMap((w) => w.lines.map((l) => l.item)))
    for (const [item] of expected) items.add(item)
    return confusables([...items], parts, colourById ?? new Map())
  }, [at.works, expected, parts, colourById])
  const groups = useMemo(() => lookAlikeGroups(alike, built), [alike, built])
  const counted = useMemo(() => new Map(making.counted.map((c) => [c.item, c.qty])), [making])
  const found = useMemo(() => explainLeftovers(stages, expected, counted, alike), [stages, expected, counted, alike])
  const shown = useGrowing(groups)
  if (built.size === 0)
    return <p className="text-sm">Nothing is built yet: swaps show once pieces are in and others are left over.</p>
  const off = [...counted].filter(([item, qty]) => qty !== (expected.get(item) ?? 0)).length
  const count = (item: ItemKey, qty: number | null) => {
    const others = making.counted.filter((c) => c.item !== item)
    void saveMaking('Counted what is left', making, {
      ...making,
      counted: qty === null ? others : [...others, { item, qty }],
    })
  }
  return (
    <div className="flex min-h-0 flex-1 flex-col gap-5 overflow-auto text-sm">
      <p role="status">
        {counted.size === 0
          ? 'Count what is left of pieces that are taken for one another: a count that is off names the likely swap.'
          : off === 0
            ? `${plural(counted.size, 'kind')} counted, all as expected: no swap.`
            : `${plural(off, 'count is', 'counts are')} off: ${found.length === 1 ? 'one explanation.' : `${found.length} explanations, the likeliest first.`}`}
      </p>
      {found.map((explanation, i) => (
        <Explained key={i} nth={i + 1} explanation={explanation} stages={stages} view={view} />
      ))}
      <section aria-label="Pieces that look alike">
        <h2 className="font-display text-base font-medium">What should be left</h2>
        <p className="text-xs text-soft">
          In this build’s boxes{at.stock.donorsOnly === true ? '' : ' and loose on the shelf'}, less what is in the
          model. Look-alike colours: compare by daylight.
        </p>
        {shown.length === 0 && <p>Nothing in this build is easily taken for something else.</p>}
        <div className="grid grid-cols-2 gap-x-8 max-[1000px]:grid-cols-1">
          {shown.map((group) => (
            <ul key={group.join()} className="border-b border-rule py-1">
              {group.map((item) => {
                const should = expected.get(item) ?? 0
                const has = counted.get(item)
                return (
                  <li key={item} className="flex items-center gap-3 py-0.5">
                    <span className="min-w-0 flex-1">
                      <ItemName item={item} size={32} />
                      <span className="block pl-10 text-xs text-soft">{usesOf(item, stages)}</span>
                    </span>
                    <span className="whitespace-nowrap">should be {should}</span>
                    <NumberInput
                      aria-label={`Counted of ${item.replace('|', ', ').replace(/[pc]-/g, '').replace(/-/g, ' ')}`}
                      className="w-20"
                      value={has ?? null}
                      empty="–"
                      min={0}
                      max={1_000_000}
                      onCommit={(n) => {
                        count(item, n)
                      }}
                    />
                    <span
                      className={`w-16 ${has === undefined || has === should ? 'text-soft' : 'font-semibold text-warn'}`}
                    >
                      {has === undefined
                        ? ''
                        : has === should
                          ? 'right'
                          : `${has > should ? '+' : '−'}${Math.abs(has - should)}`}
                    </span>
                  </li>
                )
              })}
            </ul>
          ))}
        </div>
      </section>
    </div>
  )
}

/** How many pieces of an item the stages take, those that are done and those to come. */
function usesOf(item: ItemKey, stages: readonly StageAt[]): string {
  let [done, open] = [0, 0]
  for (const s of stages) {
    const qty = s.needs.get(item) ?? 0
    if (s.done) done += qty
    else open += qty
  }
  return done + open === 0 ? 'in no module' : `${done} due in what is built, ${open} to come`
}

function Explained({
  nth,
  explanation: { swaps, forgotten, lost },
  stages,
  view,
}: {
  nth: number
  explanation: Explanation
  stages: readonly StageAt[]
  view: MakeView
}) {
  return (
    <section aria-label={`Explanation ${nth}`} className="border-l-4 border-accent bg-raised px-3 py-2">
      <h2 className="font-semibold">
        {nth === 1 ? 'Likeliest' : `Or, ${nth}`}:{' '}
        {plural(
          swaps.reduce((n, s) => n + s.qty, 0),
          'swap',
        )}
        {forgotten.length > 0 &&
          `, ${plural(
            forgotten.reduce((n, f) => n + f.qty, 0),
            'piece',
          )} forgotten`}
        {lost.length > 0 &&
          `, ${plural(
            lost.reduce((n, f) => n + f.qty, 0),
            'piece',
          )} lost`}
      </h2>
      <ul className="divide-y divide-hair">
        {swaps.map((swap) => (
          <SwapRow key={`${swap.due} ${swap.used}`} swap={swap} stages={stages} view={view} />
        ))}
        {forgotten.map(({ item, qty }) => (
          <li key={item} className="flex items-center gap-2 py-1">
            <ItemName item={item} size={26} /> {qty} left over: forgotten in what is built, or never counted before.
          </li>
        ))}
        {lost.map(({ item, qty }) => (
          <li key={item} className="flex items-center gap-2 py-1">
            <ItemName item={item} size={26} /> {qty} gone and in no other piece’s place: look under the table.
          </li>
        ))}
      </ul>
    </section>
  )
}

/** One swap: where it happened, what it starves, and what mending or accepting it means. */
function SwapRow({ swap, stages, view }: { swap: Swap; stages: readonly StageAt[]; view: MakeView }) {
  const records = useRecords()
  const { at, tally, go } = view
  const { design } = tally.now
  const stageOf = new Map(stages.map((s) => [s.id, s]))
  const nameOf = (id: string): string => {
    const stage = stageOf.get(id)
    if (!stage) return 'a module'
    return `${workName(stage.work, design)}${stage.work.repeats > 1 ? ` ${stage.repeat}` : ''}`
  }
  const { name: due } = records.nameItem(swap.due)
  const { name: used } = records.nameItem(swap.used)
  const [first] = swap.where
  const likely = first && stageOf.get(first.stage)
  const uncount = () =>
    makingEdit(at.making, {
      ...at.making,
      counted: at.making.counted.filter((c) => c.item !== swap.due && c.item !== swap.used),
    })
  const accept = () => {
    if (!likely) return
    const unit = at.unitAt(likely.work, likely.repeat)
    const line = likely.work.lines.find(
      (l) => l.item === swap.due && unit.put.some((p) => p.line === l.line && p.item === swap.due),
    )
    const { groups, short } = takesFor(at.build, swap.used, swap.qty, [], at.stock)
    if (!line || short > 0) {
      toast.error(
        line
          ? `The shelf is not known to have ${swap.qty} × ${used}: correct its count first.`
          : `${due} is not in there by the records.`,
      )
      return
    }
    void doMaking(
      `Accepted ${swap.qty} × ${used} in ${nameOf(likely.id)}`,
      exchange(unit, line.line, groups, at.stock),
      records,
      { more: uncount(), quiet: false },
    )
  }
  return (
    <li className="flex flex-col gap-1 py-2">
      <p className="flex flex-wrap items-center gap-2">
        {swap.qty} × <ItemName item={swap.used} size={28} /> went in where <ItemName item={swap.due} size={28} />{' '}
        belongs
      </p>
      <p>
        {swap.where.length === 1 ? 'In ' : 'Likeliest in '}
        {swap.where
          .slice(0, 3)
          .map((w) => `${nameOf(w.stage)} (${Math.round(w.share * 100)} %)`)
          .join(', ')}
        {swap.where.length > 3 && ` and ${swap.where.length - 3} more`}.{' '}
        {swap.starves ? (
          <b className="text-warn">
            {nameOf(swap.starves.stage)} will lack {plural(swap.starves.short, 'piece')} of it.
          </b>
        ) : (
          'Nothing that is still to come will lack it.'
        )}
      </p>
      <p className="flex flex-wrap gap-2">
        {likely && (
          <Button
            onClick={() => {
              go('build', { work: likely.work.key, repeat: String(likely.repeat) })
            }}
          >
            Look into {nameOf(likely.id)}
          </Button>
        )}
        <Button
          onClick={() =>
            void saveMaking(
              `Mended a swap of ${due} and ${used}`,
              at.making,
              {
                ...at.making,
                counted: at.making.counted.filter((c) => c.item !== swap.due && c.item !== swap.used),
              },
              false,
            )
          }
        >
          Mended: {due} is in its place
        </Button>
        <Button onClick={accept}>Accept it there</Button>
      </p>
      <p className="text-xs text-soft">
        Accepted, the model keeps {used}, {due} is free, and the count covers what that starves from elsewhere.
      </p>
    </li>
  )
}
