import { minutesWords } from '../units/minutes.ts'
import type { LogLine } from '../settling/log.ts'

/** Signs that CommonMark 0.31.2 lets a backslash take the meaning of (section 2.4, all ASCII punctuation). */
const MARKS = /[!"#$%&'()*+,\-./:;<=>?@[\\\]^_`{|}~]/g

/** A text as CommonMark shows it: nothing in it is read as markup. Lines stay lines. */
export const plainMarkdown = (text: string): string =>
  text
    .replace(/\r\n?/g, '\n')
    .split('\n')
    .map((line) => line.trim().replace(MARKS, '\\$&'))
    .filter((line) => line !== '')
    // A break that is kept: a backslash at the end of a line.
    .join('\\\n  ')

/**
 * A log as CommonMark: a heading a day, the oldest first, what has no day before them, and a list item a line with its
 * kind, module, time and reason. Pictures stay in the app and are counted.
 */
export function logMarkdown(
  title: string,
  lines: readonly LogLine[],
  moduleOf: (line: LogLine) => string | undefined,
): string {
  const days = new Map<string, LogLine[]>()
  for (const line of lines.toReversed()) {
    const day = line.on ?? ''
    const list = days.get(day)
    if (list) list.push(line)
    else days.set(day, [line])
  }
  const parts = [`# ${plainMarkdown(title.replace(/\s+/g, ' '))}`]
  for (const [day, list] of days) {
    parts.push(`## ${day === '' ? 'Day not noted' : plainMarkdown(day)}`)
    parts.push(
      list
        .map((line) => {
          const module = moduleOf(line)
          const more = [
            ...(module === undefined ? [] : [plainMarkdown(module.replace(/\s+/g, ' '))]),
            ...(line.minutes === undefined ? [] : [plainMarkdown(minutesWords(line.minutes))]),
            ...(line.pictures?.length
              ? [`${line.pictures.length} ${line.pictures.length === 1 ? 'photo' : 'photos'}`]
              : []),
          ]
          const why = line.why === undefined ? '' : ` *${plainMarkdown(line.why)}*`
          return `- **${plainMarkdown(line.kind)}**${more.length > 0 ? ` \\(${more.join(', ')}\\)` : ''} ${plainMarkdown(line.text)}${why}`
        })
        .join('\n'),
    )
  }
  return `${parts.join('\n\n')}\n`
}
