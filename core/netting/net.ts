/** A requirement or supply of pieces of one item. */
export type NettingLine = { readonly id: string; readonly item: string; readonly qty: number }
export type NettingSupply = {
  readonly id: string
  readonly item: string
  readonly qty: number
  /** Preference of the source: 0 is used first. */
  readonly rank: number
}

/** So many pieces of a line come from this supply. */
export type Peg = { readonly line: string; readonly supply: string; readonly qty: number }

export type Netting = {
  readonly pegs: readonly Peg[]
  /** Pieces short per line id; lines fully covered are absent. */
  readonly short: ReadonlyMap<string, number>
}

const byId = (p: { id: string }, q: { id: string }) => (p.id < q.id ? -1 : p.id > q.id ? 1 : 0)

/**
 * Covers lines from supplies of the same item, preferred sources first. With exact items only, any order is optimal in
 * pieces short (need and supply of an item meet or do not), so lines and supplies are taken in id order: the result
 * depends on the content, never on the order of rows. Time: linear in lines and supplies, plus sorting within an item.
 */
export function net(lines: readonly NettingLine[], supplies: readonly NettingSupply[]): Netting {
  const groups = new Map<string, { lines: NettingLine[]; supplies: NettingSupply[] }>()
  for (const line of lines) {
    const group = groups.get(line.item)
    if (group) group.lines.push(line)
    else groups.set(line.item, { lines: [line], supplies: [] })
  }
  for (const supply of supplies) if (supply.qty > 0) groups.get(supply.item)?.supplies.push(supply)

  const pegs: Peg[] = []
  const short = new Map<string, number>()
  for (const group of groups.values()) {
    if (group.lines.length > 1) group.lines.sort(byId)
    if (group.supplies.length > 1) group.supplies.sort((p, q) => p.rank - q.rank || byId(p, q))
    let next = 0
    let left = group.supplies[0]?.qty ?? 0
    for (const line of group.lines) {
      let need = line.qty
      while (need > 0) {
        const supply = group.supplies[next]
        if (!supply) break
        const qty = Math.min(need, left)
        if (qty > 0) pegs.push({ line: line.id, supply: supply.id, qty })
        need -= qty
        left -= qty
        if (left === 0) left = group.supplies[++next]?.qty ?? 0
      }
      if (need > 0) short.set(line.id, need)
    }
  }
  return { pegs, short }
}

/**
 * Checks a netting from the problem alone: pegs join a line and a supply of one item, no supply is overdrawn, covered
 * and short add up, and no item is short while supply of it is left. Returns the faults in words.
 */
export function verifyNetting(
  lines: readonly NettingLine[],
  supplies: readonly NettingSupply[],
  netting: Netting,
): string[] {
  const faults: string[] = []
  const lineById = new Map(lines.map((l) => [l.id, l]))
  const supplyById = new Map(supplies.map((s) => [s.id, s]))
  const covered = new Map<string, number>()
  const drawn = new Map<string, number>()
  for (const peg of netting.pegs) {
    if (!Number.isInteger(peg.qty) || peg.qty <= 0) faults.push(`peg of ${peg.qty} pieces`)
    if (lineById.get(peg.line)?.item !== supplyById.get(peg.supply)?.item)
      faults.push(`peg joins two items: ${peg.line}`)
    covered.set(peg.line, (covered.get(peg.line) ?? 0) + peg.qty)
    drawn.set(peg.supply, (drawn.get(peg.supply) ?? 0) + peg.qty)
  }
  const leftByItem = new Map<string, number>()
  for (const supply of supplies) {
    const left = supply.qty - (drawn.get(supply.id) ?? 0)
    if (left < 0) faults.push(`supply ${supply.id} is overdrawn by ${-left}`)
    leftByItem.set(supply.item, (leftByItem.get(supply.item) ?? 0) + left)
  }
  for (const line of lines) {
    const short = netting.short.get(line.id) ?? 0
    if ((covered.get(line.id) ?? 0) + short !== line.qty) faults.push(`line ${line.id} does not add up`)
    if (short > 0 && (leftByItem.get(line.item) ?? 0) > 0) faults.push(`line ${line.id} is short while supply is left`)
  }
  return faults
}
