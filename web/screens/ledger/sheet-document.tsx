import type { ItemKey } from '../../../core/catalogue/item.ts'
import type { BuildSheet, SheetModule, SheetStage, SheetSwap } from '../../../core/settling/build-sheet.ts'
import { formatMoney } from '../../../core/units/money.ts'
import { formatNumber, plural } from '../../../core/units/numbers.ts'
import type { RecordOf } from '../../../core/records/registry.ts'
import { PiecePicture } from '../../pieces/piece-picture.tsx'
import { STAND_IN_WORDS } from '../../pieces/stand-in-words.ts'
import type { RecordsView } from '../../store/records.tsx'

/** Rows with pictures at most in the modules; beyond that pieces are drawn in the list of all alone. */
const MOST_DRAWN = 1500

type Picture = Pick<RecordOf<'pictures'>, 'name' | 'data'>

/** All that stands in a sheet. What is not asked for is not among it. */
export type SheetContent = {
  readonly title: string
  readonly sheet: BuildSheet
  readonly currency: string
  /** The day it was made, and that of the offers its prices rest on, where that is known. */
  readonly made: string
  readonly pricesOf: string | undefined
  readonly note: string | undefined
  readonly moduleNotes: boolean
  /** What it cost its builder, where that is to be told: so far and at completion, minor units. */
  readonly paid: { readonly soFar: number; readonly total: number } | undefined
  readonly before: Picture | undefined
  readonly after: Picture | undefined
  readonly pictures: ReadonlyMap<string, Picture>
  readonly nameItem: RecordsView['nameItem']
  /** Shown within a screen, which has a heading of its own. */
  readonly within: boolean
}

