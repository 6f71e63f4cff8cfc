import type * as v from 'valibot'
import { REGISTRY, type RecordKind } from './registry.ts'
import { formatMoney } from '../units/money.ts'

/** What fields are called where their name is not the word for it. */
const FIELD_WORDS: Readonly<Record<string, string>> = {
  qty: 'number of pieces',
  hex: 'colour value',
  aliases: 'other names',
  buildId: 'build',
  setId: 'donor set',
  minOrder: 'minimum order',
  leadDays: 'days to arrive',
  lineFee: 'fee for each line',
  bands: 'shipping bands',
  maxShops: 'most shops',
  deadlineDays: 'days there are',
  nearLimit: 'limit for near colours',
  printPrice: 'price of a print',
  pointPrice: 'price of a point',
  resalePercent: 'resale share',
  paid: 'price paid',
  levies: 'duty and tax',
  maxPieces: 'most loose pieces',
  buyCopies: 'copies to buy',
  hopedPercent: 'hoped resale share',
  rate: 'rate',
  rates: 'rates of exchange',
  on: 'day',
  paidOn: 'day of payment',
  minutes: 'minutes',
  got: 'what was paid',
  ask: 'asking price',
  threshold: 'value from which it is due',
  estimatePercent: 'share of estimates',
  shipTo: 'country',
  askingPrice: 'asking price',
  minor: 'amount',
  minRun: 'fewest printed',
  data: 'image',
  low: 'least',
  high: 'most',
}

/** Fields of a record with a currency that hold minor units of it. */
const MONEY: ReadonlySet<string> = new Set([
  'budget',
  'printPrice',
  'pointPrice',
  'minOrder',
  'handling',
  'lineFee',
  'fee',
])

const grouped = (n: unknown): string => String(n).replace(/\B(?=(\d{3})+(?!\d))/g, '\u202f')

/** The name that a record or a value in it goes by, shortened; empty when it has none. */
function calledIn(value: unknown): string {
  const { name, label } = (value ?? {}) as { name?: unknown; label?: unknown }
  const text = typeof name === 'string' ? name : typeof label === 'string' ? label : ''
  return text.length > 60 ? `${text.slice(0, 60)}…` : text
}

/**
 * Why a record does not fit, in words a user can act on: which field of what, and what its bound is. Field names of the
 * schema are told in plain words where they have some.
 */
export function unfitWords(kind: RecordKind, record: unknown, issue: v.BaseIssue<unknown>): string {
  const keys = (issue.path ?? []).map((p) => p.key)
  const last = keys.findLast((k): k is string => typeof k === 'string')
  const inner = (issue.path ?? []).findLast((p) => typeof p.key === 'number')?.value
  const called = calledIn(inner) || calledIn(record)
  const whole = `${REGISTRY[kind].word}${called === '' ? '' : ` “${called}”`}`
  if (last === undefined) return `This ${whole} is not as it should be: ${issue.message.slice(0, 200)}.`
  const { currency } = (record ?? {}) as { currency?: unknown }
  if (MONEY.has(last) && typeof currency === 'string' && issue.type === 'max_value')
    return `The ${FIELD_WORDS[last] ?? last} of the ${whole} is above ${formatMoney(Number(issue.requirement), currency)}.`
  return `The ${FIELD_WORDS[last] ?? last.replace(/([A-Z])/g, ' $1').toLowerCase()} of the ${whole} ${boundOf(issue)}.`
}

function boundOf(issue: v.BaseIssue<unknown>): string {
  const { type, requirement } = issue
  const list = Array.isArray(issue.input)
  switch (type) {
    case 'max_length':
      return list
        ? `has more than ${grouped(requirement)} entries`
        : `is longer than ${grouped(requirement)} characters`
    case 'min_length':
      return 'is empty'
    case 'max_value':
      return `is above ${grouped(requirement)}`
    case 'min_value':
      return `is below ${grouped(requirement)}`
    case 'integer':
    case 'safe_integer':
      return 'is no whole number that can be counted exactly'
    default:
      return `is not as it should be (${issue.message.slice(0, 200)})`
  }
}
