import type { Decision } from '../build/decision.ts'
import type { ItemKey } from '../catalogue/item.ts'
import type { Design, Module } from '../design/design.ts'
import type { DesignVersion } from '../design/version.ts'
import type { Making } from '../making/making.ts'
import type { Exception, Unit } from '../making/unit.ts'
import { refundedOf } from '../orders/claims.ts'
import { orderName, type Order } from '../orders/order.ts'
import { dayOf } from '../units/instants.ts'
import type { BuildId, LineId, ModuleId, PartId } from '../units/ids.ts'
import { formatMoney } from '../units/money.ts'
import { plural } from '../units/numbers.ts'
import type { Entry } from './entry.ts'
import { NOTE_KINDS, type Note } from './note.ts'
import { piecesOfSale, type Sale } from './sale.ts'

/** What a line of the log is about: what notes are, and what only writes itself. */
export const LOG_KINDS = [...NOTE_KINDS, 'version', 'order', 'claim', 'money', 'sale', 'finished'] as const
export type LogKind = (typeof LOG_KINDS)[number]

/** One line of a build's log. */
export type LogLine = {
  readonly key: string
  /** Undefined where nobody noted the day. */
  readonly on: string | undefined
  readonly kind: LogKind
  readonly text: string
  /** The reason, where one was given. */
  readonly why?: string
  readonly minutes?: number
  readonly module?: ModuleId
  /** Of notes: pictures by their ids. */
  readonly pictures?: readonly string[]
  /** What it can be changed by: written by hand, or a decision whose reason may be added. */
  readonly of?:
    { readonly kind: 'note'; readonly note: Note } | { readonly kind: 'decision'; readonly decision: Decision }
}

export type LogRecords = {
  readonly design: Design
  readonly notes: readonly Note[]
  readonly decisions: readonly Decision[]
  readonly versions: readonly DesignVersion[]
  readonly units: readonly Unit[]
  readonly making: Making | undefined
  readonly orders: readonly Order[]
  readonly sales: readonly Sale[]
  readonly entries: readonly Entry[]
}

/** What things are called in the log. */
export type LogNames = {
  readonly item: (item: ItemKey) => string
  readonly part: (part: PartId) => string
}

/**
 * The log of a build, the newest first, what has no day at the end: decisions, compromises, tries that failed, test builds,
 * versions, orders, claims, corrections and sales write themselves, with their reasons where any were given; notes are
 * written by hand. Of other builds nothing; decisions for all builds are among it. Linear but for the sorting.
 */
export function logOf(build: BuildId, records: LogRecords, names: LogNames): LogLine[] {
  const { design, notes, decisions, versions, units, making, orders, sales, entries } = records
  const lineOf = new Map(design.modules.flatMap((m) => m.lines.map((l) => [l.id, { module: m.id, line: l }] as const)))
  const lines = [
    ...notes.filter((n) => n.build === build).map(lineOfNote),
    ...decisions
      .filter((d) => d.build === build || d.build === null)
      .map((d) => lineOfDecision(d, (id) => lineOf.get(id), names)),
    ...design.modules.flatMap(linesOfRisks),
    ...units.filter((u) => u.build === build).flatMap((u) => linesOfUnit(u, (id) => lineOf.get(id)?.line.item, names)),
    ...linesOfMaking(making),
    ...versions
      .filter((v) => v.buildId === build)
      .map((v): LogLine => ({
        ...{ key: v.id, on: dayOf(v.at), kind: 'version' },
        text: `Kept the version “${v.name}” of the design`,
      })),
    ...orders.filter((o) => o.builds.includes(build)).flatMap(linesOfOrder),
    ...sales.filter((s) => s.build === build).flatMap(linesOfSale),
    ...entries
      .filter((e) => e.build === build && e.corrects !== undefined)
      .map((e): LogLine => ({
        ...{
          key: e.id,
          on: e.on,
          kind: 'money',
          text: `${e.text} (${formatMoney(e.amount.minor, e.amount.currency)})`,
        },
        ...(e.module !== undefined && { module: e.module }),
      })),
  ]
  return lines
    .map((line, i) => ({ line, i }))
    .sort((p, q) => {
      const [a, b] = [p.line.on ?? '', q.line.on ?? '']
      return a === b ? p.i - q.i : a < b ? 1 : -1
    })
    .map(({ line }) => line)
}

const lineOfNote = (note: Note): LogLine => ({
  ...{ key: note.id, on: note.on, kind: note.kind, text: note.text, of: { kind: 'note', note } },
  ...(note.minutes !== undefined && { minutes: note.minutes }),
  ...(note.module !== undefined && { module: note.module }),
  ...(note.pictures !== undefined && { pictures: note.pictures }),
})

function lineOfDecision(
  decision: Decision,
  known: (id: LineId) => { readonly module: ModuleId; readonly line: Module['lines'][number] } | undefined,
  names: LogNames,
): LogLine {
  const { what, on, why } = decision
  const uses = (list: readonly { readonly item: ItemKey; readonly qty: number }[]) =>
    list.map((u) => `${u.qty} × ${names.item(u.item)}`).join(' and ')
  const text = (): string => {
    switch (what.kind) {
      case 'pin': {
        const line = known(what.line)
        return `${plural(what.qty, 'piece')} of ${line ? names.item(line.line.item) : 'a line that is gone'} fixed to a supply of ${names.item(what.source.item)}`
      }
      case 'forbid':
        return `Never ${uses(what.uses)} for ${names.item(what.item)}`
      case 'accept':
        return `${uses(what.uses)} found as good as ${names.item(what.item)}`
      case 'own':
        return `One ${names.part(what.part)} may be made of ${what.uses.map((u) => `${u.qty} × ${names.part(u.part)}`).join(' and ')}`
    }
  }
  const module = 'line' in what && what.line !== undefined ? known(what.line)?.module : undefined
  return {
    ...{ key: decision.id, on, kind: 'decision', text: text(), of: { kind: 'decision', decision } },
    ...(why !== undefined && { why }),
    ...(module !== undefined && { module }),
  }
}

