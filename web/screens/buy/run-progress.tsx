import { formatMoney } from '../../../core/units/money.ts'
import type { RunState } from '../../store/sourcing-run.ts'

const PHASES = { search: 'choosing shops', polish: 'settling whole pieces', prove: 'proving' } as const

/** Live: the best verified total, the proven bound, and how close they are. */
export function RunProgress({ run, currency }: { run: RunState; currency: string }) {
  const { progress, timeLimit } = run
  const best = progress?.best ?? null
  const bound = progress?.bound ?? null
  return (
    <section aria-label="Progress" className="border border-rule bg-sheet p-3 text-sm">
      <div className="flex flex-wrap items-baseline gap-x-8 gap-y-1" role="status">
        <span>
          Best so far <b className="font-display text-lg">{best === null ? '…' : formatMoney(best, currency)}</b>
        </span>
        <span>
          Proven least <b className="font-display text-lg">{bound === null ? '…' : formatMoney(bound, currency)}</b>
        </span>
        <span className="text-soft">
          {progress
            ? `${PHASES[progress.phase]}, ${progress.seconds.toFixed(0)} of at most ${timeLimit} s`
            : 'loading the solver'}
        </span>
      </div>
      <div className="mt-2 h-2 bg-raised">
        <div
          className="h-full bg-accent"
          style={{
            width: `${best !== null && bound !== null && best > 0 ? Math.max(2, Math.min(100, (bound / best) * 100)) : 2}%`,
          }}
        />
      </div>
    </section>
  )
}
