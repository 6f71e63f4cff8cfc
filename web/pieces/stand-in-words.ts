import type { StandInKind } from '../../core/netting/stand-ins/candidate.ts'

/** Why a piece stands in, in words. */
export const STAND_IN_WORDS: Record<StandInKind, string> = {
  chosen: 'your own choice',
  colour: 'in another colour',
  instead: 'what the design takes instead',
  length: 'longer: cut it to length, or take up the slack',
  mould: 'another mould of the same shape',
  own: 'by a rule of your own',
  peel: 'with a sticker: peel it off or turn it away',
  plain: 'plain: the sticker is left off',
  print: 'plain: with a custom print',
  split: 'smaller pieces in its place: what is around must hold them',
  sticker: 'plain piece and loose sticker',
}
