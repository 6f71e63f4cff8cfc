import type { ListPreview, ReadContext } from '../../../workers/list.worker.ts'
import { type LearntWords, rememberCondition } from './learnt-words.ts'
import { useState } from 'react'
import { wordsOf } from '../../store/perform.ts'
import type { Field } from '../../../core/formats/list-fields.ts'
import { listWorker } from '../../../workers/list-client.ts'
import type { StatedCondition } from '../../../core/units/condition.ts'
import { searchKey, colourKey } from '../../../core/colours/colour.ts'
import type { Delimiter } from '../../../core/formats/delimited.ts'
import { recall } from './remembered-columns.ts'
import { downloadBlob } from '../../store/download.ts'

/** What can be done to a list that is being read; what goes wrong is told as `problem`, and the rows are still here. */
export function useListActions(
  context: ReadContext,
  { edition, reading, match }: ListPreview,
  leftOut: ReadonlySet<string>,
  onRematch: (preview: ListPreview, words?: LearntWords) => void,
) {
  const [problem, setProblem] = useState('')
  /** Says what went wrong where a worker failed: the rows are still here. */
  const said = (work: Promise<unknown>): Promise<void> =>
    work.then(
      () => undefined,
      (error: unknown) => {
        setProblem(`Reading the list failed: ${wordsOf(error)}. Choose it again.`)
      },
    )
  /** Readings under way: until they are here, what is shown is of the one before. */
  const [rereading, setRereading] = useState(0)
  const again = (work: Promise<unknown>): Promise<void> => {
    setRereading((n) => n + 1)
    return said(work).finally(() => {
      setRereading((n) => n - 1)
    })
  }
  const reread = (next: Promise<ListPreview>) => {
    void again(
      next.then((preview) => {
        onRematch(preview)
      }),
    )
  }
  const rematch = (field: Field | undefined, column: number) => {
    const others = Object.entries(match.columns).filter(([f, c]) => f !== field && c !== column)
    const columns: ListPreview['match']['columns'] = Object.fromEntries(
      field === undefined ? others : [...others, [field, column]],
    )
    const confidence = field === undefined ? match.confidence : { ...match.confidence, [field]: 1 }
    reread(listWorker().call('rematch', context, { ...match, columns, confidence }))
  }
  const headings = (row: number | null) => {
    reread(listWorker().call('headings', context, row))
  }
  const listColours = (on: boolean) => {
    reread(listWorker().call('listColours', context, on))
  }
  const sayCondition = (word: string, condition: StatedCondition) => {
    const conditionWords = new Map([...context.conditionWords, [searchKey(word), condition]])
    void rememberCondition(word, condition)
    void again(
      listWorker()
        .call('rematch', { ...context, conditionWords }, match)
        .then((next) => {
          onRematch(next, { headings: context.headings, conditionWords })
        }),
    )
  }
  const split = (delimiter: Delimiter) => {
    void again(
      listWorker()
        .call('split', context, delimiter)
        .then((next) => {
          if (next.ok) onRematch(next.value)
          else setProblem(next.error.message)
        }),
    )
  }
  const turned = async (sheet: string): Promise<ListPreview> => {
    const next = await listWorker().call('turn', context, sheet)
    const columns = await recall(next, context.kind)
    return columns ? listWorker().call('rematch', context, columns) : next
  }
  const turn = (sheet: string) => {
    reread(turned(sheet))
  }
  const report = () =>
    said(
      listWorker()
        .call(
          'report',
          edition,
          new Set(reading.colours.map((c) => colourKey(c.name)).filter((key) => !leftOut.has(key))),
        )
        .then((file) => {
          downloadBlob('import-report.csv', file)
        }),
    )
  const fix = (mended: ReadonlyMap<number, readonly string[]>) => {
    reread(listWorker().call('fix', context, mended))
  }
  return {
    rereading: rereading > 0,
    problem,
    setProblem,
    said,
    rematch,
    split,
    turn,
    fix,
    report,
    headings,
    listColours,
    sayCondition,
  }
}
