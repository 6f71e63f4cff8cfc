/** Nodes numbered below `size`, each in a set of its own until joined: the root of a set stands for it. */
export function disjointSets(size: number) {
  const parent = new Int32Array(size)
  for (let node = 0; node < size; node++) parent[node] = node
  const root = (node: number): number => {
    let at = node
    for (let up = parent[at]; up !== at; up = parent[at]) {
      parent[at] = parent[up]
      at = parent[at]
    }
    return at
  }
  return {
    root,
    /** Joins the set of a root with that of a node, and gives the root of both. */
    join(top: number, node: number): number {
      const other = root(node)
      if (other !== top) parent[top] = other
      return other
    },
  }
}
