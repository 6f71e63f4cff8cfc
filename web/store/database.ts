import { Database } from '../../storage/database.ts'

/** The one database of this browser profile. */
export const db = new Database()

/** A fresh unique text for new records' ids. */
export const fresh = (): string => crypto.randomUUID()

export const nowIso = (): string => new Date().toISOString()
