import { minutesWords } from '../../../core/units/minutes.ts'
import type { Design } from '../../../core/design/design.ts'
import type { Forecast } from '../../../core/making/forecast.ts'
import type { Work } from '../../../core/making/works.ts'
import type { ModuleId } from '../../../core/units/ids.ts'

/** A forecast in words, with its interval where there is one. */
export const forecastWords = ({ likely, low, high }: Forecast): string =>
  low === undefined || high === undefined
    ? `about ${minutesWords(likely)}`
    : `${minutesWords(likely)} (${minutesWords(low)} to ${minutesWords(high)} in 8 of 10 cases)`

/** A module with those around it. */
export function workName({ path }: Pick<Work, 'path'>, { modules }: Pick<Design, 'modules'>): string {
  const nameOf = new Map<ModuleId, string>(modules.map((m) => [m.id, m.name]))
  return path.map((id) => nameOf.get(id) ?? 'a module').join(' › ')
}
