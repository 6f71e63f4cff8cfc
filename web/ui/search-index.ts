import { useEffect, useMemo } from 'react'

/** Rows with the keys they are found by, made when first needed: bit by bit while nothing is typed, the rest at once. */
export type SearchIndex<Row> = {
  /** Rows that all words occur in. */
  find(words: readonly string[]): readonly Row[]
  /** Makes some more keys; false when all are made. */
  advance(): boolean
}

const STEP = 1000

export function searchIndex<Row>(rows: readonly Row[], keyOf: (row: Row) => string): SearchIndex<Row> {
  const keys: string[] = []
  const upTo = (end: number) => {
    for (let i = keys.length; i < end; i++) keys.push(keyOf(rows[i] as Row))
  }
  return {
    find(words) {
      if (words.length === 0) return rows
      upTo(rows.length)
      return rows.filter((_, i) => words.every((w) => keys[i]?.includes(w)))
    },
    advance() {
      upTo(Math.min(rows.length, keys.length + STEP))
      return keys.length < rows.length
    },
  }
}

/** A search index over rows that is made ready while the page has nothing else to do. */
export function useSearchIndex<Row>(rows: readonly Row[], keyOf: (row: Row) => string): SearchIndex<Row> {
  const index = useMemo(() => searchIndex(rows, keyOf), [rows, keyOf])
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout>
    const more = () => {
      if (index.advance()) timer = setTimeout(more, 8)
    }
    timer = setTimeout(more, 60)
    return () => {
      clearTimeout(timer)
    }
  }, [index])
  return index
}
