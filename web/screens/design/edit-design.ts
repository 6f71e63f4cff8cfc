import { withModule } from '../../../core/design/arrange-modules.ts'
import type { Design, DesignLine, Module } from '../../../core/design/design.ts'
import type { Change } from '../../../storage/journal-entry.ts'
import { add, edit } from '../../../storage/journal.ts'
import { showWhile } from '../../store/pending-design.ts'
import { perform } from '../../store/perform.ts'

/** Named acts on one design; each is one step of undo. */
export type EditDesign = {
  readonly design: Design
  /** Writes the design; says so unless `quiet`. */
  readonly save: (label: string, next: Design, more?: readonly Change[], quiet?: boolean) => void
  readonly replace: (label: string, next: Module, more?: readonly Change[]) => void
  readonly replaceLine: (label: string, module: Module, next: DesignLine, more?: readonly Change[]) => void
}

export function editDesign(design: Design): EditDesign {
  const save: EditDesign['save'] = (label, next, more = [], quiet = true) => {
    showWhile(
      next,
      perform(label, [add('designs', [{ id: design.id, modules: [] }]), edit('designs', design, next), ...more], {
        quiet,
      }),
    )
  }
  const replace: EditDesign['replace'] = (label, next, more) => {
    save(label, withModule(design, next), more)
  }
  return {
    design,
    save,
    replace,
    replaceLine: (label, module, next, more) => {
      replace(label, { ...module, lines: module.lines.map((l) => (l.id === next.id ? next : l)) }, more)
    },
  }
}
