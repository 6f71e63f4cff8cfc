export type Settings = { readonly port: number; readonly latency: number }

type Named = { readonly name: string; readonly from: number; readonly to: number; readonly otherwise: number }

const PORT: Named = { name: 'PORT', from: 0, to: 65_535, otherwise: 4173 }
const LATENCY: Named = { name: 'MARKET_LATENCY', from: 0, to: 60_000, otherwise: 400 }

/** A whole number of the environment, or one line that says what is wrong with it. */
function wholeOf(
  env: Readonly<Record<string, string | undefined>>,
  { name, from, to, otherwise }: Named,
): number | string {
  const text = env[name]?.trim()
  if (text === undefined || text === '') return otherwise
  const n = /^\d{1,9}$/.test(text) ? Number(text) : NaN
  return n >= from && n <= to
    ? n
    : `${name}=${text.slice(0, 40)} is no whole number from ${from} to ${to}. Leave it out for ${otherwise}.`
}

/** The server's settings from the environment, or one line that says what is wrong with them. */
export function readSettings(env: Readonly<Record<string, string | undefined>>): Settings | string {
  const port = wholeOf(env, PORT)
  if (typeof port === 'string') return port
  const latency = wholeOf(env, LATENCY)
  return typeof latency === 'string' ? latency : { port, latency }
}
