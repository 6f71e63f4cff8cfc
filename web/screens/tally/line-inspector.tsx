import { useMemo } from 'react'
import { Link } from 'react-router'
import type { Snapshot } from '../../../core/netting/snapshot.ts'
import { usableOffers } from '../../../core/offers/market.ts'
import { release } from '../../../core/shelf/reservations.ts'
import type { Tally, TallyLine } from '../../../core/netting/tally.ts'
import { withLines } from '../../../core/design/arrange-modules.ts'
import { FREEDOMS } from '../../../core/design/design.ts'
import { formatMoney } from '../../../core/units/money.ts'
import type { BuildId } from '../../../core/units/ids.ts'
import { edit, editAll } from '../../../storage/journal.ts'
import { useAboutCount } from '../../store/about-count.ts'
import type { Count } from '../../store/count-store.ts'
import { perform } from '../../store/perform.ts'
import { AnswerNote } from '../../pieces/answer-note.tsx'
import { useRecords } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'
import { CoverageLegend, CoverageStrip } from '../../pieces/coverage-strip.tsx'
import { Choice } from '../../ui/fields.tsx'
import { ItemName } from '../../pieces/item-name.tsx'
import { PiecePicture } from '../../pieces/piece-picture.tsx'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import { sourceWords } from '../../pieces/source-words.ts'
import { STAND_IN_WORDS } from '../../pieces/stand-in-words.ts'
import { LineChoicesPanel } from './line-choices-panel.tsx'
import { RemediesPanel } from './remedies-panel.tsx'

