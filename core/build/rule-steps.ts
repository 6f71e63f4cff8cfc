import { CONDITIONS } from '../units/condition.ts'
import { ALTERING_RULES, COLOUR_RULES, MOULD_RULES, SPLIT_RULES, STICKER_RULES, type Rules } from './house-rules.ts'

/** A house rule changed by one step, in words of what it would be then. */
export type RuleStep = { readonly label: string; readonly change: Partial<Rules> }

/** Every house rule on what may be counted that can be relaxed by one step. */
export function looserSteps(rules: Rules): RuleStep[] {
  const steps: RuleStep[] = []
  if (rules.sources === 'donors')
    steps.push({ label: 'Count the shelf as well', change: { sources: 'donors and shelf' } })
  if (rules.colours === 'exact') {
    steps.push({ label: 'Free the colour of hidden pieces', change: { colours: 'free where hidden' } })
    steps.push({ label: 'Take near colours anywhere', change: { colours: 'near' } })
  }
  const next = CONDITIONS[CONDITIONS.indexOf(rules.condition) + 1]
  if (next) {
    steps.push({ label: `Allow ${next} pieces everywhere`, change: { condition: next } })
    if (!rules.wornHidden) steps.push({ label: 'Allow worn pieces where hidden', change: { wornHidden: true } })
  }
  if (rules.moulds === 'never')
    steps.push({ label: 'Take other moulds where hidden', change: { moulds: 'where hidden' } })
  if (rules.moulds !== 'anywhere') steps.push({ label: 'Take other moulds anywhere', change: { moulds: 'anywhere' } })
  if (rules.splits === 'never')
    steps.push({ label: 'Split pieces into smaller ones where hidden', change: { splits: 'where hidden' } })
  if (rules.splits === 'never' || rules.splits === 'where hidden')
    steps.push({ label: 'Split pieces into smaller ones anywhere', change: { splits: 'anywhere' } })
  if (rules.stickers === 'applied' || rules.stickers === 'custom prints') {
    steps.push({ label: 'Leave stickers off', change: { stickers: 'left off' } })
    steps.push({ label: 'Reuse peeled stickers', change: { stickers: 'reused' } })
  }
  if (rules.altering === 'never')
    steps.push({ label: 'Cut hose and string to length', change: { altering: 'lengths' } })
  if (rules.altering !== 'allowed') steps.push({ label: 'Cut bars and rods as well', change: { altering: 'allowed' } })
  if (!rules.thirdParty) steps.push({ label: 'Allow custom prints', change: { thirdParty: true } })
  if (rules.estimatePercent < 100) steps.push({ label: 'Count estimates in full', change: { estimatePercent: 100 } })
  return steps
}

/** The value one before another in a list from the strictest to the loosest. */
const before = <T>(list: readonly T[], value: T): T | undefined => list[list.indexOf(value) - 1]

/** Every house rule on what may be counted that can be made stricter by one step. */
export function tighterSteps(rules: Rules): RuleStep[] {
  const steps: RuleStep[] = []
  const stricter = before(CONDITIONS, rules.condition)
  if (stricter) steps.push({ label: `No pieces worse than ${stricter}`, change: { condition: stricter } })
  if (rules.wornHidden) steps.push({ label: 'No worn pieces, not even hidden', change: { wornHidden: false } })
  if (rules.colours !== 'exact')
    steps.push({ label: 'Colours exact everywhere', change: { colours: 'exact', hiddenColours: 'as elsewhere' } })
  const moulds = before(MOULD_RULES, rules.moulds)
  if (moulds) steps.push({ label: `Other moulds ${moulds}`, change: { moulds } })
  const splits = before(SPLIT_RULES, rules.splits)
  if (splits) steps.push({ label: `Splits ${splits}`, change: { splits } })
  const altering = before(ALTERING_RULES, rules.altering)
  if (altering)
    steps.push({
      label: altering === 'never' ? 'Nothing is cut' : 'Only hose and string are cut',
      change: { altering },
    })
  if (rules.thirdParty) steps.push({ label: 'No custom prints, no other makers', change: { thirdParty: false } })
  return steps
}

/** The rules that a scenario may set to one of a few values, with their words and those of the values. */
const CHOICES: {
  readonly [R in 'condition' | 'colours' | 'moulds' | 'splits' | 'stickers' | 'altering']: {
    readonly word: string
    readonly values: readonly Rules[R][]
  }
} = {
  condition: { word: 'Worst condition', values: CONDITIONS },
  colours: { word: 'Colours', values: COLOUR_RULES },
  moulds: { word: 'Other moulds', values: MOULD_RULES },
  splits: { word: 'Splits', values: SPLIT_RULES },
  stickers: { word: 'Stickers', values: STICKER_RULES },
  altering: { word: 'Cutting', values: ALTERING_RULES },
}

/** Every other value of the rules that have but a few, each in words. */
export function otherValues(rules: Rules): RuleStep[] {
  const steps: RuleStep[] = Object.entries(CHOICES).flatMap(([rule, { word, values }]) =>
    (values as readonly string[])
      .filter((value) => value !== rules[rule as keyof typeof CHOICES])
      .map((value) => ({ label: `${word}: ${value}`, change: { [rule]: value } as Partial<Rules> })),
  )
  steps.push({
    label: rules.thirdParty ? 'Custom prints and other makers: no' : 'Custom prints and other makers: yes',
    change: { thirdParty: !rules.thirdParty },
  })
  return steps
}
