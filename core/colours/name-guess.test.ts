import { guessFinish, guessHex, isColourWord } from './name-guess.ts'

// CSS Color Module Level 4, section 6.1 (named colours).
test.each([
  ['dark red', '#8b0000'],
  ['Dark Red', '#8b0000'],
  ['tan', '#d2b48c'],
  ['light grey', '#d3d3d3'],
  ['dark gray', '#a9a9a9'],
  ['Medium Sea Green', '#3cb371'],
  ['steelblue', '#4682b4'],
  ['olive', '#808000'],
])('%s is what CSS says', (name, hex) => {
  expect(guessHex(name)).toBe(hex)
})

test.each([
  ['dunkel rot', '#8b0000'],
  ['bleu clair', '#add8e6'],
  ['czarny', '#000000'],
  ['verde oscuro', '#006400'],
  ['röd', '#ff0000'],
])('%s is the same in another language', (name, hex) => {
  expect(guessHex(name)).toBe(hex)
})

test('a name that says nothing is grey; how it is made is told from its words', () => {
  expect(guessHex('Zorblax')).toBe('#9a9a9a')
  expect([guessFinish('transparent light blue'), guessFinish('pearl gold'), guessFinish('red')]).toEqual([
    'clear',
    'shimmer',
    'opaque',
  ])
})

test('words of colours are told from words of parts', () => {
  expect(['dark', 'red', 'Hellgrau'.slice(0, 4), 'lilac', 'transparent'].every(isColourWord)).toBe(true)
  expect(['plate', '2x4', 'left', 'hand', 'corner', 'round'].some(isColourWord)).toBe(false)
})
