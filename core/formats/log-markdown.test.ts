import { Parser, type Node } from 'commonmark'
import fc from 'fast-check'
import type { LogLine } from '../settling/log.ts'
import { logMarkdown, plainMarkdown } from './log-markdown.ts'

/** Plain text of a node as the reference implementation of CommonMark reads it; breaks are line ends. */
function textOf(node: Node): string {
  const walker = node.walker()
  let text = ''
  for (let event = walker.next(); event; event = walker.next()) {
    if (!event.entering) continue
    if (event.node.type === 'text' || event.node.type === 'code') text += event.node.literal ?? ''
    if (event.node.type === 'softbreak' || event.node.type === 'linebreak') text += '\n'
  }
  return text
}
const parse = (markdown: string): Node => new Parser().parse(markdown)
function kinds(node: Node): string[] {
  const found: string[] = []
  const walker = node.walker()
  for (let event = walker.next(); event; event = walker.next()) if (event.entering) found.push(event.node.type)
  return found
}
const tidy = (text: string): string =>
  text
    .replace(/\r\n?/g, '\n')
    .split('\n')
    .map((l) => l.trim())
    .filter((l) => l !== '')
    .join('\n')

/** Texts that would be markup, links, HTML, lists, headings or entities. */
const nasty = fc.oneof(
  fc.string({ unit: 'grapheme', maxLength: 60 }),
  fc
    .array(
      fc.constantFrom(
        '*',
        '_',
        '`',
        '# ',
        '- ',
        '1. ',
        '[a](b)',
        '![x](y)',
        '<b>',
        '&amp;',
        '\\',
        '\n',
        '    ',
        '>',
        'word',
        '~~',
        '|',
        '==',
        '--',
        '`',
      ),
      { maxLength: 12 },
    )
    .map((parts) => parts.join('')),
)
const line = (more: Partial<LogLine>): LogLine => ({
  ...{ key: 'k', on: '2026-03-01', kind: 'note', text: 'A note.' },
  ...more,
})

test('whatever is written is read back as just that text, never as markup', () => {
  fc.assert(
    fc.property(nasty, nasty, (text, why) => {
      // Control characters are no text, and CommonMark reads U+0000 as U+FFFD.
      // eslint-disable-next-line no-control-regex
      const control = /[\u0000-\u0008\u000b-\u001f\u007f]/g
      const clean = (t: string) => t.replace(control, '').replace(/[\u0085\u2028\u2029]/g, ' ')
      const [said, reason] = [clean(text), clean(why)]
      if (tidy(said) === '' || tidy(reason) === '') return
      const markdown = logMarkdown('Log', [line({ text: said, why: reason })], () => undefined)
      const root = parse(markdown)
      const items = kinds(root).filter((k) => k === 'item')
      expect(items).toHaveLength(1)
      for (const kind of [
        'link',
        'image',
        'html_inline',
        'html_block',
        'code',
        'code_block',
        'block_quote',
        'thematic_break',
      ])
        expect(kinds(root)).not.toContain(kind)
      const list = root.lastChild
      expect(list && textOf(list)).toBe(`note ${tidy(said)} ${tidy(reason)}`)
    }),
    { numRuns: 500 },
  )
})

test('a heading a day, the oldest first; kind, module, time, photos and reason with each line', () => {
  const lines = [
    line({ on: '2026-03-04', kind: 'failed try', text: 'The arm fell off.', why: 'one pin only', minutes: 95 }),
    line({ on: '2026-03-01', kind: 'order', text: 'Order 7: paid', pictures: ['i-1', 'i-2'] }),
    line({ on: undefined, kind: 'compromise', text: 'Six windows' }),
  ]
  const root = parse(logMarkdown('Log of A*b', lines, (l) => (l.kind === 'failed try' ? 'Arm_left' : undefined)))
  const blocks: string[] = []
  for (let node = root.firstChild; node; node = node.next) blocks.push(textOf(node))
  expect(blocks).toEqual([
    'Log of A*b',
    'Day not noted',
    'compromise Six windows',
    '2026-03-01',
    'order (2 photos) Order 7: paid',
    '2026-03-04',
    'failed try (Arm_left, 1 h 35 min) The arm fell off. one pin only',
  ])
  expect(kinds(root).filter((k) => k === 'emph')).toHaveLength(1)
})

test('an empty log is a heading alone; empty lines of a text go', () => {
  expect(logMarkdown('Log', [], () => undefined)).toBe('# Log\n')
  expect(plainMarkdown('a\n\n  b ')).toBe('a\\\n  b')
})
