import { awaitedAfter } from './find-text.ts'

test('a text that a field sent is awaited until it arrives, also when later ones overtake it', () => {
  expect(awaitedAfter(['2x', '2x4', '2x4 soot'], '2x4')).toEqual(['2x4 soot'])
  expect(awaitedAfter(['2x', '2x4'], '2x4')).toEqual([])
})

test('a text that a field did not send comes from someone else', () => {
  expect(awaitedAfter(['2x', '2x4'], 'drawer a')).toBeUndefined()
  expect(awaitedAfter([], '')).toBeUndefined()
})
