import type { Rules } from './house-rules.ts'

/** The main schools of building, as rules; what a preset leaves out stays as it is. */
export const PRESETS: readonly { readonly name: string; readonly hint: string; readonly rules: Partial<Rules> }[] = [
  {
    name: 'Only what was in the boxes',
    hint: 'Nothing from the shelf, nothing bought; every piece of the boxes counts, worn ones too.',
    rules: { sources: 'donors', condition: 'worn' },
  },
  {
    name: 'Boxes and shelf',
    hint: 'What is at home, and no more; estimates count at three quarters.',
    rules: { sources: 'donors and shelf', condition: 'used', estimatePercent: 75 },
  },
  {
    name: 'Buy what is missing',
    hint: 'Boxes first, then the shelf, then shops.',
    rules: { sources: 'donors, shelf and shops', condition: 'used', estimatePercent: 75 },
  },
]

/** The preset whose rules all hold, if any. */
export const presetOf = (rules: Rules): string | undefined =>
  PRESETS.find((p) => Object.entries(p.rules).every(([key, value]) => rules[key as keyof Rules] === value))?.name
