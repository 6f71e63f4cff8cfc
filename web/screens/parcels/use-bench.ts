import { useCallback, useEffect, useRef, useState } from 'react'
import { dequal } from 'dequal'
import { allTaken, marked, withBench, type BenchMark } from '../../../core/orders/check-in.ts'
import type { Order, OrderLine } from '../../../core/orders/order.ts'
import { saveOrder } from '../../store/orders.ts'

/** Milliseconds after the last key before what was counted is written. */
const PAUSE_MS = 300

export type Bench = {
  /** The order with all that was counted, written or not. */
  readonly order: Order
  /** Says something of a line; gives why it was refused. */
  readonly mark: (line: OrderLine, mark: BenchMark) => string | undefined
  readonly takeAll: () => void
  /** What is not written yet is no longer to be: it is booked instead. */
  readonly forget: () => void
}

/**
 * What lies on the bench: each key counts at once, and is written when the hand rests, so that a check-in that is broken off
 * goes on where it was. What another tab counts of other lines comes in.
 */
export function useBench(stored: Order): Bench {
  const [counted, setCounted] = useState({ from: stored, order: stored })
  const latest = useRef({ stored, order: counted.order, waiting: false })
  if (counted.from !== stored) {
    // The record has changed: by this bench, or elsewhere. What is not written yet stays on top.
    const own = counted.order
    const changed = (own.bench ?? []).filter(
      (b) =>
        !dequal(
          b,
          counted.from.bench?.find((o) => o.id === b.id),
        ),
    )
    const gone = (counted.from.bench ?? []).filter((b) => !own.bench?.some((o) => o.id === b.id))
    let order = stored
    for (const { id, ...receipt } of changed) order = withBench(order, id, receipt)
    for (const { id } of gone) order = withBench(order, id, { right: 0, short: 0, damaged: 0, wrong: [], extra: 0 })
    setCounted({ from: stored, order })
  }
  useEffect(() => {
    latest.current = { ...latest.current, stored, order: counted.order }
  })
  const save = useCallback(() => {
    const { stored: from, order, waiting } = latest.current
    if (!waiting) return
    latest.current = { ...latest.current, waiting: false }
    const { bench: _, ...bare } = from
    const next: Order = order.bench ? { ...bare, bench: order.bench } : bare
    if (!dequal(next, from)) void saveOrder(from, next, `Counted at the bench, order ${from.number}`, true)
  }, [])
  useEffect(() => {
    if (!latest.current.waiting) return undefined
    const timer = setTimeout(save, PAUSE_MS)
    return () => {
      clearTimeout(timer)
    }
  }, [counted, save])
  useEffect(() => {
    window.addEventListener('pagehide', save)
    return () => {
      window.removeEventListener('pagehide', save)
      save()
    }
  }, [save])
  const set = (order: Order) => {
    latest.current = { ...latest.current, order, waiting: true }
    setCounted({ from: stored, order })
  }
  return {
    order: counted.order,
    mark(line, mark) {
      const receipt = marked(counted.order, line, mark)
      if (!receipt.ok) return receipt.error.message
      set(withBench(counted.order, line.id, receipt.value))
      return undefined
    },
    takeAll() {
      set(allTaken(counted.order))
    },
    forget() {
      latest.current = { ...latest.current, waiting: false }
    },
  }
}
