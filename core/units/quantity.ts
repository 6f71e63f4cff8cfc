import * as v from 'valibot'

/** Pieces: a positive integer, at most a million in one record. */
export const QtySchema = v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(1_000_000))
