import { useEffect, useRef, type RefObject } from 'react'

/**
 * Keys among the lines of a repeat: arrows go from line to line, and A tells that something is amiss with the one at hand.
 * The button that puts a line in has the keyboard's own keys, Space and Enter.
 */
export function useLineKeys(onAmiss: (line: string) => void): RefObject<HTMLDivElement | null> {
  const box = useRef<HTMLDivElement>(null)
  const latest = useRef(onAmiss)
  useEffect(() => {
    latest.current = onAmiss
  })
  useEffect(() => {
    const around = box.current
    const onKey = (e: KeyboardEvent) => {
      if (!(e.target instanceof HTMLElement) || e.target instanceof HTMLInputElement || e.ctrlKey || e.metaKey) return
      const row = e.target.closest<HTMLElement>('[data-line]')
      const step = e.key === 'ArrowDown' ? 1 : e.key === 'ArrowUp' ? -1 : 0
      if (!row || !around) return
      if (step !== 0) {
        e.preventDefault()
        const all = [...around.querySelectorAll<HTMLElement>('[data-line]')]
        all[all.indexOf(row) + step]?.querySelector<HTMLElement>('[data-tick]')?.focus()
      } else if (e.key === 'a' || e.key === 'A') {
        e.preventDefault()
        latest.current(row.dataset['line'] ?? '')
      }
    }
    around?.addEventListener('keydown', onKey)
    return () => {
      around?.removeEventListener('keydown', onKey)
    }
  }, [])
  return box
}