/** The sheet as it is read on screen, on paper and in its file; it needs nothing around it. */
export function SheetDocument(content: SheetContent) {
  const { title, sheet, made, note, before, after, withDrawings } = {
    ...content,
    withDrawings: content.sheet.modules.reduce((n, m) => n + m.lines.length, 0) <= MOST_DRAWN,
  }
  const Title = content.within ? 'h2' : 'h1'
  return (
    <article className="build-sheet">
      <Title className="title">{title}</Title>
      <p>
        {plural(sheet.pieces, 'piece')} of {plural(sheet.all.length, 'item')} in{' '}
        {plural(sheet.modules.length, 'module')}. <span className="soft">Made on {made}.</span>
      </p>
      {note !== undefined && note !== '' && <p>{note}</p>}
      {(before ?? after) && (
        <div className="pair">
          <Photo picture={before} label="Before" />
          <Photo picture={after} label="After" />
        </div>
      )}
      <Credits {...content} />
      <section>
        <h2>Mind</h2>
        <ul>
          {sheet.cautions.map((c) => (
            <li key={c}>{c}</li>
          ))}
        </ul>
      </section>
      <Needs {...content} />
      {sheet.changes && <Changes {...content} changes={sheet.changes} />}
      <Swaps {...content} />
      <section className="long">
        <h2>Parts by module</h2>
        {!withDrawings && <p className="soft">Pieces are drawn in the list of all parts.</p>}
        {sheet.modules.map((m) => (
          <ModuleParts key={m.id} module={m} content={content} drawn={withDrawings} />
        ))}
      </section>
      <section className="long">
        <h2>All parts</h2>
        <table>
          <thead>
            <tr>
              <th>Part</th>
              <th className="n">Pieces</th>
              <th className="n">From donors</th>
              <th className="n">Still needed</th>
            </tr>
          </thead>
          <tbody>
            {sheet.all.map((a) => (
              <tr key={a.item}>
                <td>
                  <Item item={a.item} content={content} drawn />
                </td>
                <td className="n">{formatNumber(a.qty)}</td>
                <td className="n">{a.donors === 0 ? '–' : formatNumber(a.donors)}</td>
                <td className="n">{a.still === 0 ? '–' : formatNumber(a.still)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
    </article>
  )
}

function Photo({ picture, label }: { picture: Picture | undefined; label: string }) {
  if (!picture) return null
  return (
    <figure>
      <img src={picture.data} alt={`${label}: ${picture.name}`} />
      <figcaption className="soft">{label}</figcaption>
    </figure>
  )
}

function Item({ item, content, drawn }: { item: ItemKey; content: SheetContent; drawn: boolean }) {
  const { name, part, colour } = content.nameItem(item)
  return (
    <span className="item">
      {drawn && <PiecePicture shape={part.shape} hex={colour.hex} finish={colour.finish} size={26} />}
      {name}
    </span>
  )
}

function Credits({ sheet: { credits, withheld } }: SheetContent) {
  return (
    <section>
      <h2>Whose plan it is</h2>
      {credits.length === 0 && <p>The builder’s own design.</p>}
      <ul>
        {credits.map((c, i) => (
          <li key={i}>
            {c.module === undefined ? 'The design' : c.module}: {c.author === '' ? 'author not named' : c.author}
            {c.licence !== '' && `, ${c.licence}`}. It may be built for oneself
            {c.share ? ', and shared' : '; its licence forbids to share it'}
            {c.sell ? ', and sold' : '; it may not be sold'}.
          </li>
        ))}
      </ul>
      {withheld.length > 0 && (
        <p>
          Left out, as their licence forbids to share them: {withheld.join(', ')}. No line of them is in this sheet.
        </p>
      )}
    </section>
  )
}

function Needs({ sheet, currency, pricesOf, made, paid, ...content }: SheetContent) {
  const { donors, all, price } = sheet
  const given = all.reduce((n, a) => n + a.donors, 0)
  const still = all.reduce((n, a) => n + a.still, 0)
  const money = (minor: number) => formatMoney(minor, currency)
  return (
    <section>
      <h2>What it takes</h2>
      {all.length === 0 ? (
        <p>Nothing is designed yet that may be shared.</p>
      ) : donors.length === 0 ? (
        <p>No donor sets: all {plural(still, 'piece')} loose.</p>
      ) : (
        <>
          <p>
            Donors: {donors.map((d) => `${d.copies} × ${d.name} (${plural(d.pieces, 'piece')})`).join('; ')}. They give{' '}
            {plural(given, 'piece')} of it; who owns them still needs <b>{plural(still, 'piece')}</b>.
          </p>
        </>
      )}
      {still > 0 && (
        <p>
          {price.unpriced < still ? (
            <>
              Those cost some <b>{money(price.low)}</b> at the cheapest offers to <b>{money(price.high)}</b> at the
              median ones, {pricesOf === undefined ? `as known on ${made}` : `as offered on ${pricesOf}`}, goods alone:{' '}
              <b>shipping, fees, duty and tax are not in it</b>.
              {price.unpriced > 0 && ` ${plural(price.unpriced, 'piece')} of them on no offer known are in neither.`}
            </>
          ) : (
            <>What they cost is not known: no offer of them is.</>
          )}
        </p>
      )}
      {price.drivers.length > 0 && (
        <p>
          What drives it:{' '}
          {price.drivers.map((d, i) => (
            <span key={d.item}>
              {i > 0 && '; '}
              {formatNumber(d.qty)} × {content.nameItem(d.item).name} for {money(d.minor)}
            </span>
          ))}
          .
        </p>
      )}
      {paid && (
        <p>
          It cost its builder {money(paid.soFar)} so far
          {paid.total !== paid.soFar && ` and will come to ${money(paid.total)}`}, donors and all.
        </p>
      )}
    </section>
  )
}

function Changes({ changes, ...content }: SheetContent & { changes: NonNullable<BuildSheet['changes']> }) {
  return (
    <section className="long">
      <h2>From the donors’ own instructions</h2>
      <p>
        Build the donors by their own instructions, or take them as they stand. Keep {plural(changes.kept, 'piece')},
        take off {formatNumber(changes.off)}, add {formatNumber(changes.added)}:
      </p>
      <ol>
        {changes.stages.map((s, i) => (
          <li key={i}>
            <Stage stage={s} content={content} />
          </li>
        ))}
      </ol>
    </section>
  )
}

function Stage({ stage, content }: { stage: SheetStage; content: SheetContent }) {
  const { name, gone, change, kept, off, added } = stage
  const reused = added.reduce((n, a) => n + a.heap, 0)
  const whole = change === undefined ? '' : `; it is ${change} as a whole`
  const drawn = off.length + added.length <= MOST_DRAWN
  return (
    <>
      <h3>{name}</h3>
      <p>
        {!stage.stage
          ? 'New.'
          : gone
            ? 'Not in the design: take all of it off.'
            : off.length === 0 && added.length === 0
              ? `Keep it as it is, ${plural(kept, 'piece')}${whole}.`
              : kept === 0
                ? 'Take all of it off.'
                : `Keep ${plural(kept, 'piece')}${whole}.`}
      </p>
      {off.length > 0 && (
        <>
          <p>Take off:</p>
          <PartsList pieces={off} content={content} drawn={drawn} />
        </>
      )}
      {added.length > 0 && (
        <>
          <p>Add{reused > 0 && `, of which ${plural(reused, 'piece')} come from what is taken off`}:</p>
          <PartsList pieces={added} content={content} drawn={drawn} />
        </>
      )}
    </>
  )
}

/** Pieces side by side, as many columns as there is room for. */
function PartsList({
  pieces,
  content,
  drawn,
}: {
  pieces: readonly { readonly item: ItemKey; readonly qty: number; readonly each?: number | undefined }[]
  content: SheetContent
  drawn: boolean
}) {
  return (
    <ul className="parts">
      {pieces.map((p) => (
        <li key={p.item}>
          <b className="count">{formatNumber(p.qty)}</b>
          <Item item={p.item} content={content} drawn={drawn} />
          {'each' in p && p.each !== p.qty && (
            <span className="soft">
              {p.each === undefined ? 'differs by repeat' : `${formatNumber(p.each)} in one`}
            </span>
          )}
        </li>
      ))}
    </ul>
  )
}

function Swaps({ sheet: { swaps }, ...content }: SheetContent) {
  if (swaps.length === 0) return null
  const words = (s: SheetSwap) =>
    `${s.uses.map((u) => `${u.qty === 1 ? '' : `${u.qty} × `}${content.nameItem(u.item).name}`).join(' and ')} for ${content.nameItem(s.wanted).name}, ${plural(s.qty, 'time')}${s.kind === undefined ? '' : ` (${STAND_IN_WORDS[s.kind]})`}`
  const [tested, planned] = [swaps.filter((s) => s.tested), swaps.filter((s) => !s.tested)]
  return (
    <section>
      <h2>Swaps that do</h2>
      {tested.length > 0 && (
        <>
          <p>Built in, and they hold:</p>
          <ul>
            {tested.map((s, i) => (
              <li key={i}>{words(s)}</li>
            ))}
          </ul>
        </>
      )}
      {planned.length > 0 && (
        <>
          <p>Planned, not built in yet:</p>
          <ul>
            {planned.slice(0, 60).map((s, i) => (
              <li key={i}>{words(s)}</li>
            ))}
          </ul>
        </>
      )}
    </section>
  )
}

function ModuleParts({ module, content, drawn }: { module: SheetModule; content: SheetContent; drawn: boolean }) {
  const { pictures, moduleNotes } = content
  const picture = module.picture === undefined ? undefined : pictures.get(module.picture)
  if (module.lines.length === 0) return null
  return (
    <section className="long">
      <h3>
        {module.name}
        {module.repeats !== 1 && `, ${formatNumber(module.repeats)} times`}
        {module.mirrored && ', mirrored'}: {plural(module.pieces, 'piece')}
      </h3>
      {module.untested.length > 0 && <p>Not tried yet: {module.untested.join(', ')}.</p>}
      {moduleNotes && module.note !== undefined && module.note !== '' && <p>{module.note}</p>}
      {picture && (
        <figure>
          <img src={picture.data} alt={`${module.name}: ${picture.name}`} />
        </figure>
      )}
      <PartsList pieces={module.lines} content={content} drawn={drawn} />
    </section>
  )
}
