import { guessKind } from './guess-kind.ts'

const head = (line: string) => [line.split(';')]

test('a list is told by the headings that only its kind has, in any language the headings are known in', () => {
  expect(guessKind(head('part;colour;quantity;place'))).toBe('shelf')
  expect(guessKind(head('Teil;Farbe;Anzahl;Fach;Zustand'))).toBe('shelf')
  expect(guessKind(head('part;colour;quantity;module;repeats'))).toBe('design')
  expect(guessKind(head('part;colour;quantity;stage;spare'))).toBe('donor')
  expect(guessKind(head('shop;part;colour;price;stock'))).toBe('offers')
})

test('a heading row below titles is found; what tells nothing is not guessed', () => {
  expect(guessKind([['My lists'], ['as of May'], ['part', 'colour', 'qty', 'drawer']])).toBe('shelf')
  expect(guessKind(head('part;colour;quantity'))).toBeUndefined()
  expect(guessKind([])).toBeUndefined()
  // Places and modules alike: it may be either.
  expect(guessKind(head('part;colour;quantity;place;module'))).toBeUndefined()
  // A price alone is in no list of pieces.
  expect(guessKind(head('price;stock;shop'))).toBeUndefined()
})
