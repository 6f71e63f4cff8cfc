import { fileURLToPath } from 'node:url'

/** What Playwright turns off as far as it matters here (the last such list counts), and pages of the address bar's own, which took a tenth of the tests' time. */
const UNUSED_FEATURES = [
  'AvoidUnnecessaryBeforeUnloadCheckSync',
  'DestroyProfileOnBrowserClose',
  'HttpsUpgrades',
  'HttpsFirstBalancedModeAutoEnable',
  'PaintHolding',
  'ThirdPartyStoragePartitioning',
  'AimEnabled',
  'WebUIOmniboxPopup',
  'WebUIOmniboxAimPopup',
  'WebUIOmniboxFullPopup',
]

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
    '--js-flags=--single-threaded-gc',
    `--disable-features=${UNUSED_FEATURES.join()}`,
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
