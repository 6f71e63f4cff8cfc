const HUES: readonly (readonly [RegExp, string])[] = [
  [/\b(black|ink|coal|soot)\b/, '#1d1d1f'],
  [/\b(white|chalk|snow)\b/, '#f4f4f0'],
  [/\b(gr[ae]y|slate|stone|ash|granite)\b/, '#8b8f92'],
  [/\b(silver|pewter|steel)\b/, '#a9adb1'],
  [/\b(gold|brass)\b/, '#b08d3c'],
  [/\b(copper|bronze)\b/, '#a5643c'],
  [/\b(red|crimson|scarlet|rowan)\b/, '#c0282d'],
  [/\b(orange|amber)\b/, '#e07b23'],
  [/\b(yellow|straw|lemon)\b/, '#f0c93a'],
  [/\b(lime|olive|moss)\b/, '#8aa03b'],
  [/\b(green|pine|fern)\b/, '#2f8f4b'],
  [/\b(teal|turquoise|aqua|cyan)\b/, '#2a9d9d'],
  [/\b(navy|midnight)\b/, '#1f2f55'],
  [/\b(blue|azure|gentian)\b/, '#2b63b4'],
  [/\b(purple|violet|lavender|lilac|heather)\b/, '#7a4fa0'],
  [/\b(pink|rose|magenta)\b/, '#dc7aa4'],
  [/\b(brown|bark|wood|chestnut)\b/, '#6b4630'],
  [/\b(beige|sand|cream|oat)\b/, '#d9c59c'],
  [/\b(clear|glass)\b/, '#dfe9ec'],
]

/** A plausible sRGB for a new colour from the words of its name, `#rrggbb`; mid grey when no word is known. */
export function guessHex(name: string): string {
  const text = name.toLowerCase()
  const base = HUES.find(([pattern]) => pattern.test(text))?.[1] ?? '#9a9a9a'
  const towards = /\b(light|pale|bright)\b/.test(text) ? 255 : /\b(dark|deep)\b/.test(text) ? 0 : undefined
  if (towards === undefined) return base
  const channels = [1, 3, 5].map((i) => parseInt(base.slice(i, i + 2), 16))
  return `#${channels
    .map((c) =>
      Math.round(c + (towards - c) * 0.4)
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`
}
