const collator = new Intl.Collator('en', { numeric: true })

/** Compares names as people sort them: numbers in them by their value ("2x10" after "2x4"). */
export const compareNames: (p: string, q: string) => number = collator.compare
