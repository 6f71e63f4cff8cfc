import type { RecordKind } from './record-kinds.ts'

/** What one record of a kind is called. */
export const RECORD_WORDS: Readonly<Record<RecordKind, string>> = {
  parts: 'part',
  colours: 'colour',
  sets: 'donor set',
  copies: 'copy',
  places: 'place',
  holdings: 'holding',
  builds: 'build',
  designs: 'design',
  shops: 'shop',
  offers: 'offer',
  plans: 'purchase plan',
  versions: 'design version',
  pictures: 'picture',
  decisions: 'decision by hand',
}
