import type { completedBy, Left, MayBring, Taker } from '../../../core/settling/surplus.ts'

/** A leftover as it is shown: what it may bring, what would complete it, who would use it. */
export type SurplusRow = {
  readonly left: Left
  readonly name: string
  readonly where: string
  readonly may: MayBring
  /** Bare of a sticker that it was bought for. */
  readonly bare: boolean
  readonly completed: ReturnType<typeof completedBy>
  readonly takers: readonly Taker[]
}
