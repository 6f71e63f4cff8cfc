import { readFileSync } from 'node:fs'

const css = readFileSync('web/ui/theme.css', 'utf8')

/** The colours of a theme, by their names in the style sheet. */
function tokens(selector: string): Map<string, string> {
  const block = css.slice(css.indexOf(`${selector} {`)).split('}')[0] ?? ''
  return new Map([...block.matchAll(/--([a-z-]+):\s*(#[0-9a-f]{6})/g)].map(([, name = '', hex = '']) => [name, hex]))
}

/** Relative luminance and contrast ratio by WCAG 2.2 (definitions of "relative luminance" and "contrast ratio"). */
function luminance(hex: string): number {
  const [r = 0, g = 0, b = 0] = [1, 3, 5].map((i) => {
    const c = parseInt(hex.slice(i, i + 2), 16) / 255
    return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4
  })
  return 0.2126 * r + 0.7152 * g + 0.0722 * b
}
const contrast = (p: string, q: string): number => {
  const [light = 0, dark = 0] = [luminance(p), luminance(q)].sort((a, b) => b - a)
  return (light + 0.05) / (dark + 0.05)
}

test('the formula gives the values of the standard: black on white 21, a grey of 4.54', () => {
  expect(contrast('#000000', '#ffffff')).toBeCloseTo(21, 5)
  // #767676 is the lightest grey that passes on white, by WCAG's own techniques (G18), as recalled.
  expect(contrast('#767676', '#ffffff')).toBeGreaterThan(4.5)
  expect(contrast('#777777', '#ffffff')).toBeLessThan(4.5)
})

test.each([':root', "[data-theme='dark']"])('words are read on every ground there is, 4.5 to 1: %s', (selector) => {
  const theme = tokens(selector)
  const of = (name: string) => theme.get(name) ?? ''
  expect(theme.size).toBeGreaterThan(15)
  for (const ground of ['paper', 'sheet', 'raised', 'mark'])
    for (const word of ['ink', 'soft', 'bad', 'good', 'warn'])
      expect([ground, word, contrast(of(ground), of(word)) >= 4.5]).toEqual([ground, word, true])
  expect(contrast(of('accent'), of('accent-ink'))).toBeGreaterThanOrEqual(4.5)
  expect(contrast(of('bad-wash'), of('ink'))).toBeGreaterThanOrEqual(4.5)
  // 1.4.11: what is not text but tells something, 3 to 1 against what it stands on.
  for (const sign of ['accent', 'donor', 'shelf', 'standin', 'order', 'short'])
    expect([sign, contrast(of('sheet'), of(sign)) >= 3]).toEqual([sign, true])
})
