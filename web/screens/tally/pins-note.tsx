import type { PinOutcome } from '../../../core/netting/pins.ts'
import type { Tally } from '../../../core/netting/tally.ts'
import { takeBack } from '../../store/decide.ts'
import { useRecords } from '../../store/records.tsx'
import { Button } from '../../ui/button.tsx'

const FAULTS: Record<NonNullable<PinOutcome['fault']>, string> = {
  line: 'its line is gone or needs fewer pieces',
  supply: 'the supply is gone, or the rules do not count it',
  pieces: 'the supply has too few pieces',
  colour: 'its group is pinned to another colour',
}

/** Pins that no longer hold as they were made; they stay until the user takes them back. */
export function PinsNote({ result }: { result: Tally }) {
  const { nameItem } = useRecords()
  const broken = result.pins.filter((p) => p.fault !== undefined)
  if (broken.length === 0) return null
  return (
    <ul role="alert" className="border-l-4 border-bad bg-bad-wash px-3 py-2 text-sm">
      {broken.map((pin) => (
        <li key={pin.id} className="flex flex-wrap items-center justify-between gap-3 py-0.5">
          <span>
            A pin of {pin.asked} × {nameItem(pin.item).name} holds for {pin.held}: {pin.fault && FAULTS[pin.fault]}.
          </span>
          <Button
            className="px-2"
            onClick={() => {
              void takeBack('Took a pin back', [pin])
            }}
          >
            Take it back
          </Button>
        </li>
      ))}
    </ul>
  )
}
