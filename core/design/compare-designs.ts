import { splitItemKey, type ItemKey } from '../catalogue/item.ts'
import type { Requirement } from './explode.ts'

/** How one design differs from another in one item of one module. */
export type DesignDifference = {
  readonly module: string
  readonly kind: 'added' | 'removed' | 'quantity' | 'colour' | 'part'
  readonly before: { readonly item: ItemKey; readonly qty: number } | undefined
  readonly after: { readonly item: ItemKey; readonly qty: number } | undefined
}

export type DesignComparison = {
  readonly differences: readonly DesignDifference[]
  readonly pieces: readonly [number, number]
  readonly items: readonly [number, number]
}

/**
 * Two exploded designs line by line, module by module (modules are matched by name): what was added, removed or changed
 * in quantity. What vanished and what appeared in the same number and module is told as a change of colour where the
 * part is the same, else as a change of part where the line is.
 */
export function compareDesigns(
  before: readonly Requirement[],
  after: readonly Requirement[],
  nameOf: (requirement: Requirement) => string,
): DesignComparison {
  const [old, now] = [before, after].map((rows) => {
    const modules = new Map<string, Map<ItemKey, { qty: number; lines: Set<string> }>>()
    for (const r of rows) {
      const items = modules.get(nameOf(r)) ?? new Map<ItemKey, { qty: number; lines: Set<string> }>()
      const held = items.get(r.item) ?? { qty: 0, lines: new Set<string>() }
      held.qty += r.qty
      held.lines.add(r.line)
      items.set(r.item, held)
      modules.set(nameOf(r), items)
    }
    return modules
  })
  const differences: DesignDifference[] = []
  for (const module of new Set([...(old?.keys() ?? []), ...(now?.keys() ?? [])])) {
    const [was, is] = [old?.get(module), now?.get(module)]
    const gone = [...(was ?? [])].filter(([item]) => !is?.has(item))
    const come = [...(is ?? [])].filter(([item]) => !was?.has(item))
    for (const [item, { qty }] of was ?? []) {
      const other = is?.get(item)?.qty
      if (other !== undefined && other !== qty)
        differences.push({ module, kind: 'quantity', before: { item, qty }, after: { item, qty: other } })
    }
    const pair = (kind: 'colour' | 'part', same: (p: (typeof gone)[number], q: (typeof gone)[number]) => boolean) => {
      for (const left of [...gone]) {
        const right = come.find((other) => other[1].qty === left[1].qty && same(left, other))
        if (!right) continue
        gone.splice(gone.indexOf(left), 1)
        come.splice(come.indexOf(right), 1)
        differences.push({
          module,
          kind,
          before: { item: left[0], qty: left[1].qty },
          after: { item: right[0], qty: right[1].qty },
        })
      }
    }
    pair('colour', ([p], [q]) => {
      const [a, b] = [splitItemKey(p), splitItemKey(q)]
      return a.part === b.part && a.decoration === b.decoration
    })
    pair('part', (p, q) => [...p[1].lines].some((line) => q[1].lines.has(line)))
    for (const [item, { qty }] of gone)
      differences.push({ module, kind: 'removed', before: { item, qty }, after: undefined })
    for (const [item, { qty }] of come)
      differences.push({ module, kind: 'added', before: undefined, after: { item, qty } })
  }
  const count = (rows: readonly Requirement[]) => rows.reduce((n, r) => n + r.qty, 0)
  const kinds = (rows: readonly Requirement[]) => new Set(rows.map((r) => r.item)).size
  return { differences, pieces: [count(before), count(after)], items: [kinds(before), kinds(after)] }
}
