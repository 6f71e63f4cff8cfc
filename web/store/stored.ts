import { useLiveQuery } from 'dexie-react-hooks'

/**
 * Keeps what a query reads beside the records (history, settings) as it changes; `otherwise` while it is being read and
 * where it cannot be: a screen never fails for it.
 */
export const useStored = <T, D>(query: () => Promise<T>, deps: readonly unknown[], otherwise: D): T | D =>
  useLiveQuery<T | D, D>(() => query().catch(() => otherwise), [...deps], otherwise)