/** One line opened: which piece comes from where, why the rest is short, what is on offer. */
export function LineInspector({
  line,
  snapshot,
  result,
  count,
}: {
  line: TallyLine
  snapshot: Snapshot
  result: Tally
  count: Count
}) {
  const records = useRecords()
  const { part, colour } = records.nameItem(line.item)
  const module = snapshot.design.modules.find((m) => m.id === line.module)
  const offers = useMemo(() => {
    const { currency, rules } = snapshot.build
    const offers = records.offers.filter((o) => o.item === line.wanted)
    return usableOffers({ offers, shops: records.shops }, currency, rules).sort((p, q) => p.price - q.price)
  }, [records.shops, records.offers, line.wanted, snapshot.build])
  const [best] = offers
  return (
    <aside
      aria-label="Line"
      className="flex min-h-0 flex-col gap-3 overflow-auto border-l border-rule pl-5 text-sm max-[960px]:overflow-visible max-[960px]:border-l-0 max-[960px]:pl-0"
    >
      <div className="flex items-center gap-3">
        <PiecePicture shape={part.shape} hex={colour.hex} finish={colour.finish} size={84} />
        <div>
          <h2 className="text-base leading-tight font-semibold">{part.name}</h2>
          <p className="text-soft">
            {colour.name}, about {(part.shape.mass / 1000).toFixed(1)} g
          </p>
        </div>
      </div>
      <p>
        {line.visibility !== 'seen' && <b>{line.visibility === 'hidden' ? 'Hidden. ' : 'Structural. '}</b>}
        {line.path.map((id) => snapshot.design.modules.find((m) => m.id === id)?.name ?? 'a module').join(' › ')}:{' '}
        {line.each} in one{module && module.repeats !== 1 ? `, ${module.repeats} times` : ''}, so{' '}
        <b>{formatNumber(line.need)} needed</b>.
      </p>
      <CoverageStrip coverage={line.coverage} height={16} />
      <CoverageLegend coverage={line.coverage} />
      <div>
        <h3 className="font-semibold">From where</h3>
        {line.pegs.length === 0 ? (
          <p className="text-soft">No donor copy and no place on the shelf has a piece of it to spare.</p>
        ) : (
          <ul className="mt-1 divide-y divide-hair border-y border-hair">
            {line.pegs.map(({ source, item, qty, standIn, by, points }, i) => (
              <li key={i} className="flex items-center justify-between gap-3 py-1.5">
                <span className="min-w-0">
                  {standIn && <ItemName item={item} size={28} />}
                  {standIn && (
                    <span className="block font-semibold text-warn">
                      {STAND_IN_WORDS[standIn]}
                      {points !== undefined && points > 0 && ` (${plural(points, 'point')})`}
                    </span>
                  )}
                  {sourceWords(source, snapshot)}
                  {by && <span className="text-accent">{by === 'pin' ? ', pinned' : ', accepted'}</span>}
                </span>
                <b>{formatNumber(qty)}</b>
              </li>
            ))}
          </ul>
        )}
      </div>
      {line.coverage.short > 0 && (
        <div className="border-l-4 border-bad bg-bad-wash px-3 py-2">
          <h3 className="font-semibold">{plural(line.coverage.short, 'piece')} short</h3>
          <WhyShortNote line={line} snapshot={snapshot} count={count} />
          {line.buyInstead > 0 && (snapshot.build.rules.pointPrice > 0 || !result.weighed) && (
            <p className="mt-1">
              {line.buyInstead} of them could be covered from what is there, but{' '}
              {result.weighed
                ? 'at what a point of compromise is worth to you buying is better.'
                : 'your aim is the least compromise, and a shop sells the piece itself.'}
            </p>
          )}
          <p className="mt-1">
            {best ? (
              <>
                On offer in {plural(new Set(offers.map((o) => o.shop)).size, 'shop')} from{' '}
                <b>{formatMoney(best.price, snapshot.build.currency)}</b> each.{' '}
              </>
            ) : (
              'No offer is known yet. '
            )}
            <Link className="text-accent underline" to={`/build/${encodeURIComponent(snapshot.build.id)}/buy`}>
              Buy
            </Link>
          </p>
        </div>
      )}
      {line.coverage.short > 0 && (
        <RemediesPanel
          line={line}
          snapshot={snapshot}
          result={result}
          best={best}
          shops={new Set(offers.map((o) => o.shop)).size}
        />
      )}
      <LineFreedom line={line} snapshot={snapshot} />
      <LineChoicesPanel line={line} snapshot={snapshot} count={count} />
      {line.wanted !== line.item && (
        <p className="text-warn">
          {line.group} comes in {records.nameItem(line.wanted).colour.name}: the colour that serves the whole group
          best.
        </p>
      )}
      {line.interim && (
        <p>
          Until it arrives: {formatNumber(line.interim.qty)} × {records.nameItem(line.interim.item).name} can stand in.
        </p>
      )}
      {line.pegs.some((p) => p.standIn === 'length') && (
        <p className="border-l-4 border-warn bg-raised px-3 py-2">
          Cutting: measure twice, cut away from your hands on a mat, keep blades and offcuts from children.
        </p>
      )}
      {line.estimate && <p className="text-warn">Counts rest on an estimate: count the place again to be sure.</p>}
    </aside>
  )
}

/** How far the colour of the line may go, set where its effect is seen. */
function LineFreedom({ line, snapshot }: { line: TallyLine; snapshot: Snapshot }) {
  const { design } = snapshot
  const drawn = design.modules.flatMap((m) => m.lines).find((l) => l.id === line.line)
  if (!drawn) return null
  return (
    <div className="flex items-center justify-between gap-2">
      <span className="font-semibold">Its colour</span>
      <Choice
        label="Colour of the line"
        value={drawn.freedom ?? 'rule'}
        options={[
          { value: 'rule', label: 'as the house rules say' },
          ...FREEDOMS.map((f) => ({ value: f as string, label: f })),
        ]}
        onChange={(value) => {
          const { freedom: _, ...bare } = drawn
          const freedom = FREEDOMS.find((f) => f === value)
          const next = freedom ? { ...bare, freedom } : bare
          void perform(`The line’s colour: ${value === 'rule' ? 'as the rules say' : value}`, [
            edit(
              'designs',
              design,
              withLines(design, (l) => (l.id === drawn.id ? next : l)),
            ),
          ])
        }}
      />
    </div>
  )
}

