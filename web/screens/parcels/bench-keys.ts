import { benchOf, uncountedPieces, type BenchMark } from '../../../core/orders/check-in.ts'
import { openPieces, type Order, type OrderLine } from '../../../core/orders/order.ts'

/** What a key does at the bench: it says something of the line, or asks which piece or colour came. */
export type BenchAct =
  | { readonly kind: 'mark'; readonly mark: BenchMark; /** On to the next line. */ readonly goOn: boolean }
  | { readonly kind: 'other'; readonly what: 'piece' | 'colour'; readonly qty: number }

/** The keys beside digits; those of a number pad first. A number typed before says how many. */
export const BENCH_KEYS = [
  { key: 'Enter', label: 'Right' },
  { key: '-', label: 'Short' },
  { key: '+', label: 'Extra' },
  { key: '/', label: 'Wrong colour' },
  { key: '*', label: 'Wrong piece' },
  { key: '.', label: 'Damaged' },
  { key: '#', label: 'Bent sheet' },
  { key: '=', label: 'Taken as right' },
  { key: 'Backspace', label: 'Take back' },
] as const

/**
 * What a key means for a line, given what was typed before it; undefined where it is a digit or nothing at all. Without a
 * number right and short are all that is left, one is damaged or extra.
 */
export function benchAct(key: string, typed: string, line: OrderLine, order: Order): BenchAct | undefined {
  const number = /^\d{1,7}$/.test(typed.trim()) ? Number(typed) : undefined
  const now = benchOf(order, line.id)
  const left = uncountedPieces(order, line)
  const mark = (m: BenchMark, goOn = false): BenchAct => ({ kind: 'mark', mark: m, goOn })
  switch (key) {
    case 'Enter':
      return mark({ kind: 'right', qty: number ?? now.right + left }, true)
    case '-':
      // With all counted as right, one is missing after all.
      return mark({ kind: 'short', qty: number ?? now.short + (left > 0 ? left : 1) })
    case '+':
      return mark({ kind: 'extra', qty: number ?? now.extra + 1 })
    case '.':
    case ',':
    case '#':
      return mark({ kind: 'damaged', qty: number ?? now.damaged + 1 })
    case '/':
      return { kind: 'other', what: 'colour', qty: number ?? Math.max(1, left) }
    case '*':
      return { kind: 'other', what: 'piece', qty: number ?? Math.max(1, left) }
    case '=':
      return mark({ kind: 'taken' }, true)
    case 'Backspace':
      return typed === '' && openPieces(line) > 0 ? mark({ kind: 'clear' }) : undefined
    default:
      return undefined
  }
}
