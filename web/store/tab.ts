import { fresh } from './database.ts'

const KEY = 'tab'

/** What the session keeps; nothing where the browser keeps nothing. */
function kept(): string | undefined {
  try {
    return sessionStorage.getItem(KEY) ?? undefined
  } catch {
    return undefined
  }
}

function keep(id: string): string {
  try {
    sessionStorage.setItem(KEY, id)
  } catch {
    // Then a reload makes it another tab.
  }
  return id
}

/** Holds a lock for as long as the page lives; false when another page has it. */
const lockOf = (id: string): Promise<boolean> =>
  new Promise((resolve) => {
    navigator.locks
      .request(`tab ${id}`, { ifAvailable: true }, (lock) => {
        resolve(lock !== null)
        return lock === null ? undefined : new Promise<never>(() => undefined)
      })
      .catch(() => {
        resolve(true)
      })
  })

async function find(): Promise<string> {
  const before = kept()
  if (before === undefined) {
    const id = keep(fresh())
    if ('locks' in navigator) await lockOf(id)
    return id
  }
  // A tab that was duplicated has the other's session: it is a tab of its own all the same.
  if (!('locks' in navigator) || (await lockOf(before))) return before
  const id = keep(fresh())
  await lockOf(id)
  return id
}

let found: Promise<string> | undefined

/** This tab, by a text of its own that a reload keeps: undoing asks before it takes back what another tab did. */
export const thisTab = (): Promise<string> => (found ??= find())