const linesOfRisks = (module: Module): LogLine[] => [
  ...(module.tested !== undefined && !module.risks?.some((r) => r.state === 'test built')
    ? [
        {
          ...{ key: `${module.id} tested`, on: module.tested, kind: 'test build' as const, text: 'Test built' },
          module: module.id,
        },
      ]
    : []),
  ...(module.risks ?? []).flatMap(({ kind, state, note }, i): LogLine[] =>
    state === 'open'
      ? []
      : [
          {
            key: `${module.id} risk ${i}`,
            on: state === 'test built' ? module.tested : undefined,
            kind: state === 'test built' ? 'test build' : 'decision',
            text: state === 'test built' ? `Test built: ${kind}` : `Accepted: ${kind}`,
            module: module.id,
            ...(note !== undefined && note !== '' && { why: note }),
          },
        ],
  ),
]

const EXCEPTION_LINES: Readonly<Record<Exception['kind'], { readonly kind: LogKind; readonly text: string }>> = {
  'left out': { kind: 'compromise', text: 'Left out' },
  'put elsewhere': { kind: 'compromise', text: 'Put elsewhere' },
  'other colour': { kind: 'compromise', text: 'Another piece accepted' },
  unclear: { kind: 'note', text: 'Unclear' },
  failed: { kind: 'failed try', text: 'Tried and failed' },
}

const linesOfUnit = (
  { id, path, repeat, exceptions }: Unit,
  itemOf: (line: LineId) => ItemKey | undefined,
  names: LogNames,
): LogLine[] =>
  exceptions.map((e): LogLine => {
    const { kind, text } = EXCEPTION_LINES[e.kind]
    const item = e.line === undefined ? undefined : itemOf(e.line)
    const module = path.at(-1)
    const of = item === undefined ? '' : `: ${e.qty === undefined ? '' : `${e.qty} × `}${names.item(item)}`
    return {
      ...{ key: `${id} ${e.id}`, on: e.on, kind },
      text: `${text}${of}, in repeat ${repeat}${e.cleared === true ? '; cleared since' : ''}`,
      ...(e.note !== undefined && e.note !== '' && { why: e.note }),
      ...(e.minutes !== undefined && { minutes: e.minutes }),
      ...(module !== undefined && { module }),
    }
  })

function linesOfMaking(making: Making | undefined): LogLine[] {
  if (!making) return []
  return [
    ...(making.finished
      ? [{ key: 'finished', on: making.finished.on, kind: 'finished' as const, text: 'Finished: the model stands' }]
      : []),
    ...making.checks.flatMap((c): LogLine[] =>
      c.state === 'departs'
        ? [
            {
              ...{
                key: `check ${c.id}`,
                on: undefined,
                kind: 'compromise',
                text: `Departs from the reference: ${c.text}`,
              },
              ...(c.note !== undefined && c.note !== '' && { why: c.note }),
            },
          ]
        : [],
    ),
    ...making.stickers.flatMap((s): LogLine[] =>
      s.state === 'left out' || s.state === 'unusable'
        ? [
            {
              ...{ key: `sticker ${s.id}`, on: undefined, kind: 'compromise', text: `Sticker ${s.name}: ${s.state}` },
              ...(s.note !== undefined && s.note !== '' && { why: s.note }),
            },
          ]
        : [],
    ),
  ]
}

function linesOfOrder(order: Order): LogLine[] {
  const name = orderName(order)
  return [
    ...order.history.map((step, i): LogLine => ({
      ...{ key: `${order.id} ${i}`, on: step.on, kind: 'order', text: `${name}: ${step.state}` },
      ...(step.note !== undefined && step.note !== '' && { why: step.note }),
    })),
    ...order.claims.flatMap((claim) =>
      claim.history.map((step, i): LogLine => ({
        key: `${order.id} ${claim.id} ${i}`,
        on: step.on,
        kind: 'claim',
        text:
          step.state === 'refunded'
            ? `Claim on ${name}: ${formatMoney(refundedOf({ claims: [claim] }), order.currency)} paid back`
            : `Claim on ${name}: ${step.state}`,
        ...(step.note !== undefined && step.note !== '' && { why: step.note }),
      })),
    ),
  ]
}

const linesOfSale = (sale: Sale): LogLine[] =>
  sale.history.map((step, i): LogLine => ({
    ...{ key: `${sale.id} ${i}`, on: step.on, kind: 'sale' },
    text: `${sale.title}, ${plural(piecesOfSale(sale), 'piece')}: ${sale.way === 'gift' && step.state === 'sent' ? 'given away' : step.state}${step.state === 'sold' && sale.got !== undefined ? ` for ${formatMoney(sale.got, sale.currency)}` : ''}`,
    ...(step.note !== undefined && step.note !== '' && { why: step.note }),
  }))

/** What a note becomes in the design: an idea for later, a module of its own without lines. */
export const ideaOf = (note: Pick<Note, 'text'>, fresh: () => string): Module => ({
  id: `m-${fresh()}` as ModuleId,
  name: (note.text.split('\n')[0] ?? '').slice(0, 120) || 'To improve',
  repeats: 1,
  later: true,
  note: note.text.slice(0, 4000),
  lines: [],
})
