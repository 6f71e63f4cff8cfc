import type { Changes } from '../../../core/build/scenario.ts'
import type { ItemKey } from '../../../core/catalogue/item.ts'
import type { DesignVersion } from '../../../core/design/version.ts'
import type { Snapshot } from '../../../core/netting/snapshot.ts'
import type { Shop } from '../../../core/offers/shop.ts'
import type { ColourId } from '../../../core/units/ids.ts'
import { plural } from '../../../core/units/numbers.ts'

/** What names are taken from. */
export type Names = {
  readonly snapshot: Pick<Snapshot, 'design' | 'copies' | 'sets'>
  readonly versions: readonly DesignVersion[]
  readonly shops: readonly Shop[]
  readonly nameItem: (item: ItemKey) => { readonly name: string }
  readonly colourName: (colour: ColourId) => string
}

/** One change of a scenario: in words, and what the changes are without it. */
export type ChangeWords = { readonly words: string; readonly without: Changes }

const RULE_WORDS: Partial<Record<string, string>> = {
  sources: 'Pieces from',
  aim: 'Aim',
  condition: 'Worst condition',
  colours: 'Colours',
  hiddenColours: 'Hidden colours',
  wornHidden: 'Worn pieces where hidden',
  moulds: 'Other moulds',
  splits: 'Splits',
  stickers: 'Stickers',
  altering: 'Cutting',
  thirdParty: 'Custom prints and other makers',
  estimatePercent: 'Estimates count, percent',
  maxShops: 'Orders at most',
  deadlineDays: 'Days at most',
  maxPieces: 'Loose pieces at most',
}

const valueWords = (value: unknown): string =>
  value === null ? 'any number' : value === true ? 'yes' : value === false ? 'no' : String(value)

const SHOP_WORDS = { free: 'may be used', excluded: 'is avoided', pinned: 'is insisted on' } as const

/** Changes with another value of a field, or without it. */
function withField<F extends keyof Changes>(changes: Changes, field: F, rest: Changes[F] | undefined): Changes {
  const { [field]: _, ...others } = changes
  return rest === undefined ? others : { ...others, [field]: rest }
}

/** A change for each entry of a table among the changes. */
function ofTable<F extends 'rules' | 'copies' | 'shops'>(
  changes: Changes,
  field: F,
  words: (key: string, value: NonNullable<NonNullable<Changes[F]>[keyof Changes[F]]>) => string,
): ChangeWords[] {
  const table: Readonly<Record<string, unknown>> = changes[field] ?? {}
  return Object.entries(table).flatMap(([key, value]) => {
    if (value === undefined) return []
    const { [key]: _, ...rest } = table
    return [
      {
        words: words(key, value as NonNullable<NonNullable<Changes[F]>[keyof Changes[F]]>),
        without: withField(changes, field, Object.keys(rest).length > 0 ? (rest as Changes[F]) : undefined),
      },
    ]
  })
}

/** A change for each entry of a list among the changes. */
function ofList<F extends 'modules' | 'recoloured' | 'accepted'>(
  changes: Changes,
  field: F,
  words: (entry: NonNullable<Changes[F]>[number]) => string,
): ChangeWords[] {
  const list: readonly NonNullable<Changes[F]>[number][] = changes[field] ?? []
  return list.map((entry, i) => {
    const rest = list.filter((_, k) => k !== i)
    return {
      words: words(entry),
      without: withField(changes, field, rest.length > 0 ? (rest as Changes[F]) : undefined),
    }
  })
}

/** A change of one field. */
const ofField = <F extends keyof Changes>(
  changes: Changes,
  field: F,
  words: (value: Exclude<Changes[F], undefined>) => string,
): ChangeWords[] => {
  const value = changes[field]
  return value === undefined
    ? []
    : [{ words: words(value as Exclude<Changes[F], undefined>), without: withField(changes, field, undefined) }]
}

/** Every change of a scenario in words, in a fixed order. */
export function changeWords(changes: Changes, names: Names): ChangeWords[] {
  const { design, copies, sets } = names.snapshot
  const setName = (copy: string) => {
    const first = copies.find((c) => c.id === copy)
    return sets.find((s) => s.id === first?.setId)?.name ?? 'a set that is gone'
  }
  const itemName = (item: ItemKey) => names.nameItem(item).name
  return [
    ...ofTable(changes, 'rules', (rule, value) => `${RULE_WORDS[rule] ?? rule}: ${valueWords(value)}`),
    ...ofTable(
      changes,
      'copies',
      (copy, number) => `Buy ${number === 0 ? 'no copy' : plural(number, 'copy', 'copies')} of ${setName(copy)}`,
    ),
    ...ofTable(
      changes,
      'shops',
      (shop, stance) => `${names.shops.find((s) => s.id === shop)?.name ?? shop} ${SHOP_WORDS[stance]}`,
    ),
    ...ofField(
      changes,
      'version',
      (id) => `Design: ${names.versions.find((v) => v.id === id)?.name ?? 'a version that is gone'}`,
    ),
    ...ofField(
      changes,
      'colourway',
      (id) =>
        `Colourway: ${id === null ? 'as drawn' : (design.colourways?.find((c) => c.id === id)?.name ?? 'one that is gone')}`,
    ),
    ...ofList(changes, 'modules', ({ module, ...how }) => {
      const name = design.modules.find((m) => m.id === module)?.name ?? 'A module that is gone'
      return `${name}: ${moduleWords(how).join(', ')}`
    }),
    ...ofField(
      changes,
      'freed',
      ({ which, freedom }) =>
        `${which === 'all' ? 'All lines' : 'Hidden lines'} in ${freedom === 'near' ? 'near colours' : 'any colour'}`,
    ),
    ...ofList(
      changes,
      'recoloured',
      ({ lines, colour }) => `${plural(lines.length, 'line')} in ${names.colourName(colour)}`,
    ),
    ...ofField(changes, 'leftOut', (lines) => `${plural(lines.length, 'line')} left out`),
    ...ofList(
      changes,
      'accepted',
      ({ item, uses }) =>
        `${uses.map((u) => (u.qty > 1 ? `${u.qty} × ` : '') + itemName(u.item)).join(' and ')} for ${itemName(item)}`,
    ),
    ...ofField(changes, 'takenBack', (ids) => `${plural(ids.length, 'forbidden stand-in')} allowed again`),
  ]
}

const moduleWords = ({
  later,
  repeats,
  mirrored,
}: Omit<NonNullable<Changes['modules']>[number], 'module'>): string[] => [
  ...(later === undefined ? [] : [later ? 'put off' : 'now, not later']),
  ...(repeats === undefined ? [] : [plural(repeats, 'time')]),
  ...(mirrored === undefined ? [] : [mirrored ? 'mirrored' : 'not mirrored']),
]
