import type { Snapshot } from '../../../core/netting/snapshot.ts'
import type { ModuleId } from '../../../core/units/ids.ts'
import type { EditDesign } from './edit-design.ts'

/** What a dialog that brings modules in is given. */
export type StartDialogProps = {
  edit: EditDesign
  snapshot: Snapshot
  open: boolean
  onOpenChange: (open: boolean) => void
  onAdded: (id: ModuleId) => void
}
