import { formatNumber } from '../units/numbers.ts'
import { MOST_PLACES } from '../design/explode.ts'
import type { Design } from '../design/design.ts'
import { nestingDepth, placesOfLines } from '../design/nesting.ts'
import { REGISTRY, kindOf, type RecordKind, type RecordOf } from './registry.ts'

/** Kinds of pieces that a module began with, at most. */
const MOST_CONTENTS = 20_000

/** Modules of one design at most, and how deep they stand within and are the same as one another. */
export const MOST_MODULES = 600
export const MOST_DEPTH = 60

/** Signs in an id that an address on the web would read as its own. */
// eslint-disable-next-line no-control-regex
const NO_ID = /[/?#%\\\u0000-\u001f\u007f]/

/**
 * What is wrong with a record that fits its schema and would still be more than screens can show; undefined when nothing
 * is. Linear in the record.
 */
export function recordFault<K extends RecordKind>(kind: K, record: RecordOf<K>): string | undefined {
  const { id } = record as { id: string }
  // Offers are never in an address, and their ids name decorations, which may hold anything.
  if (kind !== 'offers' && NO_ID.test(id))
    return `The id of a ${REGISTRY[kind].word} holds a sign (one of / ? # % \\) that ids must not have.`
  const { word, lists = {} } = kindOf(kind)
  for (const [field, most] of Object.entries(lists as Readonly<Record<string, number>>)) {
    const list = (record as Record<string, unknown>)[field]
    if (Array.isArray(list) && list.length > most)
      return `The list “${field}” of a ${word} has ${formatNumber(list.length)} entries; ${formatNumber(most)} are the most that can be shown.`
  }
  switch (kind) {
    case 'builds': {
      const shops = Object.keys((record as RecordOf<'builds'>).rules.shops).length
      return shops > REGISTRY.shops.most
        ? `The rules of a build name ${formatNumber(shops)} shops; ${formatNumber(REGISTRY.shops.most)} are the most there can be.`
        : undefined
    }
    case 'plans': {
      const { items, lines, offers, sets } = (record as RecordOf<'plans'>).problem
      const most = Math.max(items.length, lines.length, sets.length, offers.length / 10)
      return most > 20_000 ? 'A purchase plan answers a problem that is larger than any this app makes.' : undefined
    }
    case 'designs':
      return designFault(record as RecordOf<'designs'>)
    case 'versions':
      return designFault((record as RecordOf<'versions'>).design)
    default:
      return undefined
  }
}

function designFault(design: Design): string | undefined {
  if (design.modules.length > MOST_MODULES)
    return `A design has ${design.modules.length} modules; ${MOST_MODULES} are the most that can be shown.`
  const long = design.modules.find(
    (m) => (m.built?.length ?? 0) > 1_000 || (m.origin?.kind === 'donor' && m.origin.contents.length > MOST_CONTENTS),
  )
  if (long) return `The module “${long.name}” names more finished models or donor pieces than can be shown.`
  const odd = design.modules.find((m) => NO_ID.test(m.id) || m.lines.some((l) => NO_ID.test(l.id)))
  if (odd) return `An id in the module “${odd.name}” holds a sign (one of / ? # % \\) that ids must not have.`
  if (nestingDepth(design) > MOST_DEPTH)
    return `Modules stand within one another, or are the same as others, more than ${MOST_DEPTH} deep. Take some out.`
  const inner = new Set(design.modules.flatMap((m) => (m.within === undefined ? [] : [m.id])))
  let places = 0
  for (const [id, sum] of placesOfLines(design)) if (!inner.has(id)) places += sum
  return places > MOST_PLACES
    ? `The lines of a design come to more than ${formatNumber(MOST_PLACES)} places, as modules are the same as others. Make fewer of them the same.`
    : undefined
}

/** What is wrong with how many records of a kind there are; undefined when nothing is. */
export const countFault = (kind: RecordKind, count: number): string | undefined =>
  count > REGISTRY[kind].most
    ? `There are ${formatNumber(count)} records of the kind “${REGISTRY[kind].word}”; ${formatNumber(REGISTRY[kind].most)} are the most that can be kept.`
    : undefined
