import { freeId } from '../units/ids.ts'
import { ok, refuse, type Fault, type Result } from '../units/result.ts'
import type { DonorSet } from './donor-set.ts'

export type SetLine = DonorSet['lines'][number]

/** Cells of an inventory line that are edited as text. */
export const SET_CELLS = ['qty', 'stage', 'spare', 'figure'] as const
export type SetCell = (typeof SET_CELLS)[number]

/** Why a cell's text does not fit. */
export type SetCellFault = 'gone' | 'quantity' | 'stage' | 'word'

/** A cell's text as it is edited. */
export function setCellText({ stages }: Pick<DonorSet, 'stages'>, line: SetLine, cell: SetCell): string {
  if (cell === 'qty') return String(line.qty)
  if (cell === 'stage') return stages.find((s) => s.id === line.stage)?.name ?? line.stage
  if (cell === 'spare') return line.spare ? 'spare' : ''
  return line.figure ?? ''
}

/**
 * A set with one cell of its line at `at` typed or pasted over: a quantity of 0 leaves an empty line in its place, to be
 * dropped with `withoutEmptyLines`; a new stage's name makes a new stage. Otherwise what is wrong with the text.
 */
export function editSetLine(
  set: DonorSet,
  at: number,
  cell: SetCell,
  text: string,
): Result<DonorSet, Fault<SetCellFault>> {
  const line = set.lines[at]
  if (!line) return refuse('gone', 'the line is no longer there')
  const word = text.trim()
  const put = (next: SetLine, stages = set.stages): Result<DonorSet, Fault<SetCellFault>> =>
    ok({ ...set, stages, lines: set.lines.map((l, i) => (i === at ? next : l)) })
  switch (cell) {
    case 'qty':
      return /^\d{1,6}$/.test(word)
        ? put({ ...line, qty: Number(word) })
        : refuse('quantity', 'a whole number; 0 removes the line')
    case 'stage': {
      const name = word.slice(0, 200)
      if (name === '') return refuse('stage', 'a stage; a new name makes a new stage')
      const known = set.stages.find((s) => s.name.toLowerCase() === name.toLowerCase())
      const to = known ?? { id: stageId(name, set.stages), name }
      return put({ ...line, stage: to.id }, known ? set.stages : [...set.stages, to])
    }
    case 'spare':
      if (!/^(|y|yes|x|spare|n|no)$/i.test(word)) return refuse('word', 'yes or no')
      return put({ ...line, spare: /^(y|yes|x|spare)$/i.test(word) })
    case 'figure': {
      const { figure: _, ...bare } = line
      return put(word === '' ? bare : { ...bare, figure: word.slice(0, 200) })
    }
  }
}

/** An id that no other stage of the set has. */
function stageId(name: string, stages: DonorSet['stages']): string {
  const taken = new Set(stages.map((s) => s.id))
  let n = 1
  return freeId('', name, taken, () => {
    while (taken.has(`stage-${n}`)) n++
    return `stage-${n}`
  })
}

/** The set without lines whose quantity was set to 0. */
export const withoutEmptyLines = (set: DonorSet): DonorSet => ({ ...set, lines: set.lines.filter((l) => l.qty > 0) })

/**
 * A set with more lines in a stage (its first where none is named; a set without stages gets one): pieces of an equal
 * line, of the same figure and spare or not, are added to it.
 */
export function addSetLines(
  set: DonorSet,
  stage: string | undefined,
  added: readonly Omit<DonorSet['lines'][number], 'stage'>[],
): DonorSet {
  const stages = set.stages.length > 0 ? set.stages : [{ id: 'all', name: 'All' }]
  const into = stage ?? stages[0]?.id ?? 'all'
  const lines = [...set.lines]
  for (const line of added) {
    const at = lines.findIndex(
      (l) => l.stage === into && l.item === line.item && l.spare === line.spare && l.figure === line.figure,
    )
    const held = lines[at]
    if (held) lines[at] = { ...held, qty: held.qty + line.qty }
    else lines.push({ ...line, stage: into })
  }
  return { ...set, stages, lines }
}