/** Why pieces are short: where those are that exist, and what keeps the line from them. */
function WhyShortNote({ line, snapshot, count }: { line: TallyLine; snapshot: Snapshot; count: Count }) {
  const { builds, holdings } = useRecords()
  const answer = useAboutCount(count, 'why', line.id)
  const { rules } = snapshot.build
  const boxes = rules.sources === 'donors' ? 'the donor boxes' : 'the donor boxes and the shelf'
  if (!answer.value || answer.busy) return <AnswerNote answer={answer} />
  const why = answer.value
  const nameOf = (id: BuildId) => builds.find((b) => b.id === id)?.name ?? 'another build'
  const takers = new Map<string, number>()
  for (const { module, qty } of why.taken) {
    const name = snapshot.design.modules.find((m) => m.id === module)?.name ?? 'another module'
    takers.set(name, (takers.get(name) ?? 0) + qty)
  }
  const used = why.here + [...takers.values()].reduce((n, q) => n + q, 0)
  const elsewhere =
    why.reserved.length > 0 || why.models.length > 0 || why.worn + why.notCounted + why.doubted + why.leftOver > 0
  const whose = [...(why.here > 0 ? [`${why.here} here`] : []), ...[...takers].map(([name, n]) => `${n} to ${name}`)]
  return (
    <ul className="flex flex-col gap-1">
      <li>
        {used === 0
          ? elsewhere
            ? `No build uses a piece of it from ${boxes}.`
            : `There is none of it in ${boxes}.`
          : `${used} of it ${used === 1 ? 'is' : 'are'} used${whose.length > 0 ? `: ${whose.join(', ')}` : ''}.`}
      </li>
      {why.reserved.map(({ build, qty }) => (
        <li key={build} className="flex flex-wrap items-center justify-between gap-2">
          <span>
            {plural(qty, 'piece')} on the shelf {qty === 1 ? 'is' : 'are'} reserved for {nameOf(build)}.
          </span>
          <Button
            className="px-2"
            onClick={() => {
              const held = holdings.filter((h) => h.item === why.item)
              void perform(
                `Released ${plural(qty, 'piece')} reserved for ${nameOf(build)}`,
                editAll('holdings', held, release(build, held)),
              )
            }}
          >
            Release {qty === 1 ? 'it' : 'them'}
          </Button>
        </li>
      ))}
      {why.models.map(({ place, qty }) => (
        <li key={place}>
          {plural(qty, 'piece')} {qty === 1 ? 'is' : 'are'} in{' '}
          {snapshot.places.find((p) => p.id === place)?.name ?? 'a finished model'}, which may not be taken apart.
        </li>
      ))}
      {why.worn > 0 && (
        <li>
          {plural(why.worn, 'piece')} on the shelf {why.worn === 1 ? 'is' : 'are'} in a worse condition than allowed
          here.
        </li>
      )}
      {why.notCounted > 0 && (
        <li>
          {plural(why.notCounted, 'piece')} on the shelf {why.notCounted === 1 ? 'does' : 'do'} not count: pieces may
          come from donor boxes only.
        </li>
      )}
      {why.doubted > 0 && (
        <li>
          {plural(why.doubted, 'piece')} of estimated holdings {why.doubted === 1 ? 'is' : 'are'} not counted on
          (estimates count {rules.estimatePercent}%).
        </li>
      )}
      {why.leftOver > 0 && (
        <li>
          {plural(why.leftOver, 'piece')} {why.leftOver === 1 ? 'is' : 'are'} left over: a decision by hand, a length or
          the colour of its group keeps this line from {why.leftOver === 1 ? 'it' : 'them'}.
        </li>
      )}
    </ul>
  )
}
