import { toast } from 'sonner'
import { leaveOut, putIn, takeOut } from '../../../core/making/put-in.ts'
import { fetchedFrom, takesFor, type TakeGroup } from '../../../core/making/takes.ts'
import type { Unit } from '../../../core/making/unit.ts'
import { needOf, type Work } from '../../../core/making/works.ts'
import type { ItemKey } from '../../../core/catalogue/item.ts'
import type { AtWork, LineAt } from '../../../core/making/at-work.ts'
import { doMaking, makingEdit } from '../../store/making.ts'
import type { Change } from '../../../storage/journal-entry.ts'
import type { RecordsView } from '../../store/records.tsx'

type Records = Pick<RecordsView, 'nameItem'>

/** What acts at the table change, as it was when they were worked out. */
const tableOf = ({ units, stock }: AtWork) => ({ units, copies: stock.copies })

/** What lies fetched on the table is less what has gone in. */
function offTheTable({ making }: AtWork, groups: readonly TakeGroup[]): Change[] {
  const gone = new Map<string, number>()
  for (const take of groups.flatMap((g) => g.takes)) {
    const from = fetchedFrom(take)
    if (from === undefined) continue
    const key = `${from}\n${take.item}`
    gone.set(key, (gone.get(key) ?? 0) + take.qty)
  }
  const touched = making.fetched.some((f) => gone.has(`${f.from}\n${f.item}`))
  if (!touched) return []
  const fetched = making.fetched.flatMap((f) => {
    const qty = f.qty - (gone.get(`${f.from}\n${f.item}`) ?? 0)
    return qty > 0 ? [{ ...f, qty }] : []
  })
  return makingEdit(making, { ...making, fetched })
}

/** Puts pieces of a line in, from where the count has them; `none` where none of them is here. */
export function tick({ at, work, repeat, line }: LineAt, qty: number, records: Records): Promise<boolean | 'none'> {
  const unit = at.unitAt(work, repeat)
  const { groups, short } = takesFor(at.build, line.item, qty, at.pegsOf(line.id), at.stock)
  if (groups.length === 0) return Promise.resolve('none')
  if (short > 0) toast(`${qty - short} of ${qty} are here and went in; ${short} are not.`)
  const put = putIn(unit, line.line, needOf(work, line, repeat), groups, at.stock)
  return doMaking(`Put in ${qty - short} × ${records.nameItem(line.item).name}`, put, tableOf(at), {
    more: offTheTable(at, groups),
  })
}

/** Takes pieces of a line out again: they go back to where they came from. */
export const untick = (
  { at, work, repeat, line }: LineAt,
  qty: number | undefined,
  records: Records,
): Promise<boolean> =>
  doMaking(
    `Took out ${records.nameItem(line.item).name}`,
    takeOut(at.unitAt(work, repeat), line.line, qty, { kind: 'back' }, at.stock),
    tableOf(at),
  )

/** Pieces that lay on the table and that nobody knew of go in. */
export const putFound = ({ at, work, repeat, line }: LineAt, qty: number, records: Records): Promise<boolean> =>
  doMaking(
    `Put in ${qty} × ${records.nameItem(line.item).name} found on the table`,
    putIn(
      at.unitAt(work, repeat),
      line.line,
      needOf(work, line, repeat),
      [{ covers: qty, takes: [{ kind: 'found', item: line.item, qty }] }],
      at.stock,
    ),
    tableOf(at),
  )

/** Pieces of a line that are left out on purpose, with why; the others are still wanted. */
export function leaveLineOut(
  { at, work, repeat, line }: LineAt,
  qty: number,
  note: string,
  today: string,
  records: Records,
): Promise<boolean> {
  const done = leaveOut(at.unitAt(work, repeat), line.line, qty, needOf(work, line, repeat))
  const name = records.nameItem(line.item).name
  if (!done.ok || qty === 0) return doMaking(`${name} is wanted again`, done, tableOf(at))
  const units = done.value.units.map((u) =>
    withException(u, { kind: 'left out', line: line.line, qty, on: today, note }),
  )
  return doMaking(`Left out ${qty} × ${name}`, { ok: true, value: { ...done.value, units } }, tableOf(at))
}

type ExceptionOf = Omit<Unit['exceptions'][number], 'id'>

/** A unit with what did not go as drawn noted. */
export const withException = (unit: Unit, { note, ...what }: ExceptionOf): Unit => ({
  ...unit,
  exceptions: [
    ...unit.exceptions,
    { id: crypto.randomUUID(), ...what, ...(note !== undefined && note.trim() !== '' && { note: note.trim() }) },
  ],
})

/** Other pieces put in for a line, by hand: another colour, another mould; noted as accepted. */
export function putInstead(
  { at, work, repeat, line }: LineAt,
  item: ItemKey,
  qty: number,
  note: string,
  today: string,
  records: Records,
): Promise<boolean> {
  const { groups, short } = takesFor(at.build, item, qty, [], at.stock)
  // What nothing is known of lay on the table: it is in the model now.
  const all = short > 0 ? [...groups, { covers: short, takes: [{ kind: 'found' as const, item, qty: short }] }] : groups
  const put = putIn(at.unitAt(work, repeat), line.line, needOf(work, line, repeat), all, at.stock)
  const name = records.nameItem(item).name
  if (!put.ok) return doMaking(name, put, tableOf(at))
  const units = put.value.units.map((u) =>
    withException(u, { kind: 'other colour', line: line.line, qty, on: today, note }),
  )
  return doMaking(`Accepted ${qty} × ${name} instead`, { ok: true, value: { ...put.value, units } }, tableOf(at))
}

/** A piece of this line put into another module, where no line asks for it; it is left out here. */
export function putElsewhere(
  { at, work, repeat, line }: LineAt,
  there: { readonly work: Work; readonly repeat: number },
  qty: number,
  note: string,
  today: string,
  records: Records,
): Promise<boolean> {
  const name = records.nameItem(line.item).name
  const here = at.unitAt(work, repeat)
  const out = leaveOut(here, line.line, qty, needOf(work, line, repeat))
  if (!out.ok) return doMaking(name, out, tableOf(at))
  const { groups, short } = takesFor(at.build, line.item, qty, at.pegsOf(line.id), at.stock)
  if (short > 0) {
    toast.error(`Only ${qty - short} of them are here.`)
    return Promise.resolve(false)
  }
  const same = there.work.key === work.key && there.repeat === repeat
  const left = withException(out.value.units[0] ?? here, {
    kind: 'put elsewhere',
    line: line.line,
    qty,
    on: today,
    note,
  })
  const put = putIn(same ? left : at.unitAt(there.work, there.repeat), undefined, 0, groups, at.stock)
  if (!put.ok) return doMaking(name, put, tableOf(at))
  return doMaking(
    `Put ${qty} × ${name} elsewhere`,
    { ok: true, value: { ...put.value, units: same ? put.value.units : [left, ...put.value.units] } },
    tableOf(at),
  )
}
