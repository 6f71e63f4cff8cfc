import { fileURLToPath } from 'node:url'

/** Debian's Chromium, never a downloaded one. */
export const BROWSER = {
  executablePath: process.env['CHROMIUM'] ?? '/usr/bin/chromium',
  args: [
    '--no-sandbox',
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
  ],
}

export const PORT = 4190

/** Playwright starts commands beside its configuration; the server is started from the repository's root. */
export const SERVER = {
  cwd: fileURLToPath(new URL('..', import.meta.url)),
  command: 'npx tsx server/main.ts',
  env: { PORT: String(PORT), MARKET_LATENCY: '50' },
  url: `http://localhost:${PORT}/api/health`,
  reuseExistingServer: false,
  timeout: 30_000,
}
